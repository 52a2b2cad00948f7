import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { OFFER, World } from '../../tests/support/world';
import { type VisitorClick, creditedClick } from '@/core/attribution/match';
import { DAY_MS } from '@/core/time/days';
import { matchLate } from './matching';
import { verify } from './verify';

const VISITOR = '01KB7Y0000000000000000000V';
const sound = (world: World): void => expect(verify(world.stores).flatMap(({ wrong }) => wrong)).toEqual([]);
/** A click that the page tag saw of the visitor. */
function seen(world: World, link = world.link, client = '192.0.2.7'): string {
  const clickId = world.click(link, { client });
  world.traffic.insertVisit({ visitor: VISITOR, clickId, time: world.clock });
  return clickId;
}
const order = (world: World, name: string, more: Record<string, string> = {}) => {
  const receipt = world.report({ event: 'order', order: name, amount: '100.00', visitor: VISITOR, ...more });
  const { conversionId } = world.outcome(receipt) ?? {};
  return world.stores.books.conversions.byId(conversionId ?? 0);
};

describe('a conversion that names only a visitor', () => {
  test.each(['last', 'first'] as const)('is credited to the %s click within the window', (creditedClick) => {
    using world = new World({ offer: { ...OFFER, creditedClick } });
    const other = world.newLink('CLAYCAST');
    seen(world);
    world.pass(31);
    const clicks = [seen(world), seen(world, other), seen(world)];
    world.clock += 60_000;
    // The very first is too old by now.
    expect(order(world, '1')).toMatchObject({
      ...{ matchedBy: 'visitor', clickId: creditedClick === 'last' ? clicks[2] : clicks[0], partnerName: 'SLOWWHEEL' },
    });
    // Without an order it is the same conversion as long as the same click is credited.
    const lead = { event: 'lead', visitor: VISITOR };
    world.report(lead);
    world.clock += 1000;
    expect(world.outcome(world.report({ ...lead, x_page: 'b' }))?.outcome).toBe('ignored');
    sound(world);
  });

  test('waits while no click of it is known; a click that is named, and a coupon, go before', () => {
    using world = new World();
    const other = world.newLink('CLAYCAST');
    expect(order(world, '1')).toMatchObject({ unmatched: 'unknown_click', visitor: VISITOR });
    expect(matchLate(world.stores, world.programId)).toBe(0);
    seen(world);
    // The page told of it a little later than the server of the sale.
    expect(matchLate(world.stores, world.programId)).toBe(1);
    expect(world.balance('partner_pending')).toBe(1000);
    const named = world.click(other, { client: '192.0.2.9' });
    expect(order(world, '2', { click_id: named })).toMatchObject({ matchedBy: 'click', partnerName: 'CLAYCAST' });
    expect(order(world, '3', { click_id: 'of-another-kind' })).toMatchObject({
      ...{ matchedBy: 'visitor', partnerName: 'SLOWWHEEL' },
    });
    const bot = world.click(world.link, { agent: 'linkchecker/10.2' });
    world.traffic.insertVisit({ visitor: 'V2', clickId: bot, time: world.clock });
    expect(order(world, '4', { visitor: 'V2' })).toMatchObject({ unmatched: 'set_aside_click' });
    sound(world);
  });

  test('is matched once an earlier report moves it to where its click counts', () => {
    using world = new World();
    const click_id = world.click();
    const iso = (days: number): string => new Date(world.clock + days * DAY_MS).toISOString();
    const late = { event: 'order', order: 'L', amount: '10.00', click_id, time: iso(40) };
    const receipt = world.report(late);
    const id = world.outcome(receipt)?.conversionId ?? 0;
    expect(world.stores.books.conversions.byId(id)?.unmatched).toBe('outside_window');
    world.report({ ...late, time: iso(3), amount: '10.00' });
    expect(world.stores.books.conversions.byId(id)).toMatchObject({ unmatched: null, matchedBy: 'click' });
    expect(world.balance('partner_pending')).toBe(100);
    sound(world);
  });
});

test('the credited click is always one that could be matched by itself, of the offer of the last such click', () => {
  const click = fc.record({
    ...{ time: fc.integer({ min: 0, max: 60 * DAY_MS }), offerId: fc.constantFrom(1, 2), setAside: fc.boolean() },
    ...{ partnerClosed: fc.constant(false), offerHasEvent: fc.boolean(), clickWindowDays: fc.constantFrom(7, 30) },
    ...{ couponFirst: fc.constant(false), credits: fc.constantFrom('last', 'first') },
  }) as fc.Arbitrary<VisitorClick>;
  fc.assert(
    fc.property(fc.array(click, { maxLength: 8 }), fc.integer({ min: 0, max: 90 * DAY_MS }), (unsorted, time) => {
      const clicks = [...unsorted].sort((a, b) => a.time - b.time);
      const alone = clicks.map((each) => !('reason' in creditedClick([each], time)));
      const found = creditedClick(clicks, time);
      expect('place' in found).toBe(alone.includes(true));
      if ('reason' in found) return;
      const last = clicks[alone.lastIndexOf(true)];
      const credited = clicks[found.place];
      expect([alone[found.place], credited?.offerId]).toEqual([true, last?.offerId]);
      const same = clicks.filter((each, i) => alone[i] && each.offerId === last?.offerId);
      expect(credited).toBe(last?.credits === 'last' ? same.at(-1) : same[0]);
    }),
  );
});
