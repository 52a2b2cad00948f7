import type { RunRow } from '@/store/books/payouts';
import type { Actor } from './actor';
import { beginJob, jobEnded } from './jobs';
import type { RunStep } from './jobs/job';
import { readRun } from './payouts';
import type { Stores } from './stores';

/**
 * Takes a payout run a step further, on a thread that stands back: a run may pay thousands for a million commissions,
 * and no visitor and no screen is to wait for that.
 * @param input as `draftRun`, or `run` (its ID) with what the step asks for
 */
export async function runStep(stores: Stores, actor: Actor, step: RunStep, input: object): Promise<RunRow> {
  const [line] = await jobEnded(actor, beginJob(stores, actor, step, input, true).id);
  return readRun(stores, actor, Number(line?.code));
}
