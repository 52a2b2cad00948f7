import fc from 'fast-check';
import { expect, test } from 'vitest';
import { type Candidate, decidePayout } from './decide';

const paid: Candidate = {
  balance: 9000,
  programMinimum: 5000,
  ownMinimum: null,
  details: 'checked',
  onHold: false,
  convertible: true,
};

test.each<[Partial<Candidate>, string]>([
  [{ balance: 0 }, 'nothing_due'],
  [{ balance: -1 }, 'negative'],
  [{ onHold: true }, 'on_hold'],
  [{ details: 'missing' }, 'details_missing'],
  [{ details: 'unchecked' }, 'details_unchecked'],
  [{ balance: 4999 }, 'below_minimum'],
  [{ ownMinimum: 10_000 }, 'below_minimum'],
  [{ convertible: false }, 'needs_rate'],
])('%o is left out: %s', (change, reason) =>
  expect(decidePayout({ ...paid, ...change })).toEqual({ in: false, reason }),
);

test('the minimum itself is enough, and a lower own minimum does not lower the program’s', () => {
  fc.assert(
    fc.property(fc.integer({ min: 1, max: 20_000 }), fc.integer({ min: 0, max: 20_000 }), (balance, ownMinimum) => {
      expect(decidePayout({ ...paid, balance, ownMinimum }).in).toBe(balance >= 5000 && balance >= ownMinimum);
    }),
  );
});
