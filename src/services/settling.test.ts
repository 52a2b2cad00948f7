import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { OFFER, World } from '../../tests/support/world';
import type { RateSheet } from '@/core/commissions/sheet';
import { REPEAT_POLICIES } from '@/core/conversions/repeat';
import { verify } from './verify';

const ROWS: RateSheet['rows'] = [
  { id: 'kiln', label: 'Kilns', when: { sku: 'KILN' }, pay: { kind: 'percent', rate: 40_000 } },
  { id: 'all', label: 'Everything else', when: {}, pay: { kind: 'percent', rate: 125_000, least: 20 } },
];
const sound = (world: World): void => expect(verify(world.stores).flatMap(({ wrong }) => wrong)).toEqual([]);
const worldOf = (repeat: (typeof REPEAT_POLICIES)[number] = 'replace'): World =>
  new World({ offer: { ...OFFER, events: [{ event: 'order', repeat, payable: true, byTag: true }] }, rows: ROWS });

/** Where the books are: what stands of each conversion, and what is left of what it earned. */
function end(world: World) {
  const { books } = world.stores;
  const conversions = [...books.conversions.earned(world.programId)].map(({ id }) => {
    const conversion = books.conversions.plain(id);
    const commission = books.commissions.byConversion(id);
    if (!conversion || !commission) throw new Error('It was to be matched.');
    const { figures, completed, day, state, facts, custom, reportedBy } = conversion;
    const left = commission.state === 'rejected' ? 0 : commission.amount - commission.reversed;
    const open = commission.state !== 'rejected' && commission.state !== 'reversed';
    return {
      ...{ figures, completed, day, state, facts, custom, reportedBy, left, fees: commission.fees },
      ...(open && { amount: commission.amount, payableOn: commission.payableOn, of: commission.day }),
    };
  });
  const balances = [world.balance('partner_pending'), world.balance('partner_approved')];
  return { conversions: conversions.map((each) => JSON.stringify(each)).sort(), balances };
}

const money = fc.integer({ min: 1, max: 30_000 }).map((minor) => (minor / 100).toFixed(2));
const items = fc.constantFrom(
  '',
  '[{"sku":"KILN","price":"80.00"},{"sku":"GLAZE","quantity":3,"price":"9.99"}]',
  '[{"sku":"GLAZE","quantity":2,"price":"7.45"}]',
);
const sale = fc.record({ amount: money, items, completed: fc.constantFrom('', '2026-11-28', '2026-12-03') });
const refund = fc.oneof(
  fc.record({ status: fc.constant('reversed'), amount: money }),
  fc.record({ status: fc.constant('reversed'), items: fc.constantFrom('[{"sku":"GLAZE"}]', '[{"sku":"KILN"}]') }),
  fc.record({ status: fc.constant('reversed'), fee: fc.constantFrom('', '15.00') }),
);
const decision = fc.oneof(
  { weight: 3, arbitrary: refund },
  { weight: 1, arbitrary: fc.record({ status: fc.constantFrom('approved', 'rejected') }) },
);
/** A history as the merchant's systems would tell it, each thing with its own time. */
const history = fc
  .tuple(fc.array(sale, { minLength: 1, maxLength: 3 }), fc.array(decision, { maxLength: 3 }), fc.nat())
  .chain(([sales, decisions, turn]) =>
    fc.record({
      told: fc.shuffledSubarray([...sales, ...decisions], { minLength: sales.length + decisions.length }),
      turn: fc.constant(turn),
    }),
  );

