import type { Explanation, RatingInput } from '@/core/commissions/rate';
import type { CommissionState } from '@/core/ledger/ledger';
import type { Currency } from '@/core/money/currency';
import { type Db, type Page, type Paging, inserter } from '../database';
import { type ScopeFilter, inScope } from './scope';

export interface CommissionRow {
  id: number;
  programId: number;
  conversionId: number;
  partnerId: number;
  channelId: number;
  offerId: number;
  currency: Currency;
  /** What the newest rating gave. */
  amount: number;
  /** What was taken back of it. */
  reversed: number;
  /** The part of `reversed` that refunds took, which later reports may still change. */
  refunded: number;
  /** The state before a refund of the whole. */
  reversedFrom: CommissionState | null;
  /** Fees of chargebacks that were charged to the partner. */
  fees: number;
  state: CommissionState;
  day: string;
  payableOn: string | null;
  runId: number | null;
  createdAt: number;
}
type New = Omit<CommissionRow, 'id' | 'reversed' | 'refunded' | 'reversedFrom' | 'fees' | 'runId'>;
export interface CommissionListRow extends CommissionRow {
  partnerName: string;
  channelName: string;
  offerName: string;
  event: string;
  orderRef: string | null;
  saleAmount: number;
  saleCurrency: Currency;
}
export interface RatingRow {
  id: number;
  commissionId: number;
  sheetId: number;
  input: RatingInput;
  explanation: Explanation | null;
  amount: number | null;
  time: number;
}
/** `due` is pending with a payable day that has come; `waiting` is pending with one to come or unknown. */
export type CommissionShelf = 'all' | 'due' | 'waiting' | CommissionState;
export interface StateSum {
  shelf: CommissionShelf;
  count: number;
  amount: number;
  /** The earliest payable day on the shelf. */
  since: string | null;
}
export interface CalendarRow {
  month: string | null;
  count: number;
  held: number;
  due: number;
  approved: number;
  lost: number;
}
interface StoredRating extends Omit<RatingRow, 'input' | 'explanation'> {
  input: string;
  explanation: string | null;
}

const COLUMNS = `m.id, m.program_id AS programId, m.conversion_id AS conversionId, m.partner_id AS partnerId, m.channel_id AS channelId,
  m.offer_id AS offerId, m.currency, m.amount, m.reversed, m.state, m.day, m.payable_on AS payableOn, m.run_id AS runId, m.created_at AS createdAt,
  m.refunded, m.reversed_from AS reversedFrom, m.fees`;
const LIST = `SELECT ${COLUMNS}, p.name AS partnerName, h.name AS channelName, o.name AS offerName, c.event, c.order_ref AS orderRef,
    c.amount AS saleAmount, c.currency AS saleCurrency
  FROM commissions m JOIN conversions c ON c.id = m.conversion_id JOIN partners p ON p.id = m.partner_id
    JOIN channels h ON h.id = m.channel_id JOIN offers o ON o.id = m.offer_id`;
const DUE = `m.state = 'pending' AND m.payable_on <= :today`;
/** What waits for something is indexed; said so that SQLite knows that the index holds it all. */
const WAITS = `state IN ('needs_rate', 'pending')`;
const SHELF = `(:shelf = 'all' OR (:shelf = 'due' AND ${DUE}) OR (:shelf = 'waiting' AND m.state = 'pending' AND NOT coalesce(${DUE}, 0)) OR m.state = :shelf)`;
const read = (row: StoredRating): RatingRow => ({
  ...row,
  input: JSON.parse(row.input),
  explanation: row.explanation === null ? null : JSON.parse(row.explanation),
});

