import fc from 'fast-check';
import { DateTime } from 'luxon';
import { expect, test } from 'vitest';
import {
  type Day,
  addDays,
  day,
  dayOf,
  daysBetween,
  endOfMonth,
  isDay,
  nextDayOfMonth,
  nextFirst,
  showDay,
  showPeriod,
  startOfDay,
  startOfMonth,
  wallClock,
} from './days';

const AMSTERDAM = 'Europe/Amsterdam';

test('an instant belongs to the calendar day of the zone, not of UTC', () => {
  expect(dayOf(Date.parse('2026-10-16T22:30:00Z'), AMSTERDAM)).toBe('2026-10-17');
  expect(dayOf(Date.parse('2026-01-16T22:30:00Z'), AMSTERDAM)).toBe('2026-01-16');
});

test.each([
  ['2026-03-29', 23],
  ['2026-10-25', 25],
  ['2026-06-01', 24],
])('%s lasts %i hours in Amsterdam', (date, hours) => {
  const start = startOfDay(day(date), AMSTERDAM);
  expect((startOfDay(addDays(day(date), 1), AMSTERDAM) - start) / 3_600_000).toBe(hours);
});

test('every instant lies between the start of its day and the start of the next, in any zone', () => {
  const zones = fc.constantFrom(AMSTERDAM, 'America/Sao_Paulo', 'Asia/Kathmandu', 'Pacific/Apia', 'UTC');
  fc.assert(
    fc.property(fc.integer({ min: Date.UTC(2000, 0, 1), max: Date.UTC(2040, 0, 1) }), zones, (instant, zone) => {
      const of = dayOf(instant, zone);
      expect(startOfDay(of, zone)).toBeLessThanOrEqual(instant);
      expect(startOfDay(addDays(of, 1), zone)).toBeGreaterThan(instant);
    }),
    { numRuns: 300 },
  );
});

test('dates by the calendar', () => {
  expect(nextFirst(day('2026-12-01'))).toBe('2026-12-01');
  expect(nextFirst(day('2026-12-02'))).toBe('2027-01-01');
  expect(nextDayOfMonth(day('2026-11-24'), 5)).toBe('2026-12-05');
  expect(nextDayOfMonth(day('2026-02-10'), 31)).toBe('2026-02-28');
  expect(isDay('2026-02-30')).toBe(false);
  expect(showPeriod(day('2026-11-01'), day('2026-11-24'))).toBe('1–24 Nov 2026');
});

const anyDay: fc.Arbitrary<Day> = fc
  .integer({ min: Date.UTC(1990, 0, 1), max: Date.UTC(2060, 0, 1) })
  .map((time) => dayOf(time, 'UTC'));

test('days are added and counted without a calendar’s help, and back', () => {
  fc.assert(
    fc.property(anyDay, fc.integer({ min: -2000, max: 2000 }), (of, days) => {
      const then = addDays(of, days);
      expect([daysBetween(of, then), addDays(then, -days), isDay(then)]).toEqual([days, of, true]);
      expect(then).toBe(DateTime.fromISO(of).plus({ days }).toISODate());
      expect(then > of).toBe(days > 0);
    }),
  );
});

test('a month begins with its first and ends before the next one begins', () => {
  fc.assert(
    fc.property(anyDay, (of) => {
      const [first, last] = [startOfMonth(of), endOfMonth(of)];
      expect(first <= of && of <= last && first.endsWith('-01')).toBe(true);
      expect(nextFirst(addDays(last, 1))).toBe(addDays(last, 1));
      expect(nextFirst(addDays(first, 1))).toBe(addDays(last, 1));
      expect(daysBetween(first, last) + 1).toBe(DateTime.fromISO(of).daysInMonth);
    }),
  );
});

test('the next day with a number is the nearest one; a month that is too short ends with its last', () => {
  fc.assert(
    fc.property(anyDay, fc.integer({ min: 1, max: 31 }), (from, number) => {
      const next = nextDayOfMonth(from, number);
      const bears = (of: Day): boolean =>
        Number(of.slice(8)) === number || (of === endOfMonth(of) && Number(of.slice(8)) < number);
      expect([bears(next), next >= from, daysBetween(from, next) <= 31]).toEqual([true, true, true]);
      for (let of = from; of < next; of = addDays(of, 1)) expect(bears(of)).toBe(false);
    }),
  );
});

test('the clock on the wall is that of the zone, also in hours that come twice or never', () => {
  const zones = fc.constantFrom('Europe/Amsterdam', 'America/New_York', 'Asia/Kathmandu', 'Australia/Lord_Howe', 'UTC');
  const changes = ['2026-03-29T01:00Z', '2026-10-25T01:00Z', '2026-03-08T07:00Z', '2026-10-03T15:30Z'].map(Date.parse);
  const near = fc.tuple(fc.constantFrom(...changes), fc.integer({ min: -7_200_000, max: 7_200_000 }));
  fc.assert(
    fc.property(near, zones, ([change, off], zone) => {
      const here = DateTime.fromMillis(change + off, { zone });
      expect(wallClock(change + off, zone)).toEqual({
        day: here.toISODate(),
        weekday: here.weekday,
        minute: here.hour * 60 + here.minute,
      });
    }),
    { numRuns: 300 },
  );
});

test('a period is written with what its ends share said once', () => {
  fc.assert(
    fc.property(anyDay, fc.nat(800), (from, days) => {
      const to = addDays(from, days);
      const text = showPeriod(from, to);
      expect(text.endsWith(showDay(to))).toBe(true);
      expect(text.startsWith(String(Number(from.slice(8))))).toBe(true);
      expect(text.match(/\d{4}/g)).toHaveLength(from.slice(0, 4) === to.slice(0, 4) ? 1 : 2);
    }),
  );
});
