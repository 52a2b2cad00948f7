import { expect, test } from 'vitest';
import { type Facts, type LineFacts, failedCondition } from './conditions';
import type { Conditions } from './sheet';

const FACTS: Facts = {
  offerId: 1,
  event: 'order',
  partnerId: 2,
  channelId: 3,
  country: 'NL',
  customer: 'new',
  callLength: 90,
  renewal: 2,
};
const LINE: LineFacts = { sku: 'kiln-60', category: 'kilns', price: 10_000 };
const HOLDING: Required<Conditions> = {
  offerId: 1,
  event: 'order',
  partnerId: 2,
  channelId: 3,
  sku: 'kiln-60',
  category: 'kilns',
  country: 'NL',
  customer: 'new',
  leastAmount: 10_000,
  leastCallLength: 90,
  renewalFrom: 2,
  renewalTo: 2,
};

test('all conditions hold at their limits, and none is asked of an empty row', () => {
  expect(failedCondition(HOLDING, FACTS, LINE)).toBeUndefined();
  expect(failedCondition({}, FACTS, LINE)).toBeUndefined();
});

test.each(Object.keys(HOLDING) as (keyof Conditions)[])('%s fails by its own name, alone and among others', (name) => {
  const off = {
    offerId: 9,
    event: 'call',
    partnerId: 9,
    channelId: 9,
    sku: 'x',
    category: 'x',
    country: 'BE',
    customer: 'returning',
    leastAmount: 10_001,
    leastCallLength: 91,
    renewalFrom: 3,
    renewalTo: 1,
  }[name];
  expect(failedCondition({ [name]: off }, FACTS, LINE)).toBe(name);
  expect(failedCondition({ ...HOLDING, [name]: off }, FACTS, LINE)).toBe(name);
});

test.each<[keyof Conditions, Conditions]>([
  ['channelId', { channelId: 3 }],
  ['country', { country: 'NL' }],
  ['customer', { customer: 'new' }],
  ['leastCallLength', { leastCallLength: 0 }],
  ['renewalFrom', { renewalFrom: 0 }],
  ['renewalTo', { renewalTo: 12 }],
])('%s fails where the fact is unknown', (name, when) => {
  expect(failedCondition(when, { offerId: 1, event: 'order', partnerId: 2 }, { price: 0 })).toBe(name);
});
