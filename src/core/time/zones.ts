import type { Day } from './calendar';

export function isZone(zone: string): boolean {
  try {
    new Intl.DateTimeFormat('en', { timeZone: zone });
    return zone !== '';
  } catch {
    return false;
  }
}

const days = new Map<string, Intl.DateTimeFormat>();
const times = new Map<string, Intl.DateTimeFormat>();

function formatter(
  known: Map<string, Intl.DateTimeFormat>,
  zone: string,
  locale: string,
  options: Intl.DateTimeFormatOptions,
): Intl.DateTimeFormat {
  let format = known.get(zone);
  if (!format) {
    format = new Intl.DateTimeFormat(locale, { timeZone: zone, ...options });
    known.set(zone, format);
  }
  return format;
}

/** The calendar day on which an instant (milliseconds) falls in a zone, daylight saving included. */
export const dayOf = (instant: number, zone: string): Day =>
  formatter(days, zone, 'en-CA', { year: 'numeric', month: '2-digit', day: '2-digit' }).format(instant) as Day;

/** "24 Nov, 14:05" in the zone. */
export const showTime = (instant: number, zone: string): string =>
  formatter(times, zone, 'en-GB', { day: 'numeric', month: 'short', hour: '2-digit', minute: '2-digit' }).format(
    instant,
  );
