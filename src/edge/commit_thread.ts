import { Worker } from 'node:worker_threads';
import type { Arrivals } from '@/store/traffic';
import type { Commits } from './group_commit';

/** What the thread says of so many batches, in the order in which they came: whether they are on disk. First, that it is ready. */
export interface CommitAnswer {
  readonly batches: number;
  readonly failure?: string;
}
/** The thread's code, bundled beside the edge. */
const CODE = new URL('commit.mjs', import.meta.url);

interface Underway {
  resolve(): void;
  reject(error: Error): void;
}

/**
 * Commits on a thread of its own, so that rows are written and the disk is awaited while the next requests are
 * answered. To copy a batch between threads costs a tenth of what its rows cost.
 * @returns once the traffic file is open and its schema is current
 */
export async function startCommits(file: string): Promise<{ aside: Commits['aside']; stop(): Promise<unknown> }> {
  const thread = new Worker(CODE, { workerData: { file } });
  const underway: Underway[] = [];
  const next = (): Promise<void> => new Promise((resolve, reject) => underway.push({ resolve, reject }));
  const ready = next();
  thread.on('message', ({ batches, failure }: CommitAnswer) => {
    for (const batch of underway.splice(0, batches))
      if (failure === undefined) batch.resolve();
      else batch.reject(new Error(failure));
  });
  // Without its thread the edge cannot keep its promise: it fails what waits, and a new process takes its place.
  thread.on('error', (error) => {
    for (const batch of underway.splice(0)) batch.reject(error);
    setImmediate(() => {
      throw error;
    });
  });
  await ready;
  const aside = (arrivals: Arrivals): Promise<void> => {
    thread.postMessage(arrivals);
    return next();
  };
  return { aside, stop: () => thread.terminate() };
}
