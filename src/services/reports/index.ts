import { join } from 'node:path';
import { Worker } from 'node:worker_threads';
import type { Actor } from '../actor';
import { Refusal } from '../refusal';
import type { ReportOrder, ReportReply } from './main';
import type { ReportAnswer, ReportInput, ReportName } from './run';

interface Waiting {
  resolve(answer: unknown): void;
  reject(error: Error): void;
}

/** One thread a process, however often the bundler loads this module. */
interface Desk {
  thread: Worker;
  waiting: Map<number, Waiting>;
  asked: number;
}
const shared = globalThis as { brivetReports?: Desk };

function desk(): Desk {
  const open = shared.brivetReports;
  if (open) return open;
  const thread = new Worker(join(process.cwd(), 'dist', 'reports.mjs'));
  // It does not keep the process from leaving.
  thread.unref();
  const waiting = new Map<number, Waiting>();
  const end = (reason: string): void => {
    shared.brivetReports = undefined;
    for (const { reject } of waiting.values()) reject(new Error(reason));
    waiting.clear();
  };
  thread.on('message', (reply: ReportReply) => settle(waiting, reply));
  thread.on('error', (error) => end(`The thread of reports failed: ${error.message}`));
  thread.on('exit', () => end('The thread of reports ended.'));
  return (shared.brivetReports = { thread, waiting, asked: 0 });
}

function settle(waiting: Map<number, Waiting>, reply: ReportReply): void {
  const asker = waiting.get(reply.id);
  waiting.delete(reply.id);
  if ('answer' in reply) asker?.resolve(reply.answer);
  else if ('failed' in reply) asker?.reject(new Error(reply.failed));
  else asker?.reject(new Refusal(reply.refused.kind, reply.refused.message, reply.refused.problems));
}

/** So that the first question does not wait for the thread to start. */
export const startReports = (): void => void desk();

/** Asks the thread of reports, so that no screen waits behind a long one. @throws Refusal as the use case does */
export function askReport<N extends ReportName>(
  what: N,
  actor: Actor,
  input: ReportInput<N>,
): Promise<ReportAnswer<N>> {
  const { thread, waiting, asked } = desk();
  const order: ReportOrder = { id: asked, what, actor, input };
  const open = shared.brivetReports;
  if (open) open.asked += 1;
  return new Promise((resolve, reject) => {
    waiting.set(order.id, { resolve: (answer) => resolve(answer as ReportAnswer<N>), reject });
    thread.postMessage(order);
  });
}
