import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { DAY_MS } from '@/core/time/days';
import { FloodWatch, LONGEST_WINDOW_MS, RecentVisitors, dailyVisitor } from './visitors';

const HOUR_MS = 3_600_000;
const START = Date.parse('2026-11-24T11:00:00Z');
const visitor = (n: number): string => n.toString(16).padStart(32, 'a');

/** Clicks in the order in which they come, hours apart or days. */
const clicks = fc
  .array(
    fc.record({
      who: fc.integer({ min: 1, max: 4 }),
      offer: fc.integer({ min: 1, max: 2 }),
      later: fc.oneof(fc.integer({ min: 0, max: 3 * HOUR_MS }), fc.integer({ min: 0, max: 2 * DAY_MS })),
    }),
    { maxLength: 60 },
  )
  .map((each) => {
    let time = START;
    return each.map(({ later, ...click }) => ({ ...click, time: (time += later) }));
  });

describe('recent visitors', () => {
  test('are new exactly when none of their clicks lies within the window, whatever is forgotten meanwhile', () => {
    fc.assert(
      fc.property(clicks, fc.integer({ min: 1, max: 24 }), (all, hours) => {
        const recent = new RecentVisitors();
        for (const [i, { who, offer, time }] of all.entries()) {
          const before = all.slice(0, i).filter((each) => each.who === who && each.offer === offer);
          const last = before.at(-1)?.time ?? -Infinity;
          expect(recent.note([visitor(who)], offer, time, hours * HOUR_MS)).toBe(time - last >= hours * HOUR_MS);
        }
      }),
    );
  });

  test('are known by any of their IDs, and a clock that is set back makes nobody new', () => {
    const recent = new RecentVisitors();
    expect(recent.note([visitor(1), visitor(2)], 1, START)).toBe(true);
    expect(recent.note([visitor(2)], 1, START + HOUR_MS)).toBe(false);
    expect(recent.note([visitor(3), visitor(1)], 1, START + HOUR_MS)).toBe(false);
    expect(recent.note([visitor(1)], 1, START - 30 * DAY_MS)).toBe(false);
    expect(recent.note([visitor(1)], 1, START + LONGEST_WINDOW_MS - 1)).toBe(false);
  });

  test('have their clicks counted within the day that began with the first of them', () => {
    fc.assert(
      fc.property(clicks, (all) => {
        const recent = new RecentVisitors();
        const days = new Map<string, { since: number; count: number }>();
        for (const { who, offer, time } of all) {
          const key = `${who} ${offer}`;
          const day = days.get(key);
          const goesOn = day !== undefined && time - day.since < DAY_MS;
          expect(recent.clicksOf(visitor(who), offer, time)).toBe(goesOn ? day.count : 0);
          recent.notePress([visitor(who)], offer, time);
          days.set(key, goesOn ? { ...day, count: day.count + 1 } : { since: time, count: 1 });
        }
      }),
    );
  });
});

test('a flood is counted by address, link and minute', () => {
  fc.assert(
    fc.property(clicks, (all) => {
      const floods = new FloodWatch();
      const counts = new Map<string, number>();
      for (const { who, offer, time } of all) {
        const key = `${who} ${offer} ${Math.floor(time / 60_000)}`;
        counts.set(key, (counts.get(key) ?? 0) + 1);
        expect(floods.note(`192.0.2.${who}`, offer, time)).toBe(counts.get(key));
      }
    }),
  );
});

test('a visitor without a cookie is the same all day, another one the next day, and nobody without the key', () => {
  const [key, other] = [Buffer.alloc(32, 1), Buffer.alloc(32, 2)];
  const morning = Date.parse('2026-11-24T00:00:00Z');
  const of = (time: number, address = '192.0.2.7', with_ = key): string =>
    dailyVisitor(with_, time, address, 'Firefox');
  expect(of(morning)).toMatch(/^[0-9a-f]{32}$/);
  expect(of(morning + DAY_MS - 1)).toBe(of(morning));
  expect(
    new Set([of(morning), of(morning + DAY_MS), of(morning, '192.0.2.8'), of(morning, '192.0.2.7', other)]).size,
  ).toBe(4);
});
