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

/** Days that were worked out, by zone and quarter of an hour. */
const quarters = new Map<string, Map<number, Day>>();
const QUARTER_MS = 900_000;
const MOST_QUARTERS = 20_000;

/** The calendar day on which an instant (milliseconds) falls in a zone, daylight saving included. */
export function dayOf(instant: number, zone: string): Day {
  // Offsets of zones are whole quarters of an hour since 1972, so a day begins with one.
  const quarter = Math.floor(instant / QUARTER_MS);
  let known = quarters.get(zone);
  if (!known || known.size >= MOST_QUARTERS) quarters.set(zone, (known = new Map()));
  let day = known.get(quarter);
  if (day === undefined) {
    const format = formatter(days, zone, 'en-CA', { year: 'numeric', month: '2-digit', day: '2-digit' });
    known.set(quarter, (day = format.format(instant) as Day));
  }
  return day;
}

/** "24 Nov, 14:05" in the zone. */
export const showTime = (instant: number, zone: string): string =>
  formatter(times, zone, 'en-GB', { day: 'numeric', month: 'short', hour: '2-digit', minute: '2-digit' }).format(
    instant,
  );

/** What clocks and calendars on the wall say in a zone. */
export interface WallClock {
  readonly day: Day;
  /** 1 is Monday, 7 Sunday (ISO 8601). */
  readonly weekday: number;
  /** Minutes since midnight, 0 to 1439, as the clock shows them: an hour that comes twice has the same minutes twice. */
  readonly minute: number;
}

const clocks = new Map<string, Intl.DateTimeFormat>();
const newest = new Map<string, { at: number; clock: WallClock }>();
const MINUTE_MS = 60_000;

/** The wall clock of an instant (milliseconds). Zones change on whole minutes, so the newest minute of each is kept. */
export function wallClock(instant: number, zone: string): WallClock {
  const at = Math.floor(instant / MINUTE_MS);
  const known = newest.get(zone);
  if (known?.at === at) return known.clock;
  const text = formatter(clocks, zone, 'en-CA', { hour: '2-digit', minute: '2-digit', hourCycle: 'h23' }).format(
    instant,
  );
  const day = dayOf(instant, zone);
  const clock: WallClock = {
    day,
    weekday: new Date(`${day}T12:00:00Z`).getUTCDay() || 7,
    minute: Number(text.slice(0, 2)) * 60 + Number(text.slice(3, 5)),
  };
  newest.set(zone, { at, clock });
  return clock;
}
