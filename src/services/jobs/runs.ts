import type { RunRow } from '@/store/books/payouts';
import { abandonRun, draftRun, settleRun } from '../payouts';
import type { JobLine, JobWork, RunStep } from './job';

interface OfRun {
  readonly run: number;
}
/** One line: the run; its code is its ID. */
const lineOf = ({ id, number, state }: RunRow): JobLine[] => [
  { line: 1, outcome: 'changed', what: `Run ${number} is ${state}.`, problems: [], code: String(id) },
];

/** Each writes; there is no preview of them. */
export const RUN_WORKS: Record<RunStep, JobWork> = {
  draft_run: (stores, actor, input, _write, tick) => lineOf(draftRun(stores, actor, input, tick)),
  settle_run: (stores, actor, input, _write, tick) => lineOf(settleRun(stores, actor, (input as OfRun).run, tick)),
  abandon_run: (stores, actor, input, _write, tick) => {
    const { run, ...reason } = input as OfRun;
    return lineOf(abandonRun(stores, actor, run, reason, tick));
  },
};
