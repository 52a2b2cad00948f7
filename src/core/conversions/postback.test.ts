import { describe, expect, test } from 'vitest';
import { currency } from '../money/currency';
import { readPostback } from './postback';

const EUR = currency('EUR');
const click = '01KB0000000000000000000000';
const read = (fields: Record<string, unknown>) => readPostback({ click_id: click, event: 'order', ...fields }, EUR);

test('a full postback is read exactly', () => {
  const items = JSON.stringify([{ sku: 'kiln-60', quantity: 2, price: '1450.00', category: 'kilns' }]);
  expect(
    read({
      order: 'A1',
      amount: '3012.10',
      tax: '100',
      shipping: '12.10',
      items,
      time: '2026-11-24T14:05:00+01:00',
      completed: '2026-11-30',
      x_place: 'Breda',
      customer: 'new',
    }),
  ).toEqual({
    ok: true,
    value: {
      clickId: click,
      event: 'order',
      order: 'A1',
      status: undefined,
      figures: {
        currency: 'EUR',
        amount: 301_210,
        tax: 10_000,
        shipping: 1210,
        discount: 0,
        items: [{ sku: 'kiln-60', category: 'kilns', quantity: 2, price: 145_000 }],
      },
      time: Date.parse('2026-11-24T13:05:00Z'),
      completed: '2026-11-30',
      customer: 'new',
      renewal: undefined,
      callLength: undefined,
      custom: { x_place: 'Breda' },
    },
  });
});

describe('what is malformed is named with its field', () => {
  test.each<[Record<string, unknown>, string, string]>([
    [{ amount: '12,50' }, 'amount', 'decimal amount'],
    [{ amount: '12.505' }, 'amount', 'at most 2 decimals'],
    [{ amount: '10.5', currency: 'JPY' }, 'amount', 'no decimals'],
    [{ amount: '-5' }, 'amount', 'status=reversed'],
    [{ amount: '5', tax: '6' }, 'amount', 'smaller than'],
    [{ currency: 'EURO' }, 'currency', 'at most 3'],
    [{ currency: 'XQX' }, 'currency', 'ISO 4217'],
    [{ status: 'done' }, 'status', 'pending, approved'],
    [{ click_id: 'x'.repeat(101) }, 'click_id', '100'],
    [{ event: '' }, 'event', 'missing'],
    [{ items: '{' }, 'items', 'JSON'],
    [{ items: [{ sku: 'a', price: '1.001' }] }, 'items.0.price', 'at most 2 decimals'],
    [{ time: 'yesterday' }, 'time', 'ISO 8601'],
    [{ colour: 'red' }, 'colour', 'not a field'],
    [{ click_id: '' }, '', 'click_id, a coupon code or a visitor'],
  ])('%o', (fields, field, reason) => {
    const result = read(fields);
    expect(result.ok).toBe(false);
    expect(!result.ok && result.problems[0]).toEqual({ field, reason: expect.stringContaining(reason) });
  });
});
