import { type Account, type EntryKind, type Movement, entriesOf } from '@/core/ledger/ledger';
import type { Currency } from '@/core/money/currency';
import { type Db, inserter } from '../database';

export interface Posting {
  programId: number;
  time: number;
  actor: string;
  reason?: string;
  commissionId?: number | null;
  runId?: number | null;
}
export interface LedgerLine {
  transactionId: number;
  kind: EntryKind;
  time: number;
  actor: string;
  reason: string;
  account: Account;
  amount: number;
  currency: Currency;
  runId: number | null;
}
/** A line of a statement: what moved the approved balance, and for which conversion. */
export interface StatementLine {
  entryId: number;
  kind: EntryKind;
  time: number;
  reason: string;
  amount: number;
  commissionId: number | null;
  conversionId: number | null;
  day: string | null;
  event: string | null;
  orderRef: string | null;
  offerName: string | null;
  channelName: string | null;
}
export interface Balance {
  partnerId: number;
  amount: number;
}

/** Movements between a run and the approved balance are no earnings and stand on no statement. */
const NO_STATEMENT_LINE = `('put_into_run', 'run_abandoned')`;

export function ledgerStore(db: Db) {
  const insertTransaction = inserter<Required<Posting> & { kind: EntryKind }>(db, 'ledger_transactions', {
    ...({ program_id: 'programId', kind: 'kind', time: 'time', actor: 'actor', reason: 'reason' } as const),
    ...({ commission_id: 'commissionId', run_id: 'runId' } as const),
  });
  const insertEntry = db.prepare(
    'INSERT INTO ledger_entries (transaction_id, account, partner_id, currency, amount) VALUES (?, ?, ?, ?, ?)',
  );
  const LINE = `SELECT t.id AS transactionId, t.kind, t.time, t.actor, t.reason, e.account, e.amount, e.currency, t.run_id AS runId
    FROM ledger_transactions t JOIN ledger_entries e ON e.transaction_id = t.id`;
  const ofCommission = db.prepare<[number], LedgerLine>(`${LINE} WHERE t.commission_id = ? ORDER BY e.id`);
  const ofRunPartner = db.prepare<[number, number], LedgerLine>(
    `${LINE} WHERE t.run_id = ? AND e.partner_id = ? ORDER BY e.id`,
  );
  const lastBefore = db.prepare<[number], { id: number }>(
    'SELECT id FROM ledger_transactions WHERE time < ? ORDER BY id DESC LIMIT 1',
  );
  const lastEntry = db.prepare<[number], { id: number | null }>(
    'SELECT max(id) AS id FROM ledger_entries WHERE transaction_id = ?',
  );
  const RANGE = `e.account = 'partner_approved' AND e.id > :from AND e.id <= :upto AND t.kind NOT IN ${NO_STATEMENT_LINE}`;
  const statement = db.prepare<{ partnerId: number; from: number; upto: number }, StatementLine>(
    `SELECT e.id AS entryId, t.kind, t.time, t.reason, e.amount, t.commission_id AS commissionId, c.id AS conversionId, c.day, c.event,
       c.order_ref AS orderRef, o.name AS offerName, h.name AS channelName
     FROM ledger_entries e JOIN ledger_transactions t ON t.id = e.transaction_id LEFT JOIN commissions m ON m.id = t.commission_id
       LEFT JOIN conversions c ON c.id = m.conversion_id LEFT JOIN offers o ON o.id = m.offer_id LEFT JOIN channels h ON h.id = m.channel_id
     WHERE e.partner_id = :partnerId AND ${RANGE} ORDER BY e.id`,
  );
  // What each partner has earned since the last run it was paid in; abandoned runs do not count.
  const unpaid = db.prepare<{ programId: number; upto: number }, { partnerId: number; from: number; amount: number }>(
    `WITH last AS (
       SELECT p.id AS partner_id, coalesce((SELECT max(r.upto_entry) FROM payout_items i JOIN payout_runs r ON r.id = i.run_id
         WHERE i.partner_id = p.id AND i.state IN ('open', 'paid', 'returned')), 0) AS from_entry
       FROM partners p WHERE p.program_id = :programId)
     SELECT l.partner_id AS partnerId, l.from_entry AS "from", sum(e.amount) AS amount
     FROM last l JOIN ledger_entries e ON e.partner_id = l.partner_id AND e.account = 'partner_approved' AND e.id > l.from_entry AND e.id <= :upto
       JOIN ledger_transactions t ON t.id = e.transaction_id AND t.kind NOT IN ${NO_STATEMENT_LINE}
     GROUP BY l.partner_id ORDER BY l.partner_id`,
  );
  const balances = db.prepare<[Account, number], Balance>(
    `SELECT e.partner_id AS partnerId, sum(e.amount) AS amount FROM ledger_entries e JOIN partners p ON p.id = e.partner_id
     WHERE e.account = ? AND p.program_id = ? GROUP BY e.partner_id`,
  );
  const balance = db.prepare<[number, Account], { amount: number }>(
    'SELECT coalesce(sum(amount), 0) AS amount FROM ledger_entries WHERE partner_id = ? AND account = ?',
  );
  const netOf = db.prepare<[number], { net: number }>(
    `SELECT coalesce(-sum(e.amount), 0) AS net FROM ledger_transactions t JOIN ledger_entries e ON e.transaction_id = t.id
     WHERE t.commission_id = ? AND e.account = 'program_expense'`,
  );
  const unbalanced = db.prepare<[], { id: number }>(
    'SELECT transaction_id AS id FROM ledger_entries GROUP BY transaction_id, currency HAVING sum(amount) <> 0 UNION SELECT id FROM ledger_transactions WHERE id NOT IN (SELECT transaction_id FROM ledger_entries)',
  );
  return {
    /** Posts one movement as a transaction of two entries that sum to zero; a movement of nothing is not posted. */
    post(movement: Movement, about: Posting): void {
      if (movement.amount === 0) return;
      const { commissionId = null, runId = null, reason = '', programId, time, actor } = about;
      const transaction = insertTransaction({
        programId,
        kind: movement.kind,
        time,
        actor,
        reason,
        commissionId,
        runId,
      });
      for (const entry of entriesOf(movement))
        insertEntry.run(transaction, entry.account, entry.partnerId, entry.currency, entry.amount);
    },
    ofCommission: (commissionId: number) => ofCommission.all(commissionId),
    ofRunPartner: (runId: number, partnerId: number) => ofRunPartner.all(runId, partnerId),
    /** The last entry posted before an instant; 0 when there is none. */
    lastEntryBefore: (time: number): number => lastEntry.get(lastBefore.get(time)?.id ?? 0)?.id ?? 0,
    statementLines: (partnerId: number, from: number, upto: number) => statement.all({ partnerId, from, upto }),
    unpaid: (programId: number, upto: number) => unpaid.all({ programId, upto }),
    balance: (partnerId: number, account: Account): number => balance.get(partnerId, account)?.amount ?? 0,
    balances: (account: Account, programId: number) => balances.all(account, programId),
    /** What the program has spent on a commission after all adjustments and reversals. */
    netOfCommission: (commissionId: number): number => netOf.get(commissionId)?.net ?? 0,
    unbalanced: (): number[] => unbalanced.all().map(({ id }) => id),
  };
}
