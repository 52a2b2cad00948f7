import { parentPort } from 'node:worker_threads';
import { warmUp } from '@/core/reports/warm_up';
import type { Actor } from '../actor';
import { Refusal, type RefusalKind } from '../refusal';
import { standBack } from '../stand_back';
import { openStores } from '../stores';
import { KEPT_MEBIBYTES } from './sharing';
import { REPORTS, type ReportName, helping } from './run';

/** A question to the thread, and what it says to it. */
export interface ReportOrder {
  readonly id: number;
  readonly what: ReportName;
  readonly actor: Actor;
  readonly input: unknown;
}
export type ReportReply =
  | { readonly id: number; readonly answer: unknown }
  | { readonly id: number; readonly failed: string }
  | {
      readonly id: number;
      readonly refused: { kind: RefusalKind; message: string; problems: { field: string; reason: string }[] };
    };

standBack();
const stores = openStores();
stores.rollups.clicks.keepColumns(KEPT_MEBIBYTES);
// The second thread warms up meanwhile.
helping();
warmUp();

function reply({ id, what, actor, input }: ReportOrder): ReportReply {
  try {
    return { id, answer: REPORTS[what](stores, actor, input as never) };
  } catch (error) {
    if (error instanceof Refusal)
      return { id, refused: { kind: error.kind, message: error.message, problems: [...error.problems] } };
    return { id, failed: error instanceof Error ? error.message : String(error) };
  }
}

parentPort?.on('message', (order: ReportOrder) => parentPort?.postMessage(reply(order)));
