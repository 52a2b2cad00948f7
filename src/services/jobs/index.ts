import { randomUUID } from 'node:crypto';
import { EventEmitter, once } from 'node:events';
import Papa from 'papaparse';
import type { Problem } from '@/core/schema/problems';
import { type Actor, type Right, requireRight } from '../actor';
import { Refusal, type RefusalKind, conflict } from '../refusal';
import { defused } from '../statements';
import type { Stores } from '../stores';
import { startThread } from '../threads';
import { FLAGS, type JobKind, type JobLine } from './job';
import type { JobMessage, JobOrder } from './main';

/** Work on many lines, on a thread of its own: seen by whoever began it, for an hour. */
export interface Job {
  readonly id: string;
  readonly kind: JobKind;
  /** False: a preview that says what would happen. */
  readonly write: boolean;
  readonly state: 'running' | 'done' | 'refused' | 'cancelled' | 'failed';
  readonly done: number;
  readonly total: number;
  readonly reason?: string;
  readonly problems?: readonly Problem[];
  readonly counts: Readonly<Record<JobLine['outcome'], number>>;
}
type Kept = { -readonly [key in keyof Job]: Job[key] } & {
  userId: number;
  programId: number;
  lines: JobLine[];
  flags: Int32Array;
  refusal?: RefusalKind;
  endedAt?: number;
  ended: EventEmitter;
};

/** Whose work it is, where it is not that of who manages partners. */
const RIGHTS: Partial<Record<JobKind, Right>> = {
  ...{ links: 'issue_links', reconcile: 'decide_commissions' },
  ...{ draft_run: 'draft_payouts', settle_run: 'draft_payouts', abandon_run: 'draft_payouts' },
};
const KEPT_MS = 3_600_000;
const MOST_RUNNING = 2;
// Once a process, however often the bundler loads this module.
const shared = globalThis as { brivetJobs?: Map<string, Kept> };
const jobs: Map<string, Kept> = (shared.brivetJobs ??= new Map());

const seen = ({ id, kind, write, state, done, total, reason, problems, counts }: Kept): Job => ({
  ...{ id, kind, write, state, done, total, counts },
  ...(reason !== undefined && { reason }),
  ...(problems && { problems }),
});

/** Begins a job. The thread opens the books itself, so no screen and no redirect waits for it. */
export function beginJob(stores: Stores, actor: Actor, kind: JobKind, input: unknown, write: boolean): Job {
  requireRight(stores, actor, RIGHTS[kind] ?? 'manage_partners', kind.replace('_', ' '));
  forgetOld();
  if (
    [...jobs.values()].filter(({ state, userId }) => state === 'running' && userId === actor.userId).length >=
    MOST_RUNNING
  )
    throw conflict('Two of your jobs are still running. Wait for one to end, or cancel it.');
  const flags = new SharedArrayBuffer(8);
  const job: Kept = {
    ...{ id: randomUUID(), kind, write, state: 'running', done: 0, total: 0 },
    ...{ userId: actor.userId, programId: actor.programId, lines: [], flags: new Int32Array(flags) },
    ended: new EventEmitter(),
    counts: { new: 0, same: 0, changed: 0, refused: 0 },
  };
  jobs.set(job.id, job);
  const order: JobOrder = { kind, write, actor, input, flags };
  const thread = startThread('job', { workerData: order });
  thread.on('message', (message: JobMessage) => hear(job, message));
  thread.on('error', (error) =>
    end(job, { state: 'failed', reason: `It failed: ${error.message} Nothing was written.` }),
  );
  thread.on(
    'exit',
    () => job.state === 'running' && end(job, { state: 'failed', reason: 'It ended early. Nothing was written.' }),
  );
  return seen(job);
}

function end(job: Kept, how: Partial<Kept>): void {
  Object.assign(job, how, { endedAt: Date.now() });
  job.ended.emit('ended');
}

