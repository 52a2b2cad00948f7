'use server';
import { abandonRun, approveRun, draftRun, returnPayment, settleRun } from '@/services/payouts';
import type { ActionState } from '@/ui/feedback/ConfirmButton';
import { act, numberOf, textOf } from '../../action';

export async function draft(_: ActionState, form: FormData): Promise<ActionState> {
  return act((stores, actor) => {
    const run = draftRun(stores, actor, { cutOff: textOf(form, 'cutOff') });
    return `Drafted run ${run.number}: ${run.partners} in, ${run.leftOut} out.`;
  });
}

export async function approve(_: ActionState, form: FormData): Promise<ActionState> {
  return act(
    (stores, actor) =>
      `Run ${approveRun(stores, actor, numberOf(form, 'run')).number} is approved. Its payment file is ready.`,
  );
}

export async function settle(_: ActionState, form: FormData): Promise<ActionState> {
  return act((stores, actor) => `Run ${settleRun(stores, actor, numberOf(form, 'run')).number} is paid.`);
}

export async function abandon(_: ActionState, form: FormData): Promise<ActionState> {
  return act(
    (stores, actor) =>
      `Run ${abandonRun(stores, actor, numberOf(form, 'run'), { reason: textOf(form, 'reason') }).number} is abandoned; its money is approved again.`,
  );
}

export async function noteReturn(_: ActionState, form: FormData): Promise<ActionState> {
  return act((stores, actor) => {
    const item = returnPayment(stores, actor, numberOf(form, 'run'), numberOf(form, 'partner'), {
      reason: textOf(form, 'reason'),
    });
    return `The payment to ${item.partnerName} is back; its details are on hold.`;
  });
}
