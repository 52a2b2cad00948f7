import fc from 'fast-check';
import { expect, test } from 'vitest';
import { currency } from '../money/currency';
import { ACCOUNTS, type CommissionState, ENTRY_KINDS, entriesOf, mayBecome, movement } from './ledger';

const EUR = currency('EUR');
const states: CommissionState[] = ['needs_rate', 'pending', 'approved', 'in_payout', 'paid', 'rejected', 'reversed'];

test('every movement sums to zero and moves the amount, whatever the kind, state and sign', () => {
  fc.assert(
    fc.property(
      fc.constantFrom(...ENTRY_KINDS),
      fc.constantFrom(...states),
      fc.maxSafeInteger(),
      (kind, state, amount) => {
        const [from, to] = entriesOf(movement(kind, { partnerId: 1, currency: EUR, amount, state }));
        expect(from.amount + to.amount).toBe(0);
        expect(to.amount).toBe(amount);
        expect(from.account).not.toBe(to.account);
      },
    ),
  );
});

test('a commission walked through to its payment leaves nothing with the partner', () => {
  const balances = Object.fromEntries(ACCOUNTS.map((account) => [account, 0]));
  for (const kind of ['earned', 'approved', 'put_into_run', 'paid', 'returned', 'put_into_run', 'paid'] as const)
    for (const entry of entriesOf(movement(kind, { partnerId: 1, currency: EUR, amount: 480 })))
      balances[entry.account] = (balances[entry.account] ?? 0) + entry.amount;
  expect(balances).toEqual({
    program_expense: -480,
    partner_pending: 0,
    partner_approved: 0,
    partner_in_payout: 0,
    program_bank: 480,
  });
});

test('a reversal takes from what is pending while it waits, and from what is approved ever after', () => {
  const account = (state: CommissionState) =>
    movement('reversed', { partnerId: 1, currency: EUR, amount: 5, state }).from;
  expect(states.map(account)).toEqual([
    'partner_pending',
    'partner_pending',
    'partner_approved',
    'partner_approved',
    'partner_approved',
    'partner_approved',
    'partner_approved',
  ]);
  expect(mayBecome('reversed', 'approved')).toBe(false);
  expect(mayBecome('rejected', 'approved')).toBe(false);
});