function hear(job: Kept, message: JobMessage): void {
  if (message.is === 'at') Object.assign(job, { done: message.done, total: message.total });
  else if (message.is === 'cancelled') end(job, { state: 'cancelled' });
  else if (message.is === 'refused')
    end(job, { state: 'refused', refusal: message.kind, reason: message.reason, problems: message.problems });
  else {
    const counts = { new: 0, same: 0, changed: 0, refused: 0 };
    for (const { outcome } of message.lines) counts[outcome] += 1;
    end(job, { state: 'done', lines: message.lines, done: message.lines.length, total: message.lines.length, counts });
  }
}

function forgetOld(): void {
  for (const [id, { endedAt }] of jobs) if (endedAt !== undefined && Date.now() - endedAt > KEPT_MS) jobs.delete(id);
}

const isOwn = (actor: Actor, job: Kept): boolean => job.userId === actor.userId && job.programId === actor.programId;

function own(actor: Actor, id: string): Kept {
  const job = jobs.get(id);
  if (job && isOwn(actor, job)) return job;
  throw new Refusal('not_found', 'There is no such job of yours. Results are kept for an hour.');
}

/** Those of a person that are still running, the newest first. */
export const runningJobs = (actor: Actor): Job[] =>
  [...jobs.values()]
    .filter((job) => isOwn(actor, job) && job.state === 'running')
    .map(seen)
    .reverse();

/**
 * Waits for a job's end, for whoever has nothing to show meanwhile.
 * @throws Refusal as the job was refused, or when it was cancelled
 */
export async function jobEnded(actor: Actor, id: string): Promise<readonly JobLine[]> {
  const job = own(actor, id);
  if (job.state === 'running') await once(job.ended, 'ended');
  const { state, reason = '', refusal = 'conflict', problems, lines } = job;
  if (state === 'refused') throw new Refusal(refusal, reason, problems);
  if (state === 'cancelled') throw conflict('Cancelled. Nothing was written.');
  if (state === 'failed') throw new Error(reason);
  return lines;
}

const LOOK_EVERY_MS = 20;
/**
 * Waits while a job holds the books, which have one writer at a time: to wait for the lock itself would keep the screens
 * waiting too.
 */
export async function booksAreFree(): Promise<void> {
  const held = (): boolean =>
    [...jobs.values()].some(({ state, flags }) => state === 'running' && Atomics.load(flags, FLAGS.holdsBooks) === 1);
  while (held()) await new Promise((resolve) => setTimeout(resolve, LOOK_EVERY_MS));
}

export const readJob = (actor: Actor, id: string): Job => seen(own(actor, id));

/** What becomes of the lines, a page at a time; refused ones first when asked for. */
export function jobLines(
  actor: Actor,
  id: string,
  { limit, offset, outcome }: { limit: number; offset: number; outcome?: string },
): { rows: JobLine[]; total: number } {
  const { lines } = own(actor, id);
  const wanted = outcome === undefined ? lines : lines.filter((line) => line.outcome === outcome);
  return { rows: wanted.slice(offset, offset + limit), total: wanted.length };
}

/** Asks a job to stop; what it had begun to write is taken back whole. */
export function cancelJob(actor: Actor, id: string): Job {
  const job = own(actor, id);
  Atomics.store(job.flags, FLAGS.stop, 1);
  return seen(job);
}

/** All lines with what became of them. */
export function jobCsv(actor: Actor, id: string): { name: string; content: string } {
  const { kind, lines } = own(actor, id);
  const rows = lines.map(({ line, outcome, what, code = '', address, problems }) => ({
    line,
    outcome,
    what: defused(what),
    code: defused(code),
    ...(kind === 'links' && { address: address ?? '' }),
    reason: defused(problems.map(({ field, reason }) => (field ? `${field}: ${reason}` : reason)).join(' ')),
  }));
  return { name: `${kind}.csv`, content: `${Papa.unparse(rows, { newline: '\r\n' })}\r\n` };
}
