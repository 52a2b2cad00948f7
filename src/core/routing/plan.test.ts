import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { check } from '../schema/problems';
import { wallClock } from '../time/zones';
import { reachedCap, usedOf } from './caps';
import { type LinkFacts, type Visitor, firstFailed, holds, withinHours } from './conditions';
import { type Condition, type Destination, EMPTY_PLAN, type RoutingPlan, planSchema } from './plan';
import { type RouteSettings, chooseDestination, compileRoute } from './route';
import { shiftedWeights } from './shift';
import { judge } from './verdict';
import { bucketOf, deal, prepareDeal } from './weights';
import type { Day } from '../time/calendar';

const ZONE = 'Europe/Amsterdam';
const LINK: LinkFacts = { partner: '1', channel: '7', source: '' };
const visitor = (
  more: Partial<Record<'country' | 'device' | 'os' | 'language', string>> = {},
  bucket = 0,
): Visitor => ({
  bucket,
  country: () => more.country ?? 'BE',
  device: () => more.device ?? 'phone',
  os: () => more.os ?? 'Android',
  language: () => more.language ?? 'nl',
});
const on = (page: string, weight = 1): Destination => ({ page, weight, on: true });
const at = (time: string) => () => wallClock(Date.parse(time), ZONE);

/** Visitor IDs as the edge draws them, the same in every run. */
function visitors(count: number): string[] {
  let state = 20261124;
  const word = (): string => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
    return (Math.imul(state ^ (state >>> 15), 0x2c1b3c6d) >>> 0).toString(16).padStart(8, '0');
  };
  return Array.from({ length: count }, () => word() + word() + word() + word());
}

describe('dealing visitors out', () => {
  const names = ['a', 'b', 'c', 'd', 'e'];
  const dealt = (weights: readonly number[], rule = 'r1', round = 1, off: readonly string[] = []) =>
    prepareDeal(
      weights.map((weight, i) => ({ page: names[i] ?? '', weight, on: !off.includes(names[i] ?? '') })),
      rule,
      round,
      (page) => page,
    );

  test('100,000 visitors come out by the weights, within chance (chi-squared, 0.1 %)', () => {
    const ids = visitors(100_000);
    // Upper 0.1 % points of the chi-squared distribution for 1 to 4 degrees of freedom.
    const critical = [0, 10.83, 13.82, 16.27, 18.47];
    for (const weights of [
      [1, 1],
      [9, 1],
      [5, 3, 2],
      [1, 1, 1, 1],
      [70, 15, 10, 4, 1],
    ])
      for (const rule of ['r1', 'r2', 'default']) {
        const among = dealt(weights, rule);
        const counts = new Map<string, number>();
        for (const id of ids) {
          const page = deal(among, bucketOf(id)) ?? '';
          counts.set(page, (counts.get(page) ?? 0) + 1);
        }
        const sum = weights.reduce((all, each) => all + each, 0);
        const chi = weights.reduce((all, weight, i) => {
          const expected = (ids.length * weight) / sum;
          return all + ((counts.get(names[i] ?? '') ?? 0) - expected) ** 2 / expected;
        }, 0);
        expect(chi, `${rule} ${weights.join(':')}`).toBeLessThan(critical[weights.length - 1] ?? 0);
      }
  });

  test('two rules deal independently of each other, and a new round deals anew', () => {
    const ids = visitors(20_000).map(bucketOf);
    for (const other of [dealt([1, 1], 'r2'), dealt([1, 1], 'r1', 2)]) {
      const same = ids.filter((id) => deal(dealt([1, 1]), id) === deal(other, id)).length;
      expect(Math.abs(same - 10_000)).toBeLessThan(3.3 * Math.sqrt(5000));
    }
  });

  test('the same visitor always gets the same place; one switched off moves only its own visitors', () => {
    const weights = fc.array(fc.integer({ min: 1, max: 100 }), { minLength: 2, maxLength: 5 });
    fc.assert(
      fc.property(
        weights,
        fc.nat({ max: 4 }),
        fc.array(fc.nat({ max: 0xffffffff }), { maxLength: 50 }),
        (all, i, ids) => {
          const gone = names[i % all.length] ?? '';
          for (const id of ids) {
            const before = deal(dealt(all), id);
            expect(deal(dealt(all), id)).toBe(before);
            const after = deal(dealt(all, 'r1', 1, [gone]), id);
            if (before !== gone) expect(after).toBe(before);
            else expect(after).not.toBe(gone);
          }
        },
      ),
    );
  });

  test('a weight that grows takes visitors to itself and moves nobody between the others', () => {
    const ids = visitors(5000).map(bucketOf);
    for (const id of ids) {
      const [before, after] = [deal(dealt([3, 3, 3]), id), deal(dealt([3, 6, 3]), id)];
      if (before !== after) expect(after).toBe('b');
    }
  });
});

