import type { Currency } from '@/core/money/currency';
import type { OutReason, RunState } from '@/core/payouts/decide';
import type { Db } from '../database';

export interface RunRow {
  id: number;
  programId: number;
  number: number;
  cutOff: string;
  uptoEntry: number;
  state: RunState;
  draftedBy: number;
  draftedByName: string;
  draftedAt: number;
  approvedByName: string | null;
  approvedAt: number | null;
  settledAt: number | null;
  partners: number;
  amount: number;
  leftOut: number;
  leftOutAmount: number;
}
export type ItemState = 'out' | 'open' | 'paid' | 'returned' | 'abandoned';
export interface ItemRow {
  id: number;
  runId: number;
  partnerId: number;
  partnerName: string;
  partnerCode: string;
  outReason: OutReason | null;
  fromEntry: number;
  amount: number;
  currency: Currency;
  payoutAmount: number | null;
  payoutCurrency: Currency;
  rate: number | null;
  rateDay: string | null;
  state: ItemState;
  returnReason: string | null;
  detailsMask: string | null;
}

const RUN = `SELECT r.id, r.program_id AS programId, r.number, r.cut_off AS cutOff, r.upto_entry AS uptoEntry, r.state, r.drafted_by AS draftedBy,
    d.name AS draftedByName, r.drafted_at AS draftedAt, a.name AS approvedByName, r.approved_at AS approvedAt, r.settled_at AS settledAt,
    (SELECT count(*) FROM payout_items i WHERE i.run_id = r.id AND i.out_reason IS NULL) AS partners,
    (SELECT coalesce(sum(i.amount), 0) FROM payout_items i WHERE i.run_id = r.id AND i.out_reason IS NULL) AS amount,
    (SELECT count(*) FROM payout_items i WHERE i.run_id = r.id AND i.out_reason IS NOT NULL) AS leftOut,
    (SELECT coalesce(sum(i.amount), 0) FROM payout_items i WHERE i.run_id = r.id AND i.out_reason IS NOT NULL) AS leftOutAmount
  FROM payout_runs r JOIN users d ON d.id = r.drafted_by LEFT JOIN users a ON a.id = r.approved_by`;
const ITEM = `SELECT i.id, i.run_id AS runId, i.partner_id AS partnerId, p.name AS partnerName, p.code AS partnerCode, i.out_reason AS outReason,
    i.from_entry AS fromEntry, i.amount, i.currency, i.payout_amount AS payoutAmount, i.payout_currency AS payoutCurrency, i.rate,
    i.rate_day AS rateDay, i.state, i.return_reason AS returnReason, d.mask AS detailsMask
  FROM payout_items i JOIN partners p ON p.id = i.partner_id LEFT JOIN payout_details d ON d.partner_id = i.partner_id`;

export function payoutStore(db: Db) {
  const insertRun = db.prepare(
    `INSERT INTO payout_runs (program_id, number, cut_off, upto_entry, state, drafted_by, drafted_at)
     SELECT :programId, coalesce(max(number), 0) + 1, :cutOff, :uptoEntry, 'drafted', :draftedBy, :now FROM payout_runs WHERE program_id = :programId`,
  );
  const setState = db.prepare<[string, number]>('UPDATE payout_runs SET state = ? WHERE id = ?');
  const setApproved = db.prepare<[number, number, number]>(
    "UPDATE payout_runs SET state = 'approved', approved_by = ?, approved_at = ? WHERE id = ?",
  );
  const setSettled = db.prepare<[number, number]>(
    "UPDATE payout_runs SET state = 'settled', settled_at = ? WHERE id = ?",
  );
  const run = db.prepare<[number], RunRow>(`${RUN} WHERE r.id = ?`);
  const openRun = db.prepare<[number], RunRow>(
    `${RUN} WHERE r.program_id = ? AND r.state IN ('drafted', 'approved', 'exported')`,
  );
  const runs = db.prepare<[number], RunRow>(`${RUN} WHERE r.program_id = ? ORDER BY r.number DESC`);
  const insertItem = db.prepare<Omit<ItemRow, 'id' | 'partnerName' | 'partnerCode' | 'returnReason' | 'detailsMask'>>(
    `INSERT INTO payout_items (run_id, partner_id, out_reason, from_entry, amount, currency, payout_amount, payout_currency, rate, rate_day, state)
     VALUES (:runId, :partnerId, :outReason, :fromEntry, :amount, :currency, :payoutAmount, :payoutCurrency, :rate, :rateDay, :state)`,
  );
  const setItem = db.prepare<[string, string | null, number]>(
    'UPDATE payout_items SET state = ?, return_reason = ? WHERE id = ?',
  );
  const item = db.prepare<[number, number], ItemRow>(`${ITEM} WHERE i.run_id = ? AND i.partner_id = ?`);
  const items = db.prepare<[number], ItemRow>(
    `${ITEM} WHERE i.run_id = ? ORDER BY i.out_reason IS NOT NULL, i.amount DESC, p.name`,
  );
  const ofPartner = db.prepare<[number], ItemRow & { number: number; cutOff: string; settledAt: number | null }>(
    `SELECT s.*, r.number, r.cut_off AS cutOff, r.settled_at AS settledAt FROM (${ITEM}) s JOIN payout_runs r ON r.id = s.runId
     WHERE s.partnerId = ? AND s.outReason IS NULL AND s.state <> 'abandoned' ORDER BY r.number DESC`,
  );
  return {
    insertRun: (row: {
      programId: number;
      cutOff: string;
      uptoEntry: number;
      draftedBy: number;
      now: number;
    }): number => Number(insertRun.run(row).lastInsertRowid),
    setState: (id: number, state: RunState): void => void setState.run(state, id),
    setApproved: (id: number, by: number, now: number): void => void setApproved.run(by, now, id),
    setSettled: (id: number, now: number): void => void setSettled.run(now, id),
    run: (id: number) => run.get(id),
    openRun: (programId: number) => openRun.get(programId),
    runs: (programId: number) => runs.all(programId),
    insertItem: (row: Parameters<typeof insertItem.run>[0]): void => void insertItem.run(row),
    setItem: (id: number, state: ItemState, returnReason: string | null = null): void =>
      void setItem.run(state, returnReason, id),
    item: (runId: number, partnerId: number) => item.get(runId, partnerId),
    items: (runId: number) => items.all(runId),
    ofPartner: (partnerId: number) => ofPartner.all(partnerId),
  };
}
