import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { currency } from '../money/currency';
import { day } from '../time/calendar';
import type { Figures, Item } from './base';
import { payableOn } from './hold';
import { type Rating, type RatingInput, rateConversion } from './rate';
import type { Pay, SheetRow } from './sheet';

const EUR = currency('EUR');
const figures = (amount: number, more: Partial<Figures> = {}): Figures => ({
  currency: EUR,
  amount,
  tax: 0,
  shipping: 0,
  discount: 0,
  items: [],
  ...more,
});
const input = (amount: number, more: Partial<RatingInput> = {}): RatingInput => ({
  offerId: 1,
  event: 'order',
  partnerId: 7,
  program: EUR,
  figures: figures(amount),
  ...more,
});
const row = (id: string, pay: Pay, when: SheetRow['when'] = {}): SheetRow => ({ id, label: id, when, pay });
const rate = (rows: SheetRow[], what: RatingInput): Rating & { kind: 'rated' } => {
  const result = rateConversion({ version: 3, rows }, what);
  if (result.kind !== 'rated') throw new Error(result.kind);
  return result;
};
const percent = (rate: number): Pay => ({ kind: 'percent', rate });

describe('rating', () => {
  test('the first row that matches pays, and the explanation names what the others lacked', () => {
    const rows = [
      row('calls', { kind: 'fixed', amount: 1800, per: 'conversion' }, { event: 'call' }),
      row('special', percent(200_000), { partnerId: 8 }),
      row('general', percent(125_000)),
      row('never', percent(900_000)),
    ];
    const { amount, explanation } = rate(rows, input(19_999));
    expect(amount).toEqual({ minor: 2500, currency: EUR });
    expect(explanation.lines[0]?.looks).toEqual([
      { row: 'calls', failed: 'event' },
      { row: 'special', failed: 'partnerId' },
      { row: 'general' },
    ]);
    expect(explanation.paid[0]?.steps).toEqual([{ base: 19_999, rate: 125_000, exact: '2499.875', amount: 2500 }]);
    expect(rate(rows.slice(0, 2), input(100)).amount.minor).toBe(0);
  });

  test('base without tax, shipping and discount; items carry their share of the discount', () => {
    const whole = rate(
      [row('a', percent(100_000))],
      input(0, { figures: figures(12_100, { tax: 2100, shipping: 500, discount: 500 }) }),
    );
    expect(whole.amount.minor).toBe(900);
    const items: Item[] = [6000, 3000, 1000].map((price, i) => ({ sku: `s${i}`, quantity: 1, price }));
    const split = rate(
      [row('a', percent(100_000), { sku: 's0' }), row('b', percent(0))],
      input(0, { figures: figures(10_000, { discount: 1000, items }) }),
    );
    expect(split.explanation.lines.map((line) => line.base)).toEqual([5400, 2700, 900]);
    expect(split.amount.minor).toBe(540);
  });

  test('marginal bands by count: three bookings of €80 as 19th, 20th and 21st', () => {
    const pay: Pay = {
      kind: 'bands',
      by: 'count',
      bands: [
        { upTo: 20, rate: 120_000 },
        { upTo: null, rate: 150_000 },
      ],
    };
    const at = (count: number): number =>
      rate([row('c', pay)], input(8000, { volumes: { c: { count, base: 0 } } })).amount.minor;
    expect([at(18), at(19), at(20)]).toEqual([960, 960, 1200]);
  });

  test('marginal bands by base add up however the base is cut into conversions', () => {
    const pay: Pay = {
      kind: 'bands',
      by: 'base',
      bands: [
        { upTo: 50_000, rate: 100_000 },
        { upTo: 90_000, rate: 200_000 },
        { upTo: null, rate: 300_000 },
      ],
    };
    fc.assert(
      fc.property(
        fc.array(
          fc.integer({ min: 1, max: 4000 }).map((n) => n * 10),
          { minLength: 1, maxLength: 12 },
        ),
        (amounts) => {
          let base = 0;
          let sum = 0;
          for (const amount of amounts) {
            sum += rate([row('c', pay)], input(amount, { volumes: { c: { count: 0, base } } })).amount.minor;
            base += amount;
          }
          const inBand = (from: number, to: number): number => Math.max(0, Math.min(base, to) - from);
          expect(sum).toBe(inBand(0, 50_000) * 0.1 + inBand(50_000, 90_000) * 0.2 + inBand(90_000, Infinity) * 0.3);
        },
      ),
    );
  });

  test('fixed pay by conversion and by unit; least and most', () => {
    const items = [
      { sku: 'a', quantity: 3, price: 100 },
      { sku: 'b', quantity: 2, price: 100 },
    ];
    const order = input(0, { figures: figures(500, { items }) });
    expect(rate([row('f', { kind: 'fixed', amount: 80, per: 'conversion' })], order).amount.minor).toBe(80);
    expect(rate([row('f', { kind: 'fixed', amount: 80, per: 'unit' })], order).amount.minor).toBe(400);
    const bounded = [row('p', { kind: 'percent', rate: 100_000, least: 100, most: 5000 })];
    expect([500, 20_000, 90_000].map((amount) => rate(bounded, input(amount)).amount.minor)).toEqual([100, 2000, 5000]);
  });

  test('"above €2,000 of one item" looks at the unit price', () => {
    const rows = [row('dear', percent(60_000), { leastAmount: 200_001 }), row('rest', percent(40_000))];
    const items = [
      { sku: 'kiln', quantity: 1, price: 240_000 },
      { sku: 'shelf', quantity: 40, price: 6000 },
    ];
    expect(rate(rows, input(0, { figures: figures(480_000, { items }) })).amount.minor).toBe(14_400 + 9600);
  });

  test('another currency waits for its rate, then is converted once', () => {
    const yen = input(0, { figures: figures(15_000, { currency: currency('JPY') }) });
    expect(rateConversion({ version: 1, rows: [row('a', percent(100_000))] }, yen)).toEqual({
      kind: 'needs_rate',
      from: 'JPY',
      to: 'EUR',
    });
    expect(
      rate([row('a', percent(100_000))], { ...yen, exchange: { rate: 6_134_000, day: day('2026-11-01') } }).amount
        .minor,
    ).toBe(920);
  });

  test('the same input gives the same amount, and it survives storage as JSON', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 1e9 }), fc.integer({ min: 0, max: 1_000_000 }), (amount, ppm) => {
        const sheet = { version: 1, rows: [row('a', percent(ppm))] };
        const first = rateConversion(sheet, input(amount));
        expect(rateConversion(JSON.parse(JSON.stringify(sheet)), JSON.parse(JSON.stringify(input(amount))))).toEqual(
          first,
        );
      }),
    );
  });
});

test('hold: whole months, days after completion, and unknown completion', () => {
  const month = { kind: 'month', days: 20, from: 'completed' } as const;
  expect(payableOn(month, day('2026-09-01'), day('2026-10-17'))).toBe('2026-12-01');
  expect(payableOn({ kind: 'days', days: 21, from: 'completed' }, day('2026-10-01'), day('2026-10-10'))).toBe(
    '2026-10-31',
  );
  expect(payableOn({ kind: 'days', days: 14, from: 'event' }, day('2026-10-20'), undefined)).toBe('2026-11-03');
  expect(payableOn(month, day('2026-10-17'), undefined)).toBeUndefined();
});
