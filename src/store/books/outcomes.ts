import type { Outcome } from '@/core/conversions/outcomes';
import { type Db, inserter } from '../database';

/** What became of a report, by its receipt. */
export interface OutcomeRow {
  receiptId: string;
  seq: number;
  programId: number;
  time: number;
  outcome: Outcome;
  detail: string;
  conversionId: number | null;
  matchKey: string | null;
  fingerprint: string;
}

/** What became of every report; the receipt is looked up here. */
export function outcomeStore(db: Db) {
  const insertOutcome = inserter<OutcomeRow>(db, 'postback_outcomes', {
    ...({ receipt_id: 'receiptId', seq: 'seq', program_id: 'programId', time: 'time', outcome: 'outcome' } as const),
    ...({
      detail: 'detail',
      conversion_id: 'conversionId',
      match_key: 'matchKey',
      fingerprint: 'fingerprint',
    } as const),
  });
  const OUTCOME = `SELECT receipt_id AS receiptId, seq, program_id AS programId, time, outcome, detail, conversion_id AS conversionId,
    match_key AS matchKey, fingerprint FROM postback_outcomes`;
  const outcome = db.prepare<[string], OutcomeRow>(`${OUTCOME} WHERE receipt_id = ?`);
  const byFingerprint = db.prepare<[number, string], OutcomeRow>(
    `${OUTCOME} WHERE program_id = ? AND fingerprint = ? AND outcome NOT IN ('retry', 'test', 'refused') ORDER BY seq LIMIT 1`,
  );
  const waiting = db.prepare<[number, string], OutcomeRow>(
    `${OUTCOME} WHERE program_id = ? AND match_key = ? AND outcome = 'waiting' ORDER BY seq`,
  );
  const withdrawReceipt = db.prepare<[string]>('INSERT INTO withdrawn_receipts (receipt_id) VALUES (?)');
  const dropOutcome = db.prepare<[string, string]>(
    "UPDATE postback_outcomes SET outcome = 'ignored', fingerprint = '', detail = ? WHERE receipt_id = ?",
  );
  const ofReceipt = db
    .prepare<[string], number>(
      'SELECT conversion_id FROM postback_outcomes WHERE receipt_id = ? AND conversion_id IS NOT NULL',
    )
    .pluck();
  const anyWaiting = db
    .prepare<[number], 1>("SELECT 1 FROM postback_outcomes WHERE program_id = ? AND outcome = 'waiting' LIMIT 1")
    .pluck();
  const allWaiting = db.prepare<[number, number], OutcomeRow>(
    `${OUTCOME} WHERE program_id = ? AND outcome = 'waiting' ORDER BY seq DESC LIMIT ?`,
  );
  const settleWaiting = db.prepare<[number, string]>(
    "UPDATE postback_outcomes SET outcome = 'status', conversion_id = ? WHERE receipt_id = ?",
  );
  return {
    insertOutcome: (row: OutcomeRow): void => void insertOutcome(row),
    outcome: (receiptId: string) => outcome.get(receiptId),
    outcomeByFingerprint: (programId: number, fingerprint: string) => byFingerprint.get(programId, fingerprint),
    /** What was said with a receipt is not listened to any more, and may be said again. */
    withdrawReceipt: (receiptId: string, why: string): void => {
      withdrawReceipt.run(receiptId);
      dropOutcome.run(why, receiptId);
    },
    ofReceipt: (receiptId: string): number | undefined => ofReceipt.get(receiptId),
    anyWaiting: (programId: number): boolean => anyWaiting.get(programId) !== undefined,
    /** Statuses that came before their conversion, newest first. */
    allWaiting: (programId: number, limit: number) => allWaiting.all(programId, limit),
    waitingOutcomes: (programId: number, key: string) => waiting.all(programId, key),
    settleWaiting: (conversionId: number, receiptId: string): void => void settleWaiting.run(conversionId, receiptId),
  };
}
