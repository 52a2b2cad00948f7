import { type Seen, type SuspicionSettings, USUAL_SUSPICION } from '@/core/conversions/suspicion';
import type { Db, Page, Paging } from '../database';
import { type ScopeFilter, inScope } from './scope';

export const REVIEW_STATES = ['open', 'cleared', 'rejected'] as const;
export interface ReviewRow {
  conversionId: number;
  programId: number;
  score: number;
  signals: Seen[];
  state: (typeof REVIEW_STATES)[number];
  time: number;
  decidedBy: string | null;
  decidedAt: number | null;
  reason: string;
}
/** A conversion in review, with what it would earn. */
export interface ReviewListRow extends ReviewRow {
  event: string;
  orderRef: string | null;
  happened: number;
  partnerId: number;
  partnerName: string;
  channelName: string;
  amount: number;
  currency: string;
  commission: number | null;
  commissionState: string | null;
}
type Stored<T extends ReviewRow> = Omit<T, 'signals'> & { signals: string };
const read = <T extends ReviewRow>(row: Stored<T>) => ({ ...row, signals: JSON.parse(row.signals) as Seen[] });

const REVIEW = `r.conversion_id AS conversionId, r.program_id AS programId, r.score, r.signals, r.state, r.time, r.decided_by AS decidedBy,
  r.decided_at AS decidedAt, r.reason`;
const DAY_MS = 86_400_000;

export function reviewStore(db: Db) {
  const settings = db.prepare<[number], string>('SELECT suspicion FROM programs WHERE id = ?').pluck();
  const setSettings = db.prepare<[string, number]>('UPDATE programs SET suspicion = ? WHERE id = ?');
  const open = db.prepare(
    `INSERT INTO reviews (conversion_id, program_id, score, signals, state, time) VALUES (:conversionId, :programId, :score, :signals, 'open', :time)
     ON CONFLICT (conversion_id) DO UPDATE SET score = excluded.score, signals = excluded.signals WHERE state = 'open'`,
  );
  const drop = db.prepare<[number]>("DELETE FROM reviews WHERE conversion_id = ? AND state = 'open'");
  const byId = db.prepare<[number], Stored<ReviewRow>>(`SELECT ${REVIEW} FROM reviews r WHERE r.conversion_id = ?`);
  const decide = db.prepare(
    'UPDATE reviews SET state = :state, decided_by = :actor, decided_at = :time, reason = :reason WHERE conversion_id = :id',
  );
  const FROM = `FROM reviews r JOIN conversions c ON c.id = r.conversion_id WHERE r.state = :state AND ${inScope('c')}`;
  const list = db.prepare<ScopeFilter & Paging & { state: string }, Stored<ReviewListRow>>(
    `SELECT ${REVIEW}, c.event, c.order_ref AS orderRef, c.time AS happened, c.partner_id AS partnerId, p.name AS partnerName, h.name AS channelName,
       c.amount, c.currency, m.amount - m.reversed AS commission, m.state AS commissionState
     FROM reviews r JOIN conversions c ON c.id = r.conversion_id JOIN partners p ON p.id = c.partner_id JOIN channels h ON h.id = c.channel_id
       LEFT JOIN commissions m ON m.conversion_id = c.id
     WHERE r.state = :state AND ${inScope('c')} ORDER BY r.score DESC, c.time DESC, c.id LIMIT :limit OFFSET :offset`,
  );
  const count = db.prepare<ScopeFilter & { state: string }, number>(`SELECT count(*) ${FROM}`).pluck();
  const openIds = db
    .prepare<[number], number>("SELECT conversion_id FROM reviews WHERE program_id = ? AND state = 'open'")
    .pluck();
  const waiting = db.prepare<[number], { count: number; amount: number; since: number }>(
    `SELECT count(*) AS count, coalesce(sum(m.amount - m.reversed), 0) AS amount, min(r.time) AS since
     FROM reviews r LEFT JOIN commissions m ON m.conversion_id = r.conversion_id WHERE r.program_id = ? AND r.state = 'open' HAVING count(*) > 0`,
  );
  const putOrigin = db.prepare(
    'INSERT INTO conversion_origins (conversion_id, program_id, origin, time) VALUES (:id, :programId, :origin, :time) ON CONFLICT DO UPDATE SET origin = excluded.origin, time = excluded.time',
  );
  const fromOrigin = db
    .prepare<[number, string, number, number], number>(
      'SELECT count(*) FROM conversion_origins WHERE program_id = ? AND origin = ? AND time BETWEEN ? AND ?',
    )
    .pluck();
  const customers = db
    .prepare<[number, string, number, number], number>(
      'SELECT count(DISTINCT customer_hash) FROM conversions WHERE program_id = ? AND card_hash = ? AND customer_hash IS NOT NULL AND time BETWEEN ? AND ?',
    )
    .pluck();
  const ofDays = db
    .prepare<[number, number, string, string], number>(
      'SELECT count(*) FROM conversions WHERE channel_id = ? AND offer_id = ? AND day BETWEEN ? AND ?',
    )
    .pluck();
  return {
    settings: (programId: number): SuspicionSettings => {
      const own = JSON.parse(settings.get(programId) ?? '{}') as Partial<SuspicionSettings>;
      return { ...USUAL_SUSPICION, ...own, signals: { ...USUAL_SUSPICION.signals, ...own.signals } };
    },
    setSettings: (programId: number, to: SuspicionSettings): void =>
      void setSettings.run(JSON.stringify(to), programId),
    /** Asks a person, or tells what is seen by now; a decision stands. */
    open: (row: Pick<ReviewRow, 'conversionId' | 'programId' | 'score' | 'signals' | 'time'>): void =>
      void open.run({ ...row, signals: JSON.stringify(row.signals) }),
    drop: (conversionId: number): void => void drop.run(conversionId),
    byId: (conversionId: number): ReviewRow | undefined => {
      const row = byId.get(conversionId);
      return row && read(row);
    },
    decide: (id: number, state: 'cleared' | 'rejected' | 'open', actor: string, time: number, reason: string): void =>
      void decide.run({ id, state, actor, time, reason }),
    list: (scope: ScopeFilter, state: string, paging: Paging): Page<ReviewListRow> => ({
      rows: list.all({ ...scope, ...paging, state }).map(read),
      total: count.get({ ...scope, state }) ?? 0,
    }),
    count: (scope: ScopeFilter): number => count.get({ ...scope, state: 'open' }) ?? 0,
    openIds: (programId: number): ReadonlySet<number> => new Set(openIds.all(programId)),
    waiting: (programId: number) => waiting.get(programId),
    putOrigin: (id: number, programId: number, origin: string, time: number): void =>
      void putOrigin.run({ id, programId, origin, time }),
    /** Conversions from one origin in the 24 hours up to a time. */
    fromOrigin: (programId: number, origin: string, time: number): number =>
      fromOrigin.get(programId, origin, time - DAY_MS, time) ?? 0,
    /** Different customers of a card in the 30 days up to a time. */
    customersOfCard: (programId: number, card: string, time: number): number =>
      customers.get(programId, card, time - 30 * DAY_MS, time) ?? 0,
    /** Conversions of a channel on an offer, both days included. */
    ofDays: (channelId: number, offerId: number, from: string, to: string): number =>
      ofDays.get(channelId, offerId, from, to) ?? 0,
  };
}