export function commissionStore(db: Db) {
  const insert = inserter<New>(db, 'commissions', {
    ...({
      program_id: 'programId',
      conversion_id: 'conversionId',
      partner_id: 'partnerId',
      channel_id: 'channelId',
    } as const),
    ...({ offer_id: 'offerId', currency: 'currency', amount: 'amount', state: 'state', day: 'day' } as const),
    ...({ payable_on: 'payableOn', created_at: 'createdAt' } as const),
  });
  const told = db.prepare<[number]>('INSERT INTO conversion_changes (conversion_id) VALUES (?)');
  const spent = db.prepare<[number, string, number]>(
    'INSERT INTO offer_days VALUES (?, ?, 0, ?) ON CONFLICT DO UPDATE SET spend = spend + excluded.spend',
  );
  const standing = db.prepare<[number], Pick<CommissionRow, 'conversionId' | 'offerId' | 'day'> & { spend: number }>(
    `SELECT conversion_id AS conversionId, offer_id AS offerId, day, iif(state = 'rejected', 0, amount - reversed) AS spend
     FROM commissions WHERE id = ?`,
  );
  /** Changes a commission: what caps count and what reports are told goes with it. */
  function change(id: number, work: () => void): void {
    const before = standing.get(id);
    work();
    const after = standing.get(id);
    if (!before || !after) throw new Error(`There is no commission ${id}.`);
    spent.run(before.offerId, before.day, -before.spend);
    spent.run(after.offerId, after.day, after.spend);
    told.run(after.conversionId);
  }
  const revive = db.prepare<Omit<New, 'programId' | 'conversionId' | 'createdAt'> & { id: number }>(
    `UPDATE commissions SET partner_id = :partnerId, channel_id = :channelId, offer_id = :offerId, currency = :currency, amount = :amount,
       reversed = 0, refunded = 0, reversed_from = NULL, state = :state, day = :day, payable_on = :payableOn WHERE id = :id`,
  );
  const setState = db.prepare<[string, string | null, number]>(
    'UPDATE commissions SET state = ?, reversed_from = ? WHERE id = ?',
  );
  const setAmount = db.prepare<[number, string, string | null, number]>(
    'UPDATE commissions SET amount = ?, day = ?, payable_on = ? WHERE id = ?',
  );
  const addReversed = db.prepare<[number, number, number]>(
    'UPDATE commissions SET reversed = reversed + ?, refunded = refunded + ? WHERE id = ?',
  );
  const addFees = db.prepare<[number, number]>('UPDATE commissions SET fees = fees + ? WHERE id = ?');
  const byId = db.prepare<[number], CommissionListRow>(`${LIST} WHERE m.id = ?`);
  const byConversion = db.prepare<[number], CommissionRow>(
    `SELECT ${COLUMNS} FROM commissions m WHERE m.conversion_id = ?`,
  );
  type ShelfFilter = ScopeFilter & { shelf: CommissionShelf; today: string };
  const list = db.prepare<ShelfFilter & Paging, CommissionListRow>(
    `${LIST} WHERE ${inScope('m')} AND ${SHELF} ORDER BY c.time DESC, m.id DESC LIMIT :limit OFFSET :offset`,
  );
  const count = db.prepare<ShelfFilter, { total: number }>(
    `SELECT count(*) AS total FROM commissions m WHERE ${inScope('m')} AND ${SHELF}`,
  );
  const IN_REVIEW = "EXISTS (SELECT 1 FROM reviews r WHERE r.conversion_id = m.conversion_id AND r.state = 'open')";
  const clear = db
    .prepare<ShelfFilter, number>(
      `SELECT m.id FROM commissions m WHERE ${inScope('m')} AND ${SHELF} AND NOT ${IN_REVIEW} ORDER BY m.id`,
    )
    .pluck();
  const clearSums = db.prepare<ShelfFilter, { count: number; amount: number; inReview: number }>(
    `SELECT count(*) FILTER (WHERE NOT ${IN_REVIEW}) AS count, coalesce(sum(m.amount - m.reversed) FILTER (WHERE NOT ${IN_REVIEW}), 0) AS amount,
       count(*) FILTER (WHERE ${IN_REVIEW}) AS inReview FROM commissions m WHERE ${inScope('m')} AND ${SHELF}`,
  );
  const sums = db.prepare<ScopeFilter & { today: string }, StateSum>(
    `SELECT CASE WHEN ${DUE} THEN 'due' WHEN m.state = 'pending' THEN 'waiting' ELSE m.state END AS shelf, count(*) AS count,
       sum(m.amount - m.reversed) AS amount, min(m.payable_on) AS since FROM commissions m WHERE ${inScope('m')} GROUP BY 1`,
  );
  const calendar = db.prepare<ScopeFilter & { today: string }, CalendarRow>(
    `SELECT substr(m.payable_on, 1, 7) AS month, count(*) AS count,
       coalesce(sum(m.amount - m.reversed) FILTER (WHERE m.state = 'pending' AND NOT coalesce(${DUE}, 0)), 0) AS held,
       coalesce(sum(m.amount - m.reversed) FILTER (WHERE ${DUE}), 0) AS due,
       coalesce(sum(m.amount - m.reversed) FILTER (WHERE m.state IN ('approved', 'in_payout', 'paid')), 0) AS approved,
       coalesce(sum(iif(m.state = 'rejected', m.amount, m.reversed)), 0) AS lost
     FROM commissions m WHERE ${inScope('m')} AND m.state <> 'needs_rate' GROUP BY 1 ORDER BY substr(m.payable_on, 1, 7) IS NULL, 1`,
  );
  const ofRun = db.prepare<[number, number], CommissionListRow>(
    `${LIST} WHERE +m.run_id = ? AND m.partner_id = ? ORDER BY m.id`,
  );
  const needingRate = db.prepare<[number], CommissionRow>(
    `SELECT ${COLUMNS} FROM commissions m WHERE m.program_id = ? AND m.state = 'needs_rate' AND m.${WAITS}`,
  );
  const autoDue = db.prepare<{ programId: number; today: string }, { id: number }>(
    `SELECT m.id FROM commissions m JOIN offers o ON o.id = m.offer_id JOIN conversions c ON c.id = m.conversion_id
     WHERE m.program_id = :programId AND ${DUE} AND m.${WAITS} AND CASE (SELECT coalesce(json_extract(e.value, '$.approval'), 'offer') FROM json_each(o.events) e
       WHERE json_extract(e.value, '$.event') = c.event) WHEN 'self' THEN 1 WHEN 'person' THEN 0 ELSE o.auto_approve END = 1`,
  );
  const everything = db.prepare<[number], CommissionRow>(
    `SELECT ${COLUMNS} FROM commissions m WHERE m.program_id = ? ORDER BY m.id`,
  );

  const insertRating = inserter<Omit<StoredRating, 'id'>>(db, 'ratings', {
    ...({ commission_id: 'commissionId', sheet_id: 'sheetId', input: 'input', explanation: 'explanation' } as const),
    ...({ amount: 'amount', time: 'time' } as const),
  });
  const RATING =
    'SELECT id, commission_id AS commissionId, sheet_id AS sheetId, input, explanation, amount, time FROM ratings';
  const ratings = db.prepare<[number], StoredRating>(`${RATING} WHERE commission_id = ? ORDER BY id`);
  const latest = db.prepare<[number], StoredRating>(`${RATING} WHERE commission_id = ? ORDER BY id DESC LIMIT 1`);

  const joinRun = db.prepare<{ programId: number; runId: number; uptoEntry: number }>(
    `UPDATE commissions SET state = 'in_payout', run_id = :runId
     WHERE program_id = :programId AND state = 'approved' AND amount <> 0
       AND partner_id IN (SELECT partner_id FROM payout_items WHERE run_id = :runId AND out_reason IS NULL)
       AND id NOT IN (SELECT commission_id FROM ledger_transactions WHERE kind = 'approved' AND commission_id IS NOT NULL
         AND id > coalesce((SELECT transaction_id FROM ledger_entries WHERE id = :uptoEntry), 0))`,
  );
  const IN_RUN = "state IN ('in_payout', 'paid')";
  const payRun = db.prepare<[number]>(`UPDATE commissions SET state = 'paid' WHERE run_id = ? AND ${IN_RUN}`);
  const leaveRun = db.prepare<[number]>(
    `UPDATE commissions SET state = 'approved', run_id = NULL WHERE run_id = ? AND ${IN_RUN}`,
  );
  const returned = db.prepare<[number, number]>(
    `UPDATE commissions SET state = 'approved' WHERE +run_id = ? AND partner_id = ? AND ${IN_RUN}`,
  );
  return {
    insert: (row: New): number => {
      const id = insert(row);
      told.run(row.conversionId);
      if (row.state !== 'rejected') spent.run(row.offerId, row.day, row.amount);
      return id;
    },
    /** The commission of a conversion that was withdrawn from one partner, for another. */
    revive: (id: number, { programId: _, conversionId: __, createdAt: ___, ...row }: New): void =>
      change(id, () => revive.run({ ...row, id })),
    /** @param reversedFrom the state before, when refunds are the reason */
    setState: (id: number, state: CommissionState, reversedFrom?: CommissionState): void =>
      change(id, () => setState.run(state, reversedFrom ?? null, id)),
    setAmount: (id: number, amount: number, day: string, payableOn: string | null): void =>
      change(id, () => setAmount.run(amount, day, payableOn, id)),
    /** @param refunded the part of it that refunds took */
    addReversed: (id: number, amount: number, refunded: number): void =>
      change(id, () => addReversed.run(amount, refunded, id)),
    addFees: (id: number, amount: number): void => void addFees.run(amount, id),
    byId: (id: number) => byId.get(id),
    byConversion: (conversionId: number) => byConversion.get(conversionId),
    list: (filter: ShelfFilter, paging: Paging): Page<CommissionListRow> => ({
      rows: list.all({ ...filter, ...paging }),
      total: count.get(filter)?.total ?? 0,
    }),
    /** Those of a shelf that nobody is asked about, and their sums. */
    clearOfReview: (filter: ShelfFilter): number[] => clear.all(filter),
    clearSums: (filter: ShelfFilter) => clearSums.get(filter) ?? { count: 0, amount: 0, inReview: 0 },
    sums: (scope: ScopeFilter, today: string) => sums.all({ ...scope, today }),
    ofRun: (runId: number, partnerId: number) => ofRun.all(runId, partnerId),
    /** What becomes payable month by month; without a month, what waits for its completion to be known. */
    calendar: (scope: ScopeFilter, today: string) => calendar.all({ ...scope, today }),
    needingRate: (programId: number) => needingRate.all(programId),
    dueByItself: (programId: number, today: string): number[] => autoDue.all({ programId, today }).map(({ id }) => id),
    all: (programId: number) => everything.iterate(programId),
    insertRating: (row: Omit<RatingRow, 'id'>): void =>
      void insertRating({
        ...row,
        input: JSON.stringify(row.input),
        explanation: row.explanation && JSON.stringify(row.explanation),
      }),
    ratings: (commissionId: number): RatingRow[] => ratings.all(commissionId).map(read),
    latestRating: (commissionId: number): RatingRow | undefined => {
      const row = latest.get(commissionId);
      return row && read(row);
    },
    /** Into a run goes what was approved up to its last entry, of the partners whom it pays. */
    joinRun: (run: { programId: number; runId: number; uptoEntry: number }): void => void joinRun.run(run),
    payRun: (runId: number): void => void payRun.run(runId),
    /** Approved as before the run, which they no longer name. */
    leaveRun: (runId: number): void => void leaveRun.run(runId),
    /** Approved again; they name the run whose payment came back. */
    returnPaid: (runId: number, partnerId: number): void => void returned.run(runId, partnerId),
  };
}
