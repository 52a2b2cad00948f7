import type { MatchedBy, UnmatchedReason } from '@/core/attribution/match';
import type { Report, ReportedBy, ReportedFacts } from '@/core/conversions/standing';
import type { Figures } from '@/core/commissions/base';
import type { Currency } from '@/core/money/currency';
import type { Statement } from 'better-sqlite3';
import { type Db, type Page, type Paging, inserter } from '../database';
import { type ConversionFilter, conditionOf } from './conversion_filters';
import { outcomeStore } from './outcomes';
import type { Before } from './repairs';
import { type ScopeFilter, inScope } from './scope';

export type ConversionState = 'pending' | 'approved' | 'rejected' | 'reversed';

export interface ConversionRow {
  id: number;
  programId: number;
  offerId: number | null;
  event: string;
  orderRef: string | null;
  clickId: string | null;
  linkId: number | null;
  partnerId: number | null;
  channelId: number | null;
  time: number;
  recordedAt: number;
  day: string;
  currency: Currency;
  amount: number;
  figures: Figures;
  facts: ReportedFacts;
  completed: string | null;
  custom: Record<string, string>;
  state: ConversionState;
  unmatched: UnmatchedReason | null;
  receiptId: string;
  reportedBy: ReportedBy;
  coupon: string | null;
  visitor: string | null;
  customerHash: string | null;
  cardHash: string | null;
  matchedBy: MatchedBy | 'hand' | null;
}
/** What an unmatched conversion is given. */
export interface MatchedTo {
  offerId: number;
  linkId: number | null;
  partnerId: number;
  channelId: number;
  clickId: string | null;
  matchKey: string | null;
  matchedBy: MatchedBy | 'hand';
}
export interface ConversionListRow extends ConversionRow {
  partnerName: string | null;
  channelName: string | null;
  offerName: string | null;
  commissionId: number | null;
  commission: number | null;
  commissionReversed: number | null;
  commissionState: string | null;
  payableOn: string | null;
}
export type UnmatchedRow = Pick<
  ConversionRow,
  'id' | 'event' | 'time' | 'clickId' | 'coupon' | 'visitor' | 'offerId' | 'currency' | 'amount'
> & { reason: UnmatchedReason };
export interface HistoryRow {
  time: number;
  actor: string;
  what: string;
  detail: string;
}

type Json = 'figures' | 'facts' | 'custom';
type Stored<T extends ConversionRow> = Omit<T, Json> & Record<Json, string>;
type New = Omit<ConversionRow, 'id' | 'state'> & { matchKey: string | null };
type Written = Omit<New, Json> & Record<Json, string> & { state: ConversionState };

const COLUMNS = `c.id, c.program_id AS programId, c.offer_id AS offerId, c.event, c.order_ref AS orderRef, c.click_id AS clickId,
  c.link_id AS linkId, c.partner_id AS partnerId, c.channel_id AS channelId, c.time, c.recorded_at AS recordedAt, c.day, c.currency,
  c.amount, c.figures, c.facts, c.completed, c.custom, c.state, c.unmatched, c.receipt_id AS receiptId,
  c.reported_by AS reportedBy, c.coupon, c.visitor, c.customer_hash AS customerHash, c.card_hash AS cardHash, c.matched_by AS matchedBy`;
const LIST = `SELECT ${COLUMNS}, p.name AS partnerName, h.name AS channelName, o.name AS offerName, m.id AS commissionId,
    m.amount AS commission, m.reversed AS commissionReversed, m.state AS commissionState, m.payable_on AS payableOn
  FROM conversions c LEFT JOIN partners p ON p.id = c.partner_id LEFT JOIN channels h ON h.id = c.channel_id
    LEFT JOIN offers o ON o.id = c.offer_id LEFT JOIN commissions m ON m.conversion_id = c.id`;
const SHELF = `${inScope('c')} AND (:shelf = 'all' OR (:shelf = 'unmatched' AND c.unmatched IS NOT NULL AND c.state = 'pending') OR c.state = :shelf)`;

const read = <T extends ConversionRow>(row: Stored<T>) => ({
  ...row,
  figures: JSON.parse(row.figures) as Figures,
  facts: JSON.parse(row.facts) as ReportedFacts,
  custom: JSON.parse(row.custom) as Record<string, string>,
});

export type Shelf = 'all' | 'unmatched' | ConversionState;