describe('what was said of a conversion, in any order and any number of times', () => {
  test.each(['ignore', 'replace', 'add'] as const)('ends in the same books: %s', { timeout: 90_000 }, (policy) => {
    fc.assert(
      fc.property(history, fc.infiniteStream(fc.nat()), ({ told }, chance) => {
        const ends = [0, 1].map((round) => {
          using world = worldOf(policy);
          const click_id = world.click();
          const all = told.map((fields, i) => ({
            ...Object.fromEntries(Object.entries(fields).filter(([, value]) => value !== '')),
            ...{
              event: 'order',
              order: 'A1',
              click_id,
              time: new Date(world.clock + (i + 1) * 3_600_000).toISOString(),
            },
          }));
          const sending =
            round === 0
              ? all
              : [...all, ...all.slice(0, 2)]
                  .map((fields) => ({ fields, at: chance.next().value ?? 0 }))
                  .sort((a, b) => a.at - b.at)
                  .map(({ fields }) => fields);
          world.pass(0.5);
          for (const fields of sending) world.report(fields);
          sound(world);
          const { conversions, balances } = end(world);
          return JSON.stringify({ conversions, balances }).replaceAll(click_id, '');
        });
        expect(ends[1]).toEqual(ends[0]);
      }),
      { numRuns: 30, endOnFailure: true },
    );
  });

  test('counted ones are as many as there were, with retries among them', () => {
    using world = worldOf('count');
    const click_id = world.click();
    const reports = ['10.00', '20.00', '30.00'].map((amount) => ({ event: 'order', order: 'A1', amount, click_id }));
    for (const fields of [...reports, ...reports].reverse()) world.report(fields);
    expect([end(world).conversions.length, world.balance('partner_pending')]).toEqual([3, 125 + 250 + 375]);
    sound(world);
  });
});

describe('refunds', () => {
  const ordered = (world: World): void =>
    void world.report({
      ...{ event: 'order', order: 'A1', click_id: world.click() },
      items: '[{"sku":"KILN","price":"1000.00"},{"sku":"GLAZE","quantity":4,"price":"10.00"}]',
    });

  test('go down to the items: each takes what its own line earned', () => {
    using world = worldOf();
    ordered(world);
    expect(world.balance('partner_pending')).toBe(4000 + 500);
    world.report({ event: 'order', order: 'A1', status: 'reversed', items: '[{"sku":"GLAZE"}]' });
    expect(world.balance('partner_pending')).toBe(4000 + 375);
    world.report({ event: 'order', order: 'A1', status: 'reversed', items: '[{"sku":"KILN"}]' });
    expect(world.balance('partner_pending')).toBe(375);
    world.report({ event: 'order', order: 'A1', status: 'reversed', items: '[{"sku":"GLAZE","quantity":3}]' });
    expect(end(world)).toMatchObject({
      balances: [0, 0],
      conversions: [expect.stringContaining('"state":"reversed"')],
    });
    sound(world);
  });

  test('a chargeback takes its fee from the partner, once', () => {
    using world = worldOf();
    ordered(world);
    const chargeback = { event: 'order', order: 'A1', status: 'reversed', fee: '15.00' };
    for (let i = 0; i < 2; i++) world.report(chargeback);
    expect(end(world).balances).toEqual([0, -1500]);
    expect(world.outcome(world.report({ ...chargeback, status: 'approved' }))?.detail).toContain('status=reversed');
    sound(world);
  });

  test('what was refunded whole stands open again when something sold before it is told late', () => {
    using world = worldOf('add');
    const click_id = world.click();
    const at = (hour: number): string => new Date(world.clock + hour * 3_600_000).toISOString();
    world.report({ event: 'order', order: 'A1', amount: '100.00', click_id, time: at(1) });
    world.report({ event: 'order', order: 'A1', status: 'reversed', amount: '100.00', time: at(3) });
    expect(world.balance('partner_pending')).toBe(0);
    world.report({ event: 'order', order: 'A1', amount: '60.00', click_id, time: at(2) });
    // 160.00 sold, 100.00 refunded: 12.5 % of 160.00 is 20.00, of which 100/160 goes.
    expect([end(world).balances[0], end(world).conversions[0]]).toEqual([750, expect.stringContaining('"pending"')]);
    sound(world);
  });
});
