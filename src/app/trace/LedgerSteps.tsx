import type { ReactNode } from 'react';
import { money } from '@/core/money/money';
import { showAmount } from '@/core/money/text';
import type { LedgerLine } from '@/store/books/ledger';

const ACCOUNT_WORDS: Record<string, string> = {
  program_expense: 'expense of the program',
  partner_pending: 'pending',
  partner_approved: 'approved',
  partner_in_payout: 'in payout',
  program_bank: 'paid by bank',
};

/** Transactions of the ledger as movements: an amount, from where, to where. */
export function LedgerSteps({ lines, at }: { lines: readonly LedgerLine[]; at(time: number): ReactNode }) {
  const transactions = new Map<number, LedgerLine[]>();
  for (const line of lines)
    transactions.set(line.transactionId, [...(transactions.get(line.transactionId) ?? []), line]);
  return (
    <>
      {[...transactions.values()].map((entries) => {
        const [from, to] = entries;
        if (!from || !to) return null;
        return (
          <p key={from.transactionId} className="small">
            {at(from.time)} <b>{from.kind.replaceAll('_', ' ')}</b> {showAmount(money(to.amount, to.currency))}:{' '}
            {ACCOUNT_WORDS[from.account]} → {ACCOUNT_WORDS[to.account]}
            {from.reason && <span className="mute"> ({from.reason})</span>}
          </p>
        );
      })}
    </>
  );
}
