'use server';
import { approveRun, returnPayment } from '@/services/payouts';
import { runStep } from '@/services/run_steps';
import type { ActionState } from '@/ui/feedback/ConfirmButton';
import { act, numberOf, textOf } from '../../action';

export async function draft(_: ActionState, form: FormData): Promise<ActionState> {
  return act(async (stores, actor) => {
    const run = await runStep(stores, actor, 'draft_run', { cutOff: textOf(form, 'cutOff') });
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
  return act(async (stores, actor) => {
    const run = await runStep(stores, actor, 'settle_run', { run: numberOf(form, 'run') });
    return `Run ${run.number} is paid.`;
  });
}

export async function abandon(_: ActionState, form: FormData): Promise<ActionState> {
  return act(async (stores, actor) => {
    const input = { run: numberOf(form, 'run'), reason: textOf(form, 'reason') };
    const run = await runStep(stores, actor, 'abandon_run', input);
    return `Run ${run.number} is abandoned; its money is approved again.`;
  });
}

export async function noteReturn(_: ActionState, form: FormData): Promise<ActionState> {
  return act((stores, actor) => {
    const item = returnPayment(stores, actor, numberOf(form, 'run'), numberOf(form, 'partner'), {
      reason: textOf(form, 'reason'),
    });
    return `The payment to ${item.partnerName} is back; its details are on hold.`;
  });
}
