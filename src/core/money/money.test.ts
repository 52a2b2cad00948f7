import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { currency, currencyCodes, minorDigits } from './currency';
import { allocate, convert, divideRounded, exactShare, money, shareOf } from './money';
import { amountText, parseAmount, parseExchangeRate, parsePercent, showAmount, showPercent } from './text';

const EUR = currency('EUR');
const anyCurrency = fc.constantFrom(...currencyCodes());
const minor = fc.integer({ min: -1e12, max: 1e12 });

describe('share of an amount', () => {
  test.each([
    [19999, 125_000, 2500, '2499.875'],
    [20, 125_000, 3, '2.5'],
    [-20, 125_000, -3, '-2.5'],
    [8000, 120_000, 960, '960'],
    [0, 125_000, 0, '0'],
  ])('%i minor units at %i ppm are %i', (amount, rate, expected, exact) => {
    expect(shareOf(amount, rate)).toBe(expected);
    expect(exactShare(amount, rate)).toBe(exact);
  });

  test('agrees with exact division for any amount and rate, and mirrors its sign', () => {
    fc.assert(
      fc.property(minor, fc.integer({ min: 0, max: 1_000_000 }), (amount, rate) => {
        expect(shareOf(amount, rate)).toBe(Number(divideRounded(BigInt(amount) * BigInt(rate), 1_000_000n)));
        expect(shareOf(-amount, rate) + shareOf(amount, rate)).toBe(0);
      }),
    );
  });
});

describe('splitting by the largest remainder', () => {
  test('discount of €10 over €60, €30, €10, and over three of €33.33', () => {
    expect(allocate(1000, [6000, 3000, 1000])).toEqual([600, 300, 100]);
    expect(allocate(1000, [3333, 3333, 3333])).toEqual([334, 333, 333]);
  });

  test('nothing is lost or made, and no part is off by a whole unit', () => {
    fc.assert(
      fc.property(minor, fc.array(fc.nat(1e9), { minLength: 1, maxLength: 30 }), (total, weights) => {
        const parts = allocate(total, weights);
        const sum = weights.reduce((all, weight) => all + weight, 0);
        expect(parts.reduce((all, part) => all + part, 0)).toBe(total);
        if (sum > 0)
          parts.forEach((part, index) =>
            expect(Math.abs(part - (total * (weights[index] ?? 0)) / sum)).toBeLessThan(1.001),
          );
      }),
    );
  });
});

describe('amounts as text', () => {
  test('read and written amounts are the same in every currency', () => {
    fc.assert(
      fc.property(minor, anyCurrency, (figure, code) => {
        expect(parseAmount(amountText(money(figure, code)), code)).toEqual({ ok: true, value: money(figure, code) });
      }),
    );
  });

  test('too many decimals are refused, never rounded', () => {
    expect(parseAmount('12.345', EUR)).toMatchObject({
      ok: false,
      reason: expect.stringContaining('at most 2 decimals'),
    });
    expect(parseAmount('12.5', currency('JPY'))).toMatchObject({ ok: false });
    expect(parseAmount('1.234', currency('KWD'))).toEqual({ ok: true, value: money(1234, currency('KWD')) });
    for (const text of ['', '1,234.50', '1e3', 'NaN', '--1', '9999999999999999'])
      expect(parseAmount(text, EUR).ok, text).toBe(false);
  });

  test('shown with sign, grouping and every minor unit', () => {
    expect(showAmount(money(-123450, EUR))).toBe('−€1,234.50');
    expect(showAmount(money(1234500, currency('JPY')))).toBe('¥1,234,500');
    expect(showAmount(money(1, currency('KWD')))).toBe('KWD 0.001');
    expect(parsePercent('12.5')).toEqual({ ok: true, value: 125_000 });
    expect(parsePercent('0.00001').ok).toBe(false);
    expect(showPercent(125_000)).toBe('12.5%');
  });
});

test('ISO 4217 digits', () => {
  expect(['JPY', 'KWD', 'EUR', 'CLF', 'ISK', 'TND'].map((code) => minorDigits(currency(code)))).toEqual([
    0, 3, 2, 4, 0, 3,
  ]);
  expect(() => currency('XXQ')).toThrow(RangeError);
});

test('conversion respects the digits of both currencies and rounds once', () => {
  const rate = parseExchangeRate('0.006134');
  if (!rate.ok) throw new Error(rate.reason);
  expect(convert(money(15000, currency('JPY')), EUR, rate.value)).toEqual(money(9201, EUR));
  expect(convert(money(10_000, EUR), currency('KWD'), 356_000_000)).toEqual(money(35_600, currency('KWD')));
});
