import { MessageChannel, type MessagePort, receiveMessageOnPort } from 'node:worker_threads';
import { type FileLine, type LineReading, readLine } from './file_lines';
import { customerHasher } from './secrets';
import { startThread } from './threads';

/** What the thread that reads ahead is told. */
export interface ReaderOrder extends LineReading {
  readonly rows: readonly string[][];
  /** Key for hashes of customers. */
  readonly key: Uint8Array;
  readonly programId: number;
  readonly port: MessagePort;
  /** Counts the chunks that were sent. */
  readonly sent: SharedArrayBuffer;
}
export type ReaderSays = { readonly lines: FileLine[] } | { readonly failed: string };

export const CHUNK = 500;
/** Shorter files are read as they are booked: a thread would take longer to begin. */
const LEAST_ROWS = 5000;
const PATIENCE_MS = 60_000;

/**
 * The lines of a file, read ahead of whoever books them by another thread, where there are many. The books are not
 * asked for anything; the one who books waits without leaving its turn, within its transaction.
 */
export function* linesOf(order: Omit<ReaderOrder, 'port' | 'sent'>): Generator<FileLine> {
  const { rows, key, programId, ...how } = order;
  if (rows.length < LEAST_ROWS) {
    const hash = customerHasher(Buffer.from(key), programId);
    for (const cells of rows) yield readLine(cells, how, hash);
    return;
  }
  const { port1: ours, port2: port } = new MessageChannel();
  const sent = new SharedArrayBuffer(4);
  const count = new Int32Array(sent);
  const thread = startThread('file_reader', {
    workerData: { ...order, port, sent } satisfies ReaderOrder,
    transferList: [port],
  });
  try {
    for (let at = 0; at * CHUNK < rows.length; at++) {
      if (Atomics.load(count, 0) <= at) Atomics.wait(count, 0, at, PATIENCE_MS);
      const said = (receiveMessageOnPort(ours) as { message: ReaderSays } | undefined)?.message;
      if (!said) throw new Error('The thread that reads the file gave no answer.');
      if ('failed' in said) throw new Error(said.failed);
      yield* said.lines;
    }
  } finally {
    ours.close();
    void thread.terminate();
  }
}
