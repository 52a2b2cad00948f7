import { DateTime } from 'luxon';
import type { Day } from './calendar';

export * from './calendar';

/** Milliseconds since 1970-01-01T00:00Z. */
export type Instant = number;

/** The first instant of a day in a zone; a day lasts until the start of the next one (23 to 25 hours). */
export const startOfDay = (of: Day, zone: string): Instant => DateTime.fromISO(of, { zone }).startOf('day').toMillis();

/** ISO 8601 with the zone's offset, exact to the millisecond. */
export const isoTime = (instant: Instant, zone = 'utc'): string => DateTime.fromMillis(instant, { zone }).toISO() ?? '';

/** A time of day that names no zone, as that of a zone: ISO 8601 with its offset. */
export const zonedIso = (local: string, zone: string): string => DateTime.fromISO(local, { zone }).toISO() ?? local;

export * from './zones';