export function conversionStore(db: Db) {
  const insert = inserter<Written>(db, 'conversions', {
    ...({
      program_id: 'programId',
      offer_id: 'offerId',
      event: 'event',
      order_ref: 'orderRef',
      click_id: 'clickId',
    } as const),
    ...({ match_key: 'matchKey', link_id: 'linkId', partner_id: 'partnerId', channel_id: 'channelId' } as const),
    ...({ time: 'time', recorded_at: 'recordedAt', day: 'day', currency: 'currency', amount: 'amount' } as const),
    ...({ figures: 'figures', facts: 'facts', completed: 'completed', custom: 'custom', state: 'state' } as const),
    ...({ unmatched: 'unmatched', receipt_id: 'receiptId', reported_by: 'reportedBy', coupon: 'coupon' } as const),
    ...({ visitor: 'visitor', customer_hash: 'customerHash', card_hash: 'cardHash', matched_by: 'matchedBy' } as const),
  });
  const told = db.prepare<[number]>('INSERT INTO conversion_changes (conversion_id) VALUES (?)');
  const counted = db.prepare<[number | null, string]>(
    'INSERT INTO offer_days VALUES (?, ?, 1, 0) ON CONFLICT DO UPDATE SET conversions = conversions + 1',
  );
  const bringUp = db.prepare(
    `UPDATE conversions SET time = :time, day = :day, currency = :currency, amount = :amount, figures = :figures, completed = :completed,
       facts = :facts, custom = :custom, reported_by = :reportedBy, receipt_id = :receiptId WHERE id = :id`,
  );
  const addReport = db.prepare<[number, string, string]>(
    'INSERT INTO conversion_reports (conversion_id, receipt_id, said) VALUES (?, ?, ?)',
  );
  const reports = db
    .prepare<[number], string>(
      'SELECT said FROM conversion_reports WHERE conversion_id = ? AND receipt_id NOT IN (SELECT receipt_id FROM withdrawn_receipts) ORDER BY id',
    )
    .pluck();
  const setMatch = db.prepare<MatchedTo & { id: number }>(
    `UPDATE conversions SET offer_id = :offerId, link_id = :linkId, partner_id = :partnerId, channel_id = :channelId, click_id = :clickId,
       match_key = coalesce(:matchKey, match_key), matched_by = :matchedBy, unmatched = NULL WHERE id = :id AND unmatched IS NOT NULL`,
  );
  const unmatchedFor = db.prepare<
    { programId: number; reason: string; offerId: number | null; coupon: string | null },
    { id: number }
  >(
    `SELECT id FROM conversions WHERE program_id = :programId AND unmatched = :reason AND state = 'pending'
       AND (:offerId IS NULL OR offer_id = :offerId) AND (:coupon IS NULL OR coupon = :coupon COLLATE NOCASE) ORDER BY id`,
  );
  const unknownSince = db.prepare<[number, number], { id: number }>(
    `SELECT id FROM conversions WHERE program_id = ? AND unmatched = 'unknown_click' AND state = 'pending' AND recorded_at >= ? ORDER BY id LIMIT 1000`,
  );
  const withdraw = db.prepare<[number]>(
    "UPDATE conversions SET state = 'rejected', match_key = NULL, order_ref = NULL WHERE id = ?",
  );
  const setState = db.prepare<[string, number]>('UPDATE conversions SET state = ? WHERE id = ?');
  const byId = db.prepare<[number], Stored<ConversionListRow>>(`${LIST} WHERE c.id = ?`);
  const plain = db.prepare<[number], Stored<ConversionRow>>(`SELECT ${COLUMNS} FROM conversions c WHERE c.id = ?`);
  const byKey = db.prepare<[number, string], Stored<ConversionRow>>(
    `SELECT ${COLUMNS} FROM conversions c WHERE c.program_id = ? AND c.match_key = ? ORDER BY c.id LIMIT 1`,
  );
  const byOrder = db.prepare<[number, string, string], Stored<ConversionRow>>(
    `SELECT ${COLUMNS} FROM conversions c WHERE c.program_id = ? AND c.order_ref = ? AND c.event = ? ORDER BY c.id LIMIT 1`,
  );
  const byClick = db.prepare<[number, string, string], Stored<ConversionRow>>(
    `SELECT ${COLUMNS} FROM conversions c WHERE c.program_id = ? AND c.click_id = ? AND c.event = ? ORDER BY c.id LIMIT 1`,
  );
  const byReference = db
    .prepare<{ programId: number; order: string; event: string | null }, number>(
      'SELECT id FROM conversions WHERE program_id = :programId AND order_ref = :order AND (:event IS NULL OR event = :event) ORDER BY id LIMIT 1',
    )
    .pluck();
  const byClickOnly = db
    .prepare<{ programId: number; clickId: string; event: string | null }, number>(
      'SELECT id FROM conversions WHERE program_id = :programId AND click_id = :clickId AND (:event IS NULL OR event = :event) ORDER BY id LIMIT 1',
    )
    .pluck();
  const unmatched = db.prepare<ScopeFilter & { limit: number }, UnmatchedRow>(
    `SELECT c.id, c.unmatched AS reason, c.event, c.time, c.click_id AS clickId, c.coupon, c.visitor, c.offer_id AS offerId, c.currency, c.amount
     FROM conversions c WHERE ${inScope('c')} AND c.unmatched IS NOT NULL AND c.state = 'pending' ORDER BY c.id DESC LIMIT :limit`,
  );
  const matchKey = db.prepare<[number], string | null>('SELECT match_key FROM conversions WHERE id = ?').pluck();
  const unmatch = db.prepare(
    `UPDATE conversions SET partner_id = NULL, channel_id = NULL, unmatched = :unmatched, click_id = :clickId, offer_id = :offerId,
       link_id = :linkId, matched_by = :matchedBy, match_key = :matchKey, state = :state WHERE id = :id`,
  );
  type Asked = ScopeFilter & Paging & { shelf: string } & Record<string, unknown>;
  /** One pair of statements for each set of filtered fields that was asked for. */
  const listed = new Map<
    string,
    { list: Statement<[Asked], Stored<ConversionListRow>>; count: Statement<[Asked], number> }
  >();
  function listing(filters: readonly ConversionFilter[]) {
    const where = [SHELF, ...filters.map(conditionOf)].join(' AND ');
    const known = listed.get(where) ?? {
      list: db.prepare<Asked, Stored<ConversionListRow>>(
        `${LIST} WHERE ${where} ORDER BY c.time DESC, c.id DESC LIMIT :limit OFFSET :offset`,
      ),
      count: db
        .prepare<Asked, number>(
          `SELECT count(*) FROM conversions c ${filters.length > 0 ? 'LEFT JOIN commissions m ON m.conversion_id = c.id' : ''} WHERE ${where}`,
        )
        .pluck(),
    };
    listed.set(where, known);
    return known;
  }

  const allEarned = db.prepare<[number], { id: number; state: string; commission: number }>(
    `SELECT c.id, coalesce(m.state, c.state) AS state, iif(m.state = 'rejected', 0, coalesce(m.amount - m.reversed, 0)) AS commission
     FROM conversions c LEFT JOIN commissions m ON m.conversion_id = c.id WHERE c.program_id = ? AND c.partner_id IS NOT NULL ORDER BY c.id`,
  );
  const earned = db
    .prepare<[string], number | null>(
      `SELECT sum(m.amount - m.reversed) FROM conversions c JOIN commissions m ON m.conversion_id = c.id
       WHERE c.click_id = ? AND m.state <> 'rejected'`,
    )
    .pluck();
  const changes = db.prepare<[number, number], { seq: number; conversionId: number }>(
    'SELECT seq, conversion_id AS conversionId FROM conversion_changes WHERE seq > ? ORDER BY seq LIMIT ?',
  );
  const firstOfClick = db.prepare<[string], { id: number }>(
    'SELECT id FROM conversions WHERE click_id = ? ORDER BY id LIMIT 1',
  );
  const addHistory = inserter<HistoryRow & { conversionId: number }>(db, 'conversion_history', {
    ...({ conversion_id: 'conversionId', time: 'time', actor: 'actor', what: 'what', detail: 'detail' } as const),
  });
  const history = db.prepare<[number], HistoryRow>(
    'SELECT time, actor, what, detail FROM conversion_history WHERE conversion_id = ? ORDER BY id',
  );

  return {
    ...outcomeStore(db),
    insert: (row: New): number => {
      const { figures, facts, custom } = row;
      const json = { figures: JSON.stringify(figures), facts: JSON.stringify(facts), custom: JSON.stringify(custom) };
      const id = insert({ ...row, ...json, state: 'pending' });
      told.run(id);
      if (row.partnerId !== null) counted.run(row.offerId, row.day);
      return id;
    },
    /** Sets what reports have changed. */
    bringUp: (
      id: number,
      to: Pick<
        ConversionRow,
        'time' | 'day' | 'figures' | 'completed' | 'facts' | 'custom' | 'reportedBy' | 'receiptId'
      >,
    ): void =>
      void bringUp.run({
        ...to,
        id,
        currency: to.figures.currency,
        amount: to.figures.amount,
        figures: JSON.stringify(to.figures),
        facts: JSON.stringify(to.facts),
        custom: JSON.stringify(to.custom),
      }),
    addReport: (id: number, report: Report): void => void addReport.run(id, report.receiptId, JSON.stringify(report)),
    /** Everything that was said of a conversion, as it came. */
    reports: (id: number): Report[] => reports.all(id).map((said) => JSON.parse(said) as Report),
    /** Gives an unmatched conversion its partner. @returns false when it has one by now */
    setMatch: (id: number, to: MatchedTo): boolean => setMatch.run({ ...to, id }).changes > 0,
    /** Those that wait for a partner, newest first. */
    unmatched: (scope: ScopeFilter, limit: number) => unmatched.all({ ...scope, limit }),
    matchKey: (id: number): string | null => matchKey.get(id) ?? null,
    /** Lets it wait again, as it was before. */
    unmatch: (id: number, before: Before): void => void unmatch.run({ ...before, id }),
    /** Those that wait for a reason, as far as offer or coupon are asked for. */
    unmatchedFor: (asked: {
      programId: number;
      reason: UnmatchedReason;
      offerId?: number;
      coupon?: string;
    }): number[] =>
      unmatchedFor.all({ ...asked, offerId: asked.offerId ?? null, coupon: asked.coupon ?? null }).map(({ id }) => id),
    /** Those whose click or visitor was not known when they were recorded, since a time. */
    unknownSince: (programId: number, since: number): number[] =>
      unknownSince.all(programId, since).map(({ id }) => id),
    /** Nobody says any more that it happened: it is not known again by its order. */
    withdraw: (id: number): void => void withdraw.run(id),
    setState: (id: number, state: ConversionState): void => void setState.run(state, id),
    byId: (id: number): ConversionListRow | undefined => {
      const row = byId.get(id);
      return row && read(row);
    },
    /** Without the names of what it belongs to, and without what it earned. */
    plain: (id: number): ConversionRow | undefined => {
      const row = plain.get(id);
      return row && read(row);
    },
    byKey: (programId: number, key: string): ConversionRow | undefined => {
      const row = byKey.get(programId, key);
      return row && read(row);
    },
    byOrder: (programId: number, order: string, event: string): ConversionRow | undefined => {
      const row = byOrder.get(programId, order, event);
      return row && read(row);
    },
    byClick: (programId: number, clickId: string, event: string): ConversionRow | undefined => {
      const row = byClick.get(programId, clickId, event);
      return row && read(row);
    },
    /** The first of an order, or of a click where there is none; of any event where none is named. */
    byReference: (
      programId: number,
      { order, clickId, event }: { order: string | null; clickId: string | null; event: string | null },
    ): number | undefined =>
      order === null
        ? byClickOnly.get({ programId, clickId: clickId ?? '', event })
        : byReference.get({ programId, order, event }),
    /** Which conversions reports have to read again, in order. */
    changesAfter: (seq: number, limit: number) => changes.all(seq, limit),
    /** Of every matched conversion: the state of what it earned, and what that is. */
    earned: (programId: number) => allEarned.iterate(programId),
    earnedByClick: (clickId: string): number | undefined => earned.get(clickId) ?? undefined,
    firstOfClick: (clickId: string): number | undefined => firstOfClick.get(clickId)?.id,
    list: (
      scope: ScopeFilter,
      shelf: Shelf,
      paging: Paging,
      filters: readonly ConversionFilter[] = [],
    ): Page<ConversionListRow> => {
      const { list, count } = listing(filters);
      const texts = Object.fromEntries(filters.map(({ text }, i) => [`text${i}`, text]));
      const asked = { ...scope, ...paging, ...texts, shelf };
      return { rows: list.all(asked).map(read), total: count.get(asked) ?? 0 };
    },
    addHistory: (conversionId: number, row: HistoryRow): void => void addHistory({ ...row, conversionId }),
    history: (conversionId: number) => history.all(conversionId),
  };
}
