import type { Db } from '../database';
import { type ScopeFilter, inScope } from './scope';

export interface MoneyFigures {
  conversions: number;
  unmatched: number;
  commissions: number;
  commission: number;
  approved: number;
}
export interface LinkEarnings {
  linkId: number;
  conversions: number;
  commission: number;
}
export interface Found {
  kind: 'partner' | 'link' | 'conversion';
  id: number;
  label: string;
  about: string;
}

/** Counts and sums for the Line and the lists, straight from the books. */
export function figureStore(db: Db) {
  const money = db.prepare<ScopeFilter, MoneyFigures>(
    `SELECT count(*) FILTER (WHERE c.unmatched IS NULL) AS conversions, count(*) FILTER (WHERE c.unmatched IS NOT NULL AND c.state = 'pending') AS unmatched,
       count(m.id) AS commissions,
       coalesce(sum(m.amount - m.reversed) FILTER (WHERE m.state NOT IN ('rejected')), 0) AS commission,
       coalesce(sum(m.amount - m.reversed) FILTER (WHERE m.state IN ('approved', 'in_payout', 'paid')), 0) AS approved
     FROM conversions c LEFT JOIN commissions m ON m.conversion_id = c.id WHERE ${inScope('c')}`,
  );
  const byLink = db.prepare<ScopeFilter & { ids: string }, LinkEarnings>(
    `SELECT c.link_id AS linkId, count(*) AS conversions, coalesce(sum(m.amount - m.reversed) FILTER (WHERE m.state <> 'rejected'), 0) AS commission
     FROM conversions c LEFT JOIN commissions m ON m.conversion_id = c.id WHERE c.link_id IN (SELECT value FROM json_each(:ids)) AND ${inScope('c')} GROUP BY c.link_id`,
  );
  const find = db.prepare<{ programId: number; partnerId: number | null; text: string; exact: string }, Found>(
    `SELECT * FROM (SELECT 'partner' AS kind, p.id, p.name AS label, p.code || ' · ' || p.state AS about FROM partners p
       WHERE p.program_id = :programId AND (:partnerId IS NULL OR p.id = :partnerId) AND (instr(lower(p.name), :text) OR instr(lower(p.code), :text)) ORDER BY p.name LIMIT 8)
     UNION ALL SELECT * FROM (SELECT 'link', l.id, l.code, p.name || ' · ' || o.name FROM links l JOIN partners p ON p.id = l.partner_id JOIN offers o ON o.id = l.offer_id
       WHERE l.program_id = :programId AND (:partnerId IS NULL OR p.id = :partnerId) AND (l.code = :exact OR l.alias = :text) LIMIT 5)
     UNION ALL SELECT * FROM (SELECT 'conversion', c.id, coalesce(c.order_ref, c.event), c.event || ' · ' || coalesce(p.name, 'unmatched') FROM conversions c LEFT JOIN partners p ON p.id = c.partner_id
       WHERE c.program_id = :programId AND (:partnerId IS NULL OR p.id = :partnerId) AND (c.order_ref = :exact OR c.click_id = upper(:exact)) ORDER BY c.id DESC LIMIT 8)`,
  );
  const unmatched = db.prepare<[number], { reason: string; count: number; amount: number; since: number }>(
    `SELECT unmatched AS reason, count(*) AS count, sum(amount) AS amount, min(recorded_at) AS since FROM conversions WHERE program_id = ? AND unmatched IS NOT NULL AND state = 'pending' GROUP BY 1 ORDER BY 2 DESC`,
  );
  return {
    money: (scope: ScopeFilter): MoneyFigures =>
      money.get(scope) ?? { conversions: 0, unmatched: 0, commissions: 0, commission: 0, approved: 0 },
    byLink: (scope: ScopeFilter, ids: readonly number[]) => byLink.all({ ...scope, ids: JSON.stringify(ids) }),
    find: (programId: number, partnerId: number | null, text: string) =>
      find.all({ programId, partnerId, text: text.toLowerCase(), exact: text }),
    unmatchedByReason: (programId: number) => unmatched.all(programId),
  };
}
