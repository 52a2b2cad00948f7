import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { check } from '../schema/problems';
import { DAY_MS } from '../time/calendar';
import { type UnmatchedFacts, causeOf } from './cause';
import { couponSchema } from './coupon';
import {
  type ClickFacts,
  type CouponFacts,
  type Named,
  type VisitorClick,
  CREDITED_CLICKS,
  UNMATCHED_REASONS,
  attribute,
  creditedClick,
  matchByClick,
  matchByCoupon,
} from './match';

const EVENT = Date.parse('2026-11-24T12:00:00Z');
const DAY = '2026-11-24';
const MINUTE_MS = 60_000;
const good: ClickFacts = {
  ...{ time: EVENT - DAY_MS, partnerClosed: false, setAside: false, offerHasEvent: true },
  ...{ clickWindowDays: 30, couponFirst: false },
};
const coupon: CouponFacts = {
  ...{ startsOn: '', endsOn: '', partnerClosed: false, offerHasEvent: true, couponFirst: false },
};

const clicks: fc.Arbitrary<ClickFacts> = fc.record({
  time: fc.integer({ min: -100, max: 2 }).map((days) => EVENT + days * DAY_MS),
  ...{ partnerClosed: fc.boolean(), setAside: fc.boolean(), offerHasEvent: fc.boolean(), couponFirst: fc.boolean() },
  clickWindowDays: fc.constantFrom(1, 7, 30, 365),
});

describe('by the click', () => {
  test('the window is counted from the click, to the millisecond, and clocks may differ by five minutes', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 365 }), fc.integer({ min: -10, max: 10 }), (clickWindowDays, off) => {
        const at = (time: number) => matchByClick({ ...good, clickWindowDays, time }, EVENT);
        const oldest = EVENT - clickWindowDays * DAY_MS;
        expect(at(oldest + off)).toBe(off < 0 ? 'outside_window' : undefined);
        expect(at(EVENT + 5 * MINUTE_MS + off)).toBe(off > 0 ? 'outside_window' : undefined);
      }),
    );
  });

  test('it belongs to a click that is in every way in order, and to no other', () => {
    fc.assert(
      fc.property(clicks, (click) => {
        const age = EVENT - click.time;
        const inOrder = !click.setAside && !click.partnerClosed && click.offerHasEvent;
        const inTime = age >= -5 * MINUTE_MS && age <= click.clickWindowDays * DAY_MS;
        expect(matchByClick(click, EVENT) === undefined).toBe(inOrder && inTime);
      }),
    );
    expect(matchByClick(undefined, EVENT)).toBe('unknown_click');
    // What was set aside says so, whatever else is wrong with it.
    expect(matchByClick({ ...good, setAside: true, partnerClosed: true }, EVENT)).toBe('set_aside_click');
  });
});

describe('by the coupon', () => {
  const days = fc.constantFrom('', '2026-11-01', '2026-11-23', DAY, '2026-11-25', '2026-12-31');

  test('both its days belong to it, and an empty one is no limit', () => {
    fc.assert(
      fc.property(days, days, (startsOn, endsOn) => {
        const inForce = (startsOn === '' || startsOn <= DAY) && (endsOn === '' || endsOn >= DAY);
        expect(matchByCoupon({ ...coupon, startsOn, endsOn }, DAY)).toBe(inForce ? undefined : 'unknown_coupon');
      }),
    );
    expect(matchByCoupon(undefined, DAY)).toBe('unknown_coupon');
    expect(matchByCoupon({ ...coupon, partnerClosed: true }, DAY)).toBe('partner_closed');
    expect(matchByCoupon({ ...coupon, offerHasEvent: false }, DAY)).toBe('offer_mismatch');
  });

  test('a code is typed as customers do, and its days are in order', () => {
    const fields = { code: ' GLAZE-10 ', partnerId: 1, channelId: 2, offerId: 3, startsOn: DAY };
    expect(check(couponSchema, fields)).toMatchObject({ ok: true, value: { code: 'GLAZE-10', endsOn: '' } });
    const reasons = (more: object): string[] => {
      const checked = check(couponSchema, { ...fields, ...more });
      return checked.ok ? [] : checked.problems.map(({ reason }) => reason);
    };
    expect(reasons({ endsOn: DAY })).toEqual([]);
    expect(reasons({ endsOn: '2026-11-23' })).toEqual(['The last day, 2026-11-23, lies before the first.']);
    for (const code of ['x', '-ab', 'a b', `a${'b'.repeat(40)}`]) expect(reasons({ code })).toHaveLength(1);
  });
});

