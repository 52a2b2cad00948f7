import type { Db, Page, Paging } from '../database';
import { type ScopeFilter, inScope } from './scope';

/** A telephone number that calls are counted by. */
export interface NumberRow {
  id: number;
  programId: number;
  /** In E.164, "+15550100". */
  number: string;
  offerId: number;
  /** One channel's for good, or shown to one visit at a time. */
  use: 'channel' | 'visits';
  partnerId: number | null;
  channelId: number | null;
}
export interface NumberListRow extends NumberRow {
  offerName: string;
  partnerName: string | null;
  channelName: string | null;
  calls: number;
}
/** A call with what became of it. */
export interface CallRow {
  id: number;
  programId: number;
  callId: string;
  receiptId: string;
  number: string;
  offerId: number | null;
  partnerId: number | null;
  channelId: number | null;
  clickId: string | null;
  /** When it began. */
  time: number;
  day: string;
  /** Seconds. */
  length: number;
  answered: 0 | 1;
  /** A keyed hash; null for callers who hide their number. */
  callerHash: string | null;
  /** The last two digits. */
  callerEnd: string;
  place: string;
  outcome: string;
  detail: string;
  conversionId: number | null;
}
export interface CallListRow extends CallRow {
  offerName: string | null;
  partnerName: string | null;
  channelName: string | null;
  commission: number | null;
}

const NUMBER = `n.id, n.program_id AS programId, n.number, n.offer_id AS offerId, n.use, n.partner_id AS partnerId, n.channel_id AS channelId`;
const CALL = `x.id, x.program_id AS programId, x.call_id AS callId, x.receipt_id AS receiptId, x.number, x.offer_id AS offerId,
  x.partner_id AS partnerId, x.channel_id AS channelId, x.click_id AS clickId, x.time, x.day, x.length, x.answered,
  x.caller_hash AS callerHash, x.caller_end AS callerEnd, x.place, x.outcome, x.detail, x.conversion_id AS conversionId`;
const LIST = `SELECT ${CALL}, o.name AS offerName, p.name AS partnerName, h.name AS channelName, m.amount - m.reversed AS commission
  FROM calls x LEFT JOIN offers o ON o.id = x.offer_id LEFT JOIN partners p ON p.id = x.partner_id
    LEFT JOIN channels h ON h.id = x.channel_id LEFT JOIN commissions m ON m.conversion_id = x.conversion_id`;
const WANTED = `${inScope('x')} AND (:outcome IS NULL OR x.outcome = :outcome)`;

