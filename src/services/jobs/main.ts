import { parentPort, workerData } from 'node:worker_threads';
import { Refusal } from '../refusal';
import type { Actor } from '../actor';
import { standBack } from '../stand_back';
import { openStores } from '../stores';
import { Cancelled, type JobKind } from './job';
import { JOBS } from './run';

/** What a job's thread is started with. */
export interface JobOrder {
  readonly kind: JobKind;
  readonly write: boolean;
  readonly actor: Actor;
  readonly input: unknown;
  /** One number that is set to 1 when the job is to stop. */
  readonly stop: SharedArrayBuffer;
}
/** What it says: how far it is, then once how it ended. */
export type JobMessage =
  | { readonly is: 'at'; readonly done: number; readonly total: number }
  | { readonly is: 'done'; readonly lines: import('./job').JobLine[] }
  | { readonly is: 'refused'; readonly reason: string; readonly problems: readonly { field: string; reason: string }[] }
  | { readonly is: 'cancelled' };

standBack();
const SAY_EVERY_MS = 100;
const { kind, write, actor, input, stop } = workerData as JobOrder;
const say = (message: JobMessage): void => parentPort?.postMessage(message);
const flag = new Int32Array(stop);
const stores = openStores();
let said = 0;
try {
  const lines = JOBS[kind](stores, actor, input, write, (done, total) => {
    if (Atomics.load(flag, 0) === 1) throw new Cancelled();
    if (Date.now() - said < SAY_EVERY_MS) return;
    said = Date.now();
    say({ is: 'at', done, total });
  });
  say({ is: 'done', lines });
} catch (error) {
  if (error instanceof Cancelled) say({ is: 'cancelled' });
  else if (error instanceof Refusal) say({ is: 'refused', reason: error.message, problems: error.problems });
  else throw error;
} finally {
  for (const { db } of [stores.books, stores.traffic, stores.rollups]) db.close();
}
