import fc from 'fast-check';
import { expect, test } from 'vitest';
import { addDays, day, dayOf, isDay, nextDayOfMonth, nextFirst, showPeriod, startOfDay } from './days';

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
