import { DateTime } from 'luxon';

/** A calendar day "2026-10-17" in a program's time zone. */
export type Day = string & { readonly __brand: 'Day' };
/** Milliseconds since 1970-01-01T00:00Z. */
export type Instant = number;
export const DAY_MS = 86_400_000;

export const isDay = (text: string): text is Day =>
  /^\d{4}-\d{2}-\d{2}$/.test(text) && DateTime.fromISO(text, { zone: 'utc' }).isValid;

/** @throws RangeError for text that is no calendar day. */
export function day(text: string): Day {
  if (!isDay(text)) throw new RangeError(`"${text}" is not a calendar day like 2026-10-17.`);
  return text;
}

export const isZone = (zone: string): boolean => DateTime.utc().setZone(zone).isValid;

const formatters = new Map<string, Intl.DateTimeFormat>();

/** The calendar day on which an instant falls in a zone, daylight saving included. */
export function dayOf(instant: Instant, zone: string): Day {
  let formatter = formatters.get(zone);
  if (!formatter) {
    formatter = new Intl.DateTimeFormat('en-CA', { timeZone: zone, year: 'numeric', month: '2-digit', day: '2-digit' });
    formatters.set(zone, formatter);
  }
  return formatter.format(instant) as Day;
}

/** The first instant of a day in a zone; a day lasts until the start of the next one (23 to 25 hours). */
export const startOfDay = (of: Day, zone: string): Instant => DateTime.fromISO(of, { zone }).startOf('day').toMillis();

const calendar = (of: Day): DateTime => DateTime.fromISO(of, { zone: 'utc' });
const asDay = (date: DateTime): Day => day(date.toISODate() ?? '');

export const addDays = (of: Day, days: number): Day => asDay(calendar(of).plus({ days }));
export const endOfMonth = (of: Day): Day => asDay(calendar(of).endOf('month'));
export const startOfMonth = (of: Day): Day => asDay(calendar(of).startOf('month'));
/** The first of a month that is not before the day: the 1st stays where it is. */
export const nextFirst = (of: Day): Day =>
  of.endsWith('-01') ? of : asDay(calendar(of).startOf('month').plus({ months: 1 }));
/** The next date with this day of the month, the day itself included; short months end on their last day. */
export function nextDayOfMonth(from: Day, dayOfMonth: number): Day {
  const inMonth = (date: DateTime): Day => asDay(date.set({ day: Math.min(dayOfMonth, date.daysInMonth ?? 28) }));
  const here = inMonth(calendar(from));
  return here >= from ? here : inMonth(calendar(from).startOf('month').plus({ months: 1 }));
}
export const monthOf = (of: Day): string => of.slice(0, 7);

const parts = (of: Day): { day: string; month: string; year: string } => {
  const date = calendar(of).setLocale('en-GB');
  return { day: String(date.day), month: date.toFormat('LLL'), year: String(date.year) };
};

/** "1 Dec 2026"; a day of the year in sight may leave the year out. */
export function showDay(of: Day, options: { year?: boolean } = {}): string {
  const { day, month, year } = parts(of);
  return options.year === false ? `${day} ${month}` : `${day} ${month} ${year}`;
}

/** "1–24 Nov 2026", "28 Oct – 3 Nov 2026". */
export function showPeriod(from: Day, to: Day): string {
  const a = parts(from);
  const b = parts(to);
  if (from === to) return showDay(from);
  if (a.year !== b.year) return `${showDay(from)} – ${showDay(to)}`;
  if (a.month !== b.month) return `${a.day} ${a.month} – ${b.day} ${b.month} ${b.year}`;
  return `${a.day}–${b.day} ${b.month} ${b.year}`;
}

/** "24 Nov 14:05" in the zone. */
export const showTime = (instant: Instant, zone: string): string =>
  DateTime.fromMillis(instant, { zone }).setLocale('en-GB').toFormat('d LLL HH:mm');

/** ISO 8601 with the zone's offset, exact to the millisecond. */
export const isoTime = (instant: Instant, zone = 'utc'): string => DateTime.fromMillis(instant, { zone }).toISO() ?? '';
