import type { Problem } from '@/core/schema/problems';
import { parentPort, workerData } from 'node:worker_threads';
import { Refusal, type RefusalKind } from '../refusal';
import type { Actor } from '../actor';
import { standBack } from '../stand_back';
import { openStores } from '../stores';
import { Cancelled, FLAGS, type JobKind, type JobLine } from './job';
import { JOBS } from './run';

/** What a job's thread is started with. */
export interface JobOrder {
  readonly kind: JobKind;
  readonly write: boolean;
  readonly actor: Actor;
  readonly input: unknown;
  /** `FLAGS`, each 0 or 1. */
  readonly flags: SharedArrayBuffer;
}
/** What it says: how far it is, then once how it ended. */
export type JobMessage =
  | { readonly is: 'at'; readonly done: number; readonly total: number }
  | { readonly is: 'done'; readonly lines: JobLine[] }
  | {
      readonly is: 'refused';
      readonly kind: RefusalKind;
      readonly reason: string;
      readonly problems: readonly Problem[];
    }
  | { readonly is: 'cancelled' };

standBack();
const SAY_EVERY_MS = 100;
const { kind, write, actor, input, flags: shared } = workerData as JobOrder;
const say = (message: JobMessage): void => parentPort?.postMessage(message);
const flags = new Int32Array(shared);
const stores = openStores();
// Another job may hold the books for as long as it writes; nobody looks at a screen that waits for this thread.
stores.books.db.pragma('busy_timeout = 600000');
const { inTransaction } = stores.books;
/** Says while it holds the books, so that others wait for it and do not try in vain. */
function holding<T>(work: () => T): T {
  if (stores.books.db.inTransaction) return work();
  Atomics.store(flags, FLAGS.holdsBooks, 1);
  try {
    return inTransaction(work);
  } finally {
    Atomics.store(flags, FLAGS.holdsBooks, 0);
  }
}
let said = 0;
try {
  const lines = JOBS[kind](
    { ...stores, books: { ...stores.books, inTransaction: holding } },
    actor,
    input,
    write,
    (done, total) => {
      if (Atomics.load(flags, FLAGS.stop) === 1) throw new Cancelled();
      if (Date.now() - said < SAY_EVERY_MS) return;
      said = Date.now();
      say({ is: 'at', done, total });
    },
  );
  say({ is: 'done', lines });
} catch (error) {
  if (error instanceof Cancelled) say({ is: 'cancelled' });
  else if (error instanceof Refusal)
    say({ is: 'refused', kind: error.kind, reason: error.message, problems: error.problems });
  // As it is, an error of the database would arrive without its message.
  else throw new Error(error instanceof Error ? error.message : String(error));
} finally {
  for (const { db } of [stores.books, stores.traffic, stores.rollups]) db.close();
}