describe('conditions', () => {
  test('hours run to before the last minute, and over midnight', () => {
    expect([21 * 60 + 59, 22 * 60, 0, 359, 360].map((minute) => withinHours(minute, '22:00', '06:00'))).toEqual([
      false,
      true,
      true,
      true,
      false,
    ]);
    expect([539, 540, 1019, 1020].map((minute) => withinHours(minute, '09:00', '17:00'))).toEqual([
      false,
      true,
      true,
      false,
    ]);
  });

  test('are read by the wall clock of the program on days of 23 and 25 hours', () => {
    const night: Condition = { field: 'hours', from: '02:00', to: '03:00' };
    const spring = Array.from({ length: 23 }, (_, i) => Date.parse('2026-03-28T23:30:00Z') + i * 3_600_000);
    const autumn = Array.from({ length: 25 }, (_, i) => Date.parse('2026-10-24T22:30:00Z') + i * 3_600_000);
    const hits = (times: number[], condition: Condition): number =>
      times.filter((time) => holds(condition, LINK, visitor(), () => wallClock(time, ZONE))).length;
    // The hour from 2 to 3 is missing in spring and comes twice in autumn.
    expect([hits(spring, night), hits(autumn, night)]).toEqual([0, 2]);
    const sunday: Condition = { field: 'weekday', is: true, values: ['7'] };
    expect([hits(spring, sunday), hits(autumn, sunday)]).toEqual([23, 25]);
    const day: Condition = { field: 'dates', from: '2026-03-29', to: '2026-03-29' };
    expect(hits(spring, day)).toBe(23);
  });

  test('all of a rule must hold; the first that fails is named', () => {
    const when: Condition[] = [
      { field: 'country', is: true, values: ['BE', 'NL'] },
      { field: 'device', is: false, values: ['desktop'] },
      { field: 'hours', from: '20:00', to: '23:00' },
    ];
    const failed = (who: Visitor, time: string) => firstFailed({ when }, LINK, who, at(time))?.field;
    expect(failed(visitor(), '2026-11-24T21:00:00Z')).toBeUndefined();
    expect(failed(visitor({ country: '' }), '2026-11-24T21:00:00Z')).toBe('country');
    expect(failed(visitor({ device: 'desktop' }), '2026-11-24T21:00:00Z')).toBe('device');
    expect(failed(visitor(), '2026-11-24T12:00:00Z')).toBe('hours');
  });
});