describe('by the visitor', () => {
  const seen: fc.Arbitrary<VisitorClick> = fc
    .tuple(clicks, fc.integer({ min: 1, max: 3 }))
    // Which of the clicks is credited is the offer's to say.
    .map(([click, offerId]) => ({ ...click, offerId, credits: CREDITED_CLICKS[offerId % 2] ?? 'last' }));

  test('the last click that fits says the offer, and the offer which of its clicks is credited', () => {
    fc.assert(
      fc.property(fc.array(seen, { maxLength: 12 }), (drawn) => {
        const all = drawn.toSorted((a, b) => a.time - b.time);
        const fitting = all.filter((click) => matchByClick(click, EVENT) === undefined);
        const found = creditedClick(all, EVENT);
        const last = fitting.at(-1);
        if (!last) {
          const newest = all.at(-1);
          expect(found).toEqual({ reason: newest ? matchByClick(newest, EVENT) : 'unknown_click' });
          return;
        }
        const first = fitting.find(({ offerId }) => offerId === last.offerId);
        expect('place' in found && all[found.place]).toBe(last.credits === 'last' ? last : first);
      }),
    );
  });

  test('clicks that do not fit change nothing', () => {
    fc.assert(
      fc.property(fc.array(seen, { maxLength: 8 }), seen, fc.nat(8), (all, other, where) => {
        fc.pre(all.some((click) => matchByClick(click, EVENT) === undefined));
        const credited = (among: readonly VisitorClick[]) => {
          const found = creditedClick(among, EVENT);
          return 'place' in found ? among[found.place] : undefined;
        };
        expect(credited(all.toSpliced(where, 0, { ...other, setAside: true }))).toBe(credited(all));
      }),
    );
  });
});

describe('by what it names', () => {
  const named: fc.Arbitrary<Named> = fc.record(
    {
      call: fc.record({ partnerClosed: fc.boolean() }),
      click: fc.record({ facts: fc.option(clicks, { nil: undefined }) }),
      coupon: fc.record({
        facts: fc.option(
          fc.record({ partnerClosed: fc.boolean(), offerHasEvent: fc.boolean(), couponFirst: fc.boolean() }),
          { nil: undefined },
        ),
      }),
      visitor: fc.record({ reason: fc.constantFrom(undefined, ...UNMATCHED_REASONS) }),
    },
    { requiredKeys: [] },
  ) as fc.Arbitrary<Named>;
  const full = ({ coupon: code, ...others }: Named): Named =>
    code ? { ...others, coupon: { facts: code.facts && { ...coupon, ...code.facts } } } : others;

  test('call, click, coupon, visitor in this order; an offer may put its coupon before the click', () => {
    fc.assert(
      fc.property(named.map(full), (names) => {
        const { call, click, coupon: code, visitor } = names;
        const byClick = click && (['click', matchByClick(click.facts, EVENT)] as const);
        const byCoupon = code && (['coupon', matchByCoupon(code.facts, DAY)] as const);
        const couponFirst = code?.facts ? code.facts.couponFirst : click?.facts?.couponFirst;
        const order = [
          call && (['call', call.partnerClosed ? 'partner_closed' : undefined] as const),
          ...(couponFirst ? [byCoupon, byClick] : [byClick, byCoupon]),
          visitor && (['visitor', visitor.reason] as const),
        ].filter((each) => each !== undefined);
        const fits = order.find(([, reason]) => reason === undefined);
        expect(attribute(names, EVENT, DAY)).toEqual(
          fits ? { by: fits[0] } : { reason: order[0]?.[1] ?? 'unknown_click' },
        );
      }),
    );
  });
});

describe('why it found no partner', () => {
  const facts: UnmatchedFacts = {
    ...{ reason: 'unknown_click', event: 'order', time: EVENT, clickId: null, coupon: null, visitor: null },
    offer: { id: 2, name: 'Glaze box', clickWindowDays: 30 },
    partner: 'Kiln Notes',
  };
  const cause = (more: Partial<UnmatchedFacts>) => causeOf({ ...facts, ...more });

  test('a click ID tells by its looks what went wrong', () => {
    const keys = [null, '{click_id}', '%%CID%%', 'abc-123', '01KB0000000000000000000000'].map(
      (clickId) => cause({ clickId }).key,
    );
    expect(keys).toEqual(['nameless', 'unfilled', 'unfilled', 'foreign', 'unknown']);
    expect(cause({ visitor: 'v1' }).key).toBe('visitor');
  });

  test('a window that is proposed is the shortest of the usual ones that would have held', () => {
    fc.assert(
      fc.property(fc.integer({ min: 31 * DAY_MS, max: 500 * DAY_MS }), (age) => {
        const { key, fix } = cause({ reason: 'outside_window', click: { time: EVENT - age, setAside: null } });
        if (age > 365 * DAY_MS) {
          expect([key, fix]).toEqual(['window-2-older', undefined]);
          return;
        }
        const days = fix?.kind === 'window' ? fix.days : 0;
        const held = (clickWindowDays: number) =>
          matchByClick({ ...good, time: EVENT - age, clickWindowDays }, EVENT) === undefined;
        expect([held(days), held(Math.ceil(age / DAY_MS) - 1)]).toEqual([true, false]);
        expect(days / (age / DAY_MS)).toBeLessThan(365 / 180);
      }),
    );
    expect(cause({ reason: 'outside_window', click: { time: EVENT + DAY_MS, setAside: null } }).fix).toBeUndefined();
  });

  test('the same cause has one key, whoever wrote the code, and says what would mend it', () => {
    const codes = ['GLAZE10', 'glaze10'].map((code) => cause({ reason: 'unknown_coupon', coupon: code }));
    expect(new Set(codes.map(({ key }) => key)).size).toBe(1);
    expect(codes[0]?.fix).toEqual({ kind: 'coupon', code: 'GLAZE10' });
    expect(cause({ reason: 'offer_mismatch' }).fix).toMatchObject({ kind: 'event', offerId: 2, event: 'order' });
    expect(cause({ reason: 'partner_closed' }).words).toContain('Kiln Notes');
    expect(cause({ reason: 'set_aside_click', click: { time: EVENT, setAside: 'bot' } }).key).toBe('aside-bot');
  });
});
