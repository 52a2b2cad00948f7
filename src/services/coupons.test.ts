import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { OFFER, World } from '../../tests/support/world';
import { attribute } from '@/core/attribution/match';
import type { Day } from '@/core/time/days';
import { listConversions } from './conversions';
import { createCoupon, listCoupons, setCouponDates } from './coupons';
import { readOffer, updateOffer } from './offers';
import { verify } from './verify';

const ALL = { from: '2000-01-01' as Day, to: '2999-12-31' as Day, partnerId: null, channelId: null, offerId: null };
const sound = (world: World): void => expect(verify(world.stores).flatMap(({ wrong }) => wrong)).toEqual([]);
const coupon = (world: World, code: string, link = world.link, dates: object = {}) =>
  createCoupon(world.stores, world.owner, {
    ...{ code, partnerId: link.partnerId, channelId: link.channelId, offerId: link.offerId, ...dates },
  });
const conversions = (world: World) =>
  listConversions(world.stores, world.owner, ALL, 'all', { limit: 50, offset: 0 }).rows;

describe('a coupon', () => {
  test('gives a conversion without a click its partner, whatever the capitals', () => {
    using world = new World();
    coupon(world, 'Claycast-10');
    const receipt = world.report({ event: 'order', order: 'C1', amount: '100.00', code: 'CLAYCAST-10' });
    expect(world.outcome(receipt)?.outcome).toBe('recorded');
    expect(conversions(world)[0]).toMatchObject({
      matchedBy: 'coupon',
      partnerName: 'SLOWWHEEL',
      clickId: null,
      linkId: null,
    });
    expect(world.balance('partner_pending')).toBe(1000);
    expect(listCoupons(world.stores, world.owner, { limit: 5, offset: 0 }).rows[0]).toMatchObject({ conversions: 1 });
    // The same order again is the same conversion, by its order alone too.
    world.report({ event: 'order', order: 'C1', status: 'reversed' });
    expect(world.balance('partner_pending')).toBe(0);
    sound(world);
  });

  test('yields to the click, unless the offer puts it first', () => {
    for (const couponFirst of [false, true]) {
      using world = new World({ offer: { ...OFFER, couponFirst } });
      const other = world.newLink('CLAYCAST');
      coupon(world, 'CLAY', other);
      world.report({ event: 'order', order: '1', amount: '100.00', code: 'CLAY', click_id: world.click() });
      // A click that cannot count leaves the sale to the coupon.
      const bot = world.click(world.link, { agent: 'linkchecker/10.2' });
      world.report({ event: 'order', order: '2', amount: '100.00', code: 'CLAY', click_id: bot });
      const owners = conversions(world).map(({ orderRef, partnerName }) => [orderRef, partnerName]);
      expect(owners).toContainEqual(['1', couponFirst ? 'CLAYCAST' : 'SLOWWHEEL']);
      expect(owners).toContainEqual(['2', 'CLAYCAST']);
      sound(world);
    }
  });

  test('that is added, or whose days are widened, finds what waited for it; a code stands for one partner', () => {
    using world = new World();
    for (const order of ['1', '2']) world.report({ event: 'order', order, amount: '50.00', code: 'SPRING' });
    world.report({ event: 'order', order: '3', amount: '50.00', code: 'OTHER' });
    expect(conversions(world).map(({ unmatched }) => unmatched)).toEqual(Array(3).fill('unknown_coupon'));
    const { coupon: made, matched } = coupon(world, 'spring', world.link, { endsOn: '2026-11-01' });
    expect([matched, world.balance('partner_pending')]).toEqual([0, 0]);
    expect(setCouponDates(world.stores, world.owner, made.id, { startsOn: '', endsOn: '2026-11-24' }).matched).toBe(2);
    expect(world.balance('partner_pending')).toBe(1000);
    expect(setCouponDates(world.stores, world.owner, made.id, { startsOn: '', endsOn: '' }).matched).toBe(0);
    expect(() => coupon(world, 'SPRING', world.newLink('CLAYCAST'))).toThrow('stands for one partner');
    // A repeat after the repair means the same conversion.
    world.report({ event: 'order', order: '1', amount: '80.00', code: 'SPRING' });
    expect([conversions(world).length, world.balance('partner_pending')]).toEqual([3, 1300]);
    sound(world);
  });

  test('events and days that an offer lacked are made up for when it has them', () => {
    using world = new World();
    const click_id = world.click();
    world.report({ event: 'booking', order: 'B', amount: '10.00', click_id });
    world.pass(40);
    world.report({ event: 'order', order: 'L', amount: '10.00', click_id });
    expect(conversions(world).map(({ unmatched }) => unmatched)).toEqual(['outside_window', 'offer_mismatch']);
    const { id, programId: _, ...offer } = readOffer(world.stores, world.owner, world.link.offerId);
    const events = [...offer.events, { event: 'booking', repeat: 'ignore' as const, payable: true }];
    updateOffer(world.stores, world.owner, id, { ...offer, events, clickWindowDays: 60 });
    expect(conversions(world).map(({ unmatched, matchedBy }) => [unmatched, matchedBy])).toEqual([
      [null, 'click'],
      [null, 'click'],
    ]);
    expect(world.balance('partner_pending')).toBe(200);
    sound(world);
  });
});

test('whatever click and coupon say, a match is one of them and a reason is of what was asked', () => {
  const facts = { partnerClosed: fc.boolean(), offerHasEvent: fc.boolean(), couponFirst: fc.boolean() };
  const click = fc.record({ ...facts, time: fc.integer({ min: -40, max: 2 }), setAside: fc.boolean() });
  const named = fc.record(
    {
      click: fc.record({ facts: fc.option(click, { nil: undefined }) }),
      coupon: fc.record({ facts: fc.option(fc.record(facts), { nil: undefined }) }),
    },
    { requiredKeys: [] },
  );
  fc.assert(
    fc.property(named, ({ click: by, coupon: code }) => {
      const day = 86_400_000;
      const match = attribute(
        {
          ...(by && { click: { facts: by.facts && { ...by.facts, time: by.facts.time * day, clickWindowDays: 30 } } }),
          ...(code && { coupon: { facts: code.facts && { ...code.facts, startsOn: '', endsOn: '' } } }),
        },
        0,
        '2026-11-24',
      );
      const goodClick =
        by?.facts &&
        !by.facts.setAside &&
        !by.facts.partnerClosed &&
        by.facts.offerHasEvent &&
        by.facts.time <= 0 &&
        by.facts.time >= -30;
      const goodCoupon = code?.facts && !code.facts.partnerClosed && code.facts.offerHasEvent;
      if ('by' in match) expect(match.by === 'click' ? goodClick : goodCoupon).toBe(true);
      else expect([goodClick, goodCoupon]).not.toContain(true);
    }),
  );
});