describe('a plan', () => {
  const PAGES = ['Main', 'Gift', 'Belgium'].map((name) => ({ name, address: `https://larkmoor.example/${name}` }));
  const settings = (
    plan: Partial<RoutingPlan>,
    more: Partial<RouteSettings> = {},
    namesPage = false,
  ): RouteSettings => ({
    ...{ linkLive: true, partnerLive: true, offerLive: true, landingPage: 'https://larkmoor.example/Main' },
    ...{ landingHosts: ['larkmoor.example'], trackingOrigins: [], appended: 'bclid={click_id}' },
    fallback: 'https://larkmoor.example/gone',
    routing: { plan: { ...EMPTY_PLAN, ...plan }, pages: PAGES, link: LINK, timeZone: ZONE, namesPage },
    ...more,
  });
  const choose = (
    of: RouteSettings,
    who: Visitor | undefined = visitor(),
    more: { to?: string; capped?: boolean } = {},
  ) => {
    const now = Date.parse('2026-11-24T21:00:00Z');
    return chooseDestination(compileRoute(of), { values: { click_id: 'ID' }, now, visitor: who, ...more });
  };
  const belgium = (more: object = {}): RoutingPlan['rules'][number] => ({
    ...{ id: 'r1', name: '', on: true, overOwn: false, mix: { to: [on('Belgium')], round: 1 } },
    when: [{ field: 'country', is: true, values: ['BE'] }],
    ...more,
  });

  test('the first rule that holds takes the visitor, in order; off or pageless ones take nobody', () => {
    const gift = belgium({ id: 'r2', mix: { to: [on('Gift')], round: 1 } });
    expect(choose(settings({ rules: [belgium(), gift] }))).toMatchObject({ via: 'rule', rule: 'r1', page: 'Belgium' });
    expect(choose(settings({ rules: [gift, belgium()] }))).toMatchObject({ via: 'rule', rule: 'r2', page: 'Gift' });
    expect(choose(settings({ rules: [belgium({ on: false }), gift] })).rule).toBe('r2');
    expect(choose(settings({ rules: [belgium({ mix: { to: [on('Removed')], round: 1 } }), gift] })).rule).toBe('r2');
    expect(choose(settings({ rules: [belgium()] }), visitor({ country: 'FR' }))).toMatchObject({
      via: 'landing_page',
      address: 'https://larkmoor.example/Main?bclid=ID',
    });
  });

  test('conditions on the link are settled when it is compiled', () => {
    const of = (values: string[], is = true) => belgium({ when: [{ field: 'channel', is, values }] });
    expect(choose(settings({ rules: [of(['7'])] })).rule).toBe('r1');
    expect([of(['8']), of(['7'], false)].map((rule) => choose(settings({ rules: [rule] })).rule)).toEqual([
      undefined,
      undefined,
    ]);
  });

  test('a page of the link’s own yields only to rules that say so', () => {
    const own = { destination: 'https://larkmoor.example/own' };
    expect(choose(settings({ rules: [belgium()] }, own)).via).toBe('destination');
    expect(choose(settings({ rules: [belgium()] }, {}, true)).via).toBe('landing_page');
    expect(choose(settings({ rules: [belgium({ overOwn: true })] }, own)).via).toBe('rule');
    expect(
      choose(settings({ rules: [belgium({ overOwn: true })] }), undefined, { to: 'https://larkmoor.example/x' }).via,
    ).toBe('rule');
    expect(choose(settings({ otherwise: { to: [on('Gift')], round: 1 } }, {}, true)).page).toBeUndefined();
  });

  test('everybody else is dealt out; a used-up cap leads to the overflow, else to the fallback', () => {
    const otherwise = { to: [on('Main', 3), on('Gift', 1)], round: 1 };
    const pages = visitors(2000).map((id) => choose(settings({ otherwise }), visitor({}, bucketOf(id))).page);
    expect(new Set(pages)).toEqual(new Set(['Main', 'Gift']));
    const capped = { capped: true };
    expect(choose(settings({ overflow: 'https://other.example/x?a=1' }), visitor(), capped)).toMatchObject({
      via: 'overflow',
      address: 'https://other.example/x?a=1&bclid=ID',
    });
    expect(choose(settings({}), visitor(), capped)).toMatchObject({
      via: 'overflow',
      address: 'https://larkmoor.example/gone',
    });
    expect(choose(settings({ rules: [belgium()] }, { linkLive: false }), visitor(), capped).via).toBe('fallback');
  });

  test('that cannot work is refused with field and reason', () => {
    const bad = (plan: object) => {
      const result = check(planSchema, { ...EMPTY_PLAN, ...plan });
      return result.ok ? 'taken' : result.problems[0]?.field;
    };
    expect(bad({})).toBe('taken');
    expect(bad({ rules: [belgium()] })).toBe('taken');
    expect(bad({ rules: [belgium(), belgium()] })).toBe('rules.1');
    expect(bad({ rules: [belgium({ when: [{ field: 'country', is: true, values: ['Belgium'] }] })] })).toBe(
      'rules.0.when.0.values.0',
    );
    expect(bad({ rules: [belgium({ when: [{ field: 'hours', from: '25:00', to: '06:00' }] })] })).toBe(
      'rules.0.when.0.from',
    );
    expect(bad({ rules: [belgium({ when: [{ field: 'moon', is: true, values: ['full'] }] })] })).toBe('rules.0.when.0');
    expect(bad({ rules: [belgium({ mix: { to: [], round: 1 } })] })).toBe('rules.0.mix');
    expect(bad({ otherwise: { to: [{ page: 'Main', weight: 0, on: true }], round: 1 } })).toBe('otherwise');
    expect(bad({ caps: [{ of: 'clicks', per: 'day', most: 0 }] })).toBe('caps.0.most');
    expect(bad({ overflow: 'larkmoor' })).toBe('overflow');
  });
});

