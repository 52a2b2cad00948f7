import type { Worker } from 'node:worker_threads';
import type { Actor } from '../actor';
import { Refusal } from '../refusal';
import { startThread } from '../threads';
import type { ReportOrder, ReportReply } from './main';
import type { ReportAnswer, ReportInput, ReportName } from './run';

/**
 * One thread a process, however often the bundler loads this module: so everything of a question is made where it is
 * asked, its refusal too.
 */
interface Desk {
  thread: Worker;
  waiting: Map<number, (reply: ReportReply) => void>;
  asked: number;
}
const shared = globalThis as { brivetReports?: Desk };

function desk(): Desk {
  const open = shared.brivetReports;
  if (open) return open;
  const thread = startThread('reports');
  // It does not keep the process from leaving.
  thread.unref();
  const waiting: Desk['waiting'] = new Map();
  const end = (failed: string): void => {
    shared.brivetReports = undefined;
    for (const [id, take] of waiting) take({ id, failed });
    waiting.clear();
  };
  thread.on('message', (reply: ReportReply) => {
    waiting.get(reply.id)?.(reply);
    waiting.delete(reply.id);
  });
  thread.on('error', (error) => end(`The thread of reports failed: ${error.message}`));
  thread.on('exit', () => end('The thread of reports ended.'));
  return (shared.brivetReports = { thread, waiting, asked: 0 });
}

/** So that the first question does not wait for the thread to start. */
export const startReports = (): void => void desk();

/** Asks the thread of reports, so that no screen waits behind a long one. @throws Refusal as the use case does */
export function askReport<N extends ReportName>(
  what: N,
  actor: Actor,
  input: ReportInput<N>,
): Promise<ReportAnswer<N>> {
  const open = desk();
  const order: ReportOrder = { id: open.asked++, what, actor, input };
  return new Promise((resolve, reject) => {
    open.waiting.set(order.id, (reply) => {
      if ('answer' in reply) resolve(reply.answer as ReportAnswer<N>);
      else if ('failed' in reply) reject(new Error(reply.failed));
      else reject(new Refusal(reply.refused.kind, reply.refused.message, reply.refused.problems));
    });
    open.thread.postMessage(order);
  });
}
