import { describe, expect, test } from 'vitest';
import { matchByClick } from '../attribution/match';
import { makeUlid, isUlid, ulidTime } from '../clicks/ulid';
import { setAsideReason } from '../clicks/set_aside';
import { currency } from '../money/currency';
import { DAY_MS } from '../time/days';
import { conversionKey, repeatedFigures } from './repeat';

const figures = (amount: number) => ({
  currency: currency('EUR'),
  amount,
  tax: 1,
  shipping: 0,
  discount: 0,
  items: [],
});

test('the four ways with repeats', () => {
  expect(repeatedFigures('ignore', figures(5), figures(7))).toBeUndefined();
  expect(repeatedFigures('count', figures(5), figures(7))).toBeUndefined();
  expect(repeatedFigures('replace', figures(5), figures(7))?.amount).toBe(7);
  expect(repeatedFigures('add', figures(5), figures(7))).toMatchObject({ amount: 12, tax: 2 });
  expect(conversionKey(1, 'order', 'A1', 'c')).toBe(conversionKey(1, 'order', 'A1', 'other'));
  expect(conversionKey(1, 'order', undefined, undefined)).toBeUndefined();
});

describe('matching by click', () => {
  const click = {
    time: 0,
    partnerClosed: false,
    setAside: false,
    offerHasEvent: true,
    clickWindowDays: 30,
    couponFirst: false,
  };
  test.each([
    [click, 30 * DAY_MS, undefined],
    [click, 30 * DAY_MS + 1, 'outside_window'],
    [click, -60_000, undefined],
    [click, -600_000, 'outside_window'],
    [undefined, 0, 'unknown_click'],
    [{ ...click, setAside: true }, 0, 'set_aside_click'],
    [{ ...click, partnerClosed: true }, 0, 'partner_closed'],
    [{ ...click, offerHasEvent: false }, 0, 'offer_mismatch'],
  ])('case %#', (facts, time, expected) => expect(matchByClick(facts, time)).toBe(expected));
});

test('click IDs carry their time and sort by it', () => {
  const random = Uint8Array.from({ length: 10 }, (_, i) => 255 - i);
  const ids = [0, 1, 1_795_000_000_000, 2 ** 48 - 1].map((time) => makeUlid(time, random));
  expect(ids.every(isUlid)).toBe(true);
  expect(ids.map(ulidTime)).toEqual([0, 1, 1_795_000_000_000, 2 ** 48 - 1]);
  expect([...ids].sort()).toEqual(ids);
  // Worked by hand: 80 one-bits are 16 times "Z".
  expect(makeUlid(0, new Uint8Array(10).fill(255)).slice(10)).toBe('Z'.repeat(16));
});

test('clicks set aside', () => {
  const signs = { method: 'GET', purpose: '', bot: false, listed: false, flood: false, live: true };
  expect(setAsideReason(signs)).toBeUndefined();
  expect(setAsideReason({ ...signs, purpose: 'prefetch;prerender' })).toBe('prefetch');
  expect(setAsideReason({ ...signs, method: 'HEAD', bot: true })).toBe('head');
  expect(setAsideReason({ ...signs, bot: true })).toBe('bot');
  expect(setAsideReason({ ...signs, listed: true, flood: true })).toBe('listed');
  expect(setAsideReason({ ...signs, flood: true, live: false })).toBe('flood');
  expect(setAsideReason({ ...signs, live: false })).toBe('paused');
});