test('caps count by day, month and total of the program’s calendar', () => {
  const counts = [
    { day: '2026-10-31', count: 5 },
    { day: '2026-11-01', count: 7 },
    { day: '2026-11-24', count: 11 },
  ];
  const used = (_: unknown, per: 'day' | 'month' | 'total') => usedOf(counts, '2026-11-24' as Day, per);
  expect([used('', 'day'), used('', 'month'), used('', 'total')]).toEqual([11, 18, 23]);
  const cap = (per: 'day' | 'month' | 'total', most: number) => ({ of: 'clicks', per, most }) as const;
  expect(reachedCap([cap('day', 12), cap('month', 18)], used)).toEqual(cap('month', 18));
  expect(reachedCap([cap('day', 12), cap('total', 24)], used)).toBeUndefined();
});

describe('a split test', () => {
  const arm = (page: string, uniques: number, conversions: number) => ({ page, uniques, conversions });

  test('chances sum to one, nobody’s loss is below zero, and the figures alone decide', () => {
    const arms = fc.array(
      fc
        .tuple(fc.nat({ max: 5000 }), fc.double({ min: 0, max: 1, noNaN: true }))
        .map(([n, p]) => [n, Math.round(n * p)] as const),
      { minLength: 2, maxLength: 5 },
    );
    fc.assert(
      fc.property(arms, (all) => {
        const judged = judge(
          all.map(([n, k], i) => arm(`p${i}`, n, k)),
          30,
        );
        expect(judged.arms.reduce((sum, { chanceToBeBest }) => sum + chanceToBeBest, 0)).toBeCloseTo(1, 6);
        for (const { expectedLoss, chanceToBeBest } of judged.arms) {
          expect(expectedLoss).toBeGreaterThanOrEqual(0);
          expect(chanceToBeBest).toBeGreaterThanOrEqual(0);
        }
      }),
      { numRuns: 60 },
    );
  });

  test('agrees with drawing from the posteriors', () => {
    // Sums of exponentials give gamma, their ratio beta variates, for whole parameters.
    let state = 7;
    const random = (): number => ((state = (Math.imul(state, 1103515245) + 12345) >>> 0), (state + 0.5) / 4294967296);
    const gamma = (shape: number): number => {
      let sum = 0;
      for (let i = 0; i < shape; i++) sum -= Math.log(random());
      return sum;
    };
    const judged = judge([arm('a', 300, 30), arm('b', 300, 42)], 30);
    const average = 72 / 600;
    const [a0, b0] = [average * 20, 20 - average * 20];
    let wins = 0;
    const draws = 6000;
    const beta = (k: number, n: number): number => {
      const x = gamma(Math.round(a0 + k));
      return x / (x + gamma(Math.round(b0 + n - k)));
    };
    for (let i = 0; i < draws; i++) if (beta(42, 300) > beta(30, 300)) wins += 1;
    const b = judged.arms.find(({ page }) => page === 'b');
    expect(Math.abs((b?.chanceToBeBest ?? 0) - wins / draws)).toBeLessThan(0.025);
  });

  test.each([
    [[arm('a', 5000, 100), arm('b', 5000, 180)], 30, { kind: 'best', page: 'b' }],
    [[arm('a', 5000, 100), arm('b', 5000, 180)], 3, { kind: 'too_early', because: 'days' }],
    [[arm('a', 5000, 100), arm('b', 40, 4)], 30, { kind: 'too_early', because: 'clicks' }],
    [[arm('a', 500, 3), arm('b', 500, 4)], 30, { kind: 'too_early', because: 'conversions' }],
    [[arm('a', 1000, 30), arm('b', 1000, 36)], 30, { kind: 'too_early', because: 'unclear' }],
    [[arm('a', 4e6, 120_000), arm('b', 4e6, 120_010)], 30, { kind: 'equal' }],
  ])('%j after %i days: %j', (arms, days, verdict) => {
    expect(judge(arms, days).verdict).toEqual(verdict);
  });

  test('weights shift towards the better, within step and least share, and rest while it is too early', () => {
    const mix = { to: [on('a', 50), on('b', 50)], round: 1, shift: { least: 10, step: 5 } };
    const better = judge([arm('a', 5000, 100), arm('b', 5000, 180)], 30);
    expect(shiftedWeights(mix, better)?.map(({ weight }) => weight)).toEqual([45, 55]);
    expect(shiftedWeights({ ...mix, to: [on('a', 12), on('b', 88)] }, better)?.map(({ weight }) => weight)).toEqual([
      10, 90,
    ]);
    expect(shiftedWeights({ ...mix, to: [on('a', 10), on('b', 90)] }, better)).toBeUndefined();
    expect(shiftedWeights(mix, judge([arm('a', 50, 1), arm('b', 50, 9)], 30))).toBeUndefined();
    expect(shiftedWeights({ to: mix.to, round: 1 }, better)).toBeUndefined();
  });
});
