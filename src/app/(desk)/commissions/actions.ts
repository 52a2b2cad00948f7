'use server';
import type { Params } from '@/services/scope';
import { readScope } from '@/services/scope';
import { approveCommissions, approveDue, rejectCommission, reverseCommission } from '@/services/commissions';
import type { ActionState } from '@/ui/feedback/ConfirmButton';
import { act, numberOf, textOf } from '../../action';

const approved = (count: number, inReview = 0): string =>
  `Approved ${count} commission${count === 1 ? '' : 's'}.${inReview > 0 ? ` ${inReview} stay in review.` : ''}`;

export async function approveAllDue(_: ActionState, form: FormData): Promise<ActionState> {
  const params: Params = Object.fromEntries(new URLSearchParams(textOf(form, 'scope')));
  return act((stores, actor) => {
    const { approved: count, inReview } = approveDue(stores, actor, readScope(stores, actor, params));
    return approved(count, inReview);
  });
}

export async function approveOne(_: ActionState, form: FormData): Promise<ActionState> {
  return act((stores, actor) => approved(approveCommissions(stores, actor, [numberOf(form, 'id')])));
}

export async function rejectOne(_: ActionState, form: FormData): Promise<ActionState> {
  return act((stores, actor) => {
    rejectCommission(stores, actor, numberOf(form, 'id'), { reason: textOf(form, 'reason') });
    return 'Rejected. The conversion stays on file with the reason.';
  });
}

export async function reverseOne(_: ActionState, form: FormData): Promise<ActionState> {
  return act((stores, actor) => {
    reverseCommission(stores, actor, numberOf(form, 'id'), {
      reason: textOf(form, 'reason'),
      amount: textOf(form, 'amount'),
    });
    return 'Taken back. The ledger shows the reversal with its reason.';
  });
}
