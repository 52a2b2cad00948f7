import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { OFFER, World } from '../../tests/support/world';
import type { Day } from '@/core/time/days';
import { runCommissionTimetable } from './commissions';
import { listConversions } from './conversions';
import { putExchangeRate } from './terms';
import { verify } from './verify';

const ALL = { from: '2000-01-01' as Day, to: '2999-12-31' as Day, partnerId: null, channelId: null, offerId: null };
const ORDER = { event: 'order', order: 'A1', amount: '121.00', tax: '21.00' };
const sound = (world: World): void => expect(verify(world.stores).flatMap(({ wrong }) => wrong)).toEqual([]);

describe('a postback becomes money', () => {
  test('a matched order earns by the sheet, payable after its hold', () => {
    using world = new World();
    const receipt = world.report({ ...ORDER, click_id: world.click() });
    expect(world.outcome(receipt)).toMatchObject({ outcome: 'recorded' });
    expect(world.balance('partner_pending')).toBe(1000);
    const commission = world.stores.books.commissions.byConversion(world.outcome(receipt)?.conversionId ?? 0);
    expect(commission).toMatchObject({ amount: 1000, state: 'pending', day: '2026-11-24', payableOn: '2026-12-08' });
    sound(world);
  });

  test('retries in any number and at any place change nothing', () => {
    using world = new World();
    const reports: Record<string, string>[] = [
      { ...ORDER, click_id: world.click() },
      { event: 'renewal', order: 'A1-2', amount: '50.00', click_id: world.click() },
      { event: 'order', order: 'A1', status: 'reversed', amount: '60.50' },
      { event: 'order', order: 'A1', amount: '242.00', tax: '42.00' },
    ];
    for (const fields of reports) world.report(fields);
    const before = world.balance('partner_pending');
    fc.assert(
      fc.property(fc.array(fc.constantFrom(...reports), { minLength: 1, maxLength: 12 }), (again) => {
        for (const fields of again) expect(world.outcome(world.report(fields))?.outcome).toBe('retry');
        expect(world.balance('partner_pending')).toBe(before);
      }),
      { numRuns: 20 },
    );
    sound(world);
  });

  test('a status that comes first waits, and ends where it would have ended coming last', () => {
    const end = (early: boolean): number => {
      using world = new World();
      const click = world.click();
      const refund = { event: 'order', order: 'A1', status: 'reversed', amount: '60.50' };
      if (early) expect(world.outcome(world.report(refund))?.outcome).toBe('waiting');
      world.report({ ...ORDER, click_id: click });
      if (!early) world.report(refund);
      sound(world);
      return world.balance('partner_pending');
    };
    expect(end(true)).toBe(500);
    expect(end(false)).toBe(500);
  });

  test.each([
    ['order', 2, 2000],
    ['renewal', 1, 3000],
    ['sign-up', 1, 3000],
    ['lead', 1, 0],
  ])('repeats of %s follow its policy', (event, _, expected) => {
    using world = new World();
    const click_id = world.click();
    world.report({ event, order: 'R', amount: '100.00', click_id });
    // Of two reports of one instant it is chance which is the later.
    world.clock += 1000;
    world.report({ event, order: 'R', amount: '200.00', click_id });
    expect(world.balance('partner_pending')).toBe(expected);
    sound(world);
  });

  test('what cannot be matched is kept with its reason and earns nothing', () => {
    using world = new World();
    const old = world.click();
    const bot = world.click(world.link, { agent: 'linkchecker/10.2' });
    world.pass(31);
    const click = world.click();
    const reason = (fields: Record<string, string>): string | undefined => world.outcome(world.report(fields))?.detail;
    expect(reason({ ...ORDER, order: '1', click_id: old })).toBe('outside_window');
    expect(reason({ ...ORDER, order: '2', click_id: bot })).toBe('set_aside_click');
    expect(reason({ ...ORDER, order: '3', click_id: '01KB0000000000000000000000' })).toBe('unknown_click');
    expect(reason({ event: 'booking', order: '4', amount: '1', click_id: click })).toBe('offer_mismatch');
    expect(world.balance('partner_pending')).toBe(0);
  });

  test('an order in another currency waits for its rate and is booked when the rate arrives', () => {
    using world = new World();
    world.report({ event: 'order', order: 'N', amount: '1000', currency: 'JPY', click_id: world.click() });
    expect(world.balance('partner_pending')).toBe(0);
    putExchangeRate(world.stores, world.owner, { from: 'JPY', to: 'EUR', day: '2026-11-20', rate: '0.006134' });
    runCommissionTimetable(world.stores, world.programId);
    expect(world.balance('partner_pending')).toBe(61);
    sound(world);
  });

  describe('reported by a page', () => {
    const world = (byTag = true): World =>
      new World({ offer: { ...OFFER, events: OFFER.events.map((event) => ({ ...event, byTag })) } });

    test('counts like any other, unless the offer does not listen to pages', () => {
      using listening = world();
      listening.report({ ...ORDER, click_id: listening.click() }, true, 'tag');
      expect(listening.balance('partner_pending')).toBe(1000);
      sound(listening);
      using deaf = world(false);
      const receipt = deaf.report({ ...ORDER, click_id: deaf.click() }, true, 'tag');
      expect(deaf.outcome(receipt)).toMatchObject({ outcome: 'refused', detail: expect.stringContaining('by tag') });
      expect(deaf.balance('partner_pending')).toBe(0);
    });

    test('gives way to the server’s own report, in whatever order and number they come', { timeout: 20_000 }, () => {
      const events = fc.constantFrom('order', 'renewal', 'lead');
      const arrivals = fc.array(fc.constantFrom<('server' | 'tag' | 'pixel')[]>('server', 'tag', 'pixel'), {
        minLength: 1,
        maxLength: 6,
      });
      fc.assert(
        fc.property(events, arrivals, (event, vias) => {
          using listening = world();
          const click_id = listening.click();
          const amounts = { server: '200.00', tag: '50.00', pixel: '50.00' };
          for (const via of vias) listening.report({ event, order: 'T', amount: amounts[via], click_id }, true, via);
          const [conversion] = listConversions(listening.stores, listening.owner, ALL, 'all', {
            limit: 9,
            offset: 0,
          }).rows;
          const byServer = vias.includes('server');
          const pages = new Set(vias).size;
          // A page's second kind of report repeats the first by the event's own policy.
          const paged = event === 'renewal' && pages === 2 ? 10_000 : 5000;
          expect([conversion?.reportedBy === 'server', conversion?.amount]).toEqual([
            byServer,
            byServer ? 20_000 : paged,
          ]);
          sound(listening);
        }),
        { numRuns: 40 },
      );
    });
  });

  test('marginal bands count the bookings of the partner’s month', () => {
    const bands = [
      { upTo: 20, rate: 120_000 },
      { upTo: null, rate: 150_000 },
    ];
    using world = new World({
      rows: [{ id: 'c', label: 'Classes', when: {}, pay: { kind: 'bands', by: 'count', bands } }],
    });
    for (let i = 1; i <= 21; i++)
      world.report({ event: 'order', order: `B${i}`, amount: '80.00', click_id: world.click() });
    expect(world.balance('partner_pending')).toBe(20 * 960 + 1200);
    sound(world);
  });

  test('a crash in the middle of a batch loses nothing and doubles nothing', () => {
    using world = new World();
    for (let i = 0; i < 4; i++)
      world.report({ event: 'order', order: `C${i}`, amount: '100.00', click_id: world.click() }, false);
    const { conversions, positions } = world.stores.books;
    const { insertOutcome } = conversions;
    let calls = 0;
    conversions.insertOutcome = (row) => {
      if (++calls === 3) throw new Error('pulled the plug');
      insertOutcome(row);
    };
    expect(() => world.work()).toThrow('pulled the plug');
    expect([positions.get('postbacks'), world.balance('partner_pending')]).toEqual([0, 0]);
    conversions.insertOutcome = insertOutcome;
    world.work();
    expect([positions.get('postbacks'), world.balance('partner_pending')]).toEqual([4, 4000]);
    sound(world);
  });
});