export function callStore(db: Db) {
  const numbers = db.prepare<[number], NumberListRow>(
    `SELECT ${NUMBER}, o.name AS offerName, p.name AS partnerName, h.name AS channelName,
       (SELECT count(*) FROM calls x WHERE x.program_id = n.program_id AND x.number = n.number) AS calls
     FROM call_numbers n JOIN offers o ON o.id = n.offer_id LEFT JOIN partners p ON p.id = n.partner_id LEFT JOIN channels h ON h.id = n.channel_id
     WHERE n.program_id = ? AND n.removed_at IS NULL ORDER BY n.number`,
  );
  const pool = db.prepare<[number], NumberRow>(
    `SELECT ${NUMBER} FROM call_numbers n WHERE n.offer_id = ? AND n.removed_at IS NULL ORDER BY n.id`,
  );
  const byNumber = db.prepare<[number, string], NumberRow>(
    `SELECT ${NUMBER} FROM call_numbers n WHERE n.program_id = ? AND n.number = ? AND n.removed_at IS NULL`,
  );
  const numberById = db.prepare<[number], NumberRow>(`SELECT ${NUMBER} FROM call_numbers n WHERE n.id = ?`);
  const insertNumber = db.prepare(
    `INSERT INTO call_numbers (program_id, number, offer_id, use, partner_id, channel_id, created_at)
     VALUES (:programId, :number, :offerId, :use, :partnerId, :channelId, :now)`,
  );
  const removeNumber = db.prepare<[number, number]>('UPDATE call_numbers SET removed_at = ? WHERE id = ?');
  const insert = db.prepare<Omit<CallRow, 'id'>>(
    `INSERT INTO calls (program_id, call_id, receipt_id, number, offer_id, partner_id, channel_id, click_id, time, day, length, answered, caller_hash, caller_end, place, outcome, detail, conversion_id)
     VALUES (:programId, :callId, :receiptId, :number, :offerId, :partnerId, :channelId, :clickId, :time, :day, :length, :answered, :callerHash, :callerEnd, :place, :outcome, :detail, :conversionId)`,
  );
  const byCallId = db.prepare<[number, string], CallRow>(
    `SELECT ${CALL} FROM calls x WHERE x.program_id = ? AND x.call_id = ?`,
  );
  const byId = db.prepare<[number], CallListRow>(`${LIST} WHERE x.id = ?`);
  const settle = db.prepare<[string, string, number | null, number]>(
    'UPDATE calls SET outcome = ?, detail = ?, conversion_id = ? WHERE id = ?',
  );
  const waitAgain = db.prepare<[string, number]>(
    "UPDATE calls SET outcome = 'asked', detail = ?, conversion_id = NULL WHERE conversion_id = ?",
  );
  const earlier = db
    .prepare<[number, string, number, number], number>(
      `SELECT time FROM calls WHERE program_id = ? AND caller_hash = ? AND time BETWEEN ? AND ? AND outcome IN ('converted', 'asked') ORDER BY time DESC LIMIT 1`,
    )
    .pluck();
  const atOnce = db
    .prepare<[number, number, number], number>(
      "SELECT count(*) FROM calls WHERE offer_id = ? AND time <= ? AND time + length * 1000 > ? AND outcome IN ('converted', 'asked')",
    )
    .pluck();
  const onDay = db
    .prepare<[number, string], number>(
      "SELECT count(*) FROM calls WHERE offer_id = ? AND day = ? AND outcome IN ('converted', 'asked')",
    )
    .pluck();
  const count = db.prepare<[number], number>('SELECT count(*) FROM calls WHERE program_id = ?').pluck();
  const astray = db
    .prepare<[number], string>(
      `SELECT x.call_id FROM calls x LEFT JOIN conversions c ON c.id = x.conversion_id WHERE x.program_id = ?
         AND ((x.outcome = 'converted') <> (x.conversion_id IS NOT NULL) OR (c.id IS NOT NULL AND coalesce(c.order_ref, x.call_id) <> x.call_id))`,
    )
    .pluck();
  const list = db.prepare<ScopeFilter & Paging & { outcome: string | null }, CallListRow>(
    `${LIST} WHERE ${WANTED} ORDER BY x.time DESC, x.id DESC LIMIT :limit OFFSET :offset`,
  );
  const counts = db.prepare<ScopeFilter, { outcome: string; count: number }>(
    `SELECT x.outcome, count(*) AS count FROM calls x WHERE ${inScope('x')} GROUP BY x.outcome ORDER BY count DESC`,
  );
  return {
    numbers: (programId: number) => numbers.all(programId),
    /** Numbers of an offer, for the edge. */
    numbersOf: (offerId: number) => pool.all(offerId),
    byNumber: (programId: number, number: string) => byNumber.get(programId, number),
    numberById: (id: number) => numberById.get(id),
    insertNumber: (row: Omit<NumberRow, 'id'>, now: number): number =>
      Number(insertNumber.run({ ...row, now }).lastInsertRowid),
    removeNumber: (id: number, now: number): void => void removeNumber.run(now, id),
    insert: (row: Omit<CallRow, 'id'>): number => Number(insert.run(row).lastInsertRowid),
    byCallId: (programId: number, callId: string) => byCallId.get(programId, callId),
    byId: (id: number) => byId.get(id),
    settle: (id: number, outcome: string, detail: string, conversionId: number | null): void =>
      void settle.run(outcome, detail, conversionId, id),
    /** The merchant's word of a call was taken back: it waits for it again. */
    waitAgain: (conversionId: number, why: string): void => void waitAgain.run(why, conversionId),
    /** When a caller called last within a stretch of time and it counted. */
    lastCounted: (programId: number, caller: string, from: number, to: number): number | undefined =>
      earlier.get(programId, caller, from, to),
    /** Calls of an offer that counted and went on at a time. */
    goingOn: (offerId: number, time: number): number => atOnce.get(offerId, time, time) ?? 0,
    countedOn: (offerId: number, day: string): number => onDay.get(offerId, day) ?? 0,
    list: (scope: ScopeFilter, outcome: string | null, paging: Paging): Page<CallListRow> => ({
      rows: list.all({ ...scope, ...paging, outcome }),
      total: counts
        .all(scope)
        .reduce((sum, each) => (outcome === null || each.outcome === outcome ? sum + each.count : sum), 0),
    }),
    counts: (scope: ScopeFilter) => counts.all(scope),
    count: (programId: number): number => count.get(programId) ?? 0,
    /** Calls that count without a conversion, or have one without counting. */
    astray: (programId: number) => astray.all(programId),
  };
}
