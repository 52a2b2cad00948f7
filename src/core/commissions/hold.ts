import { type Day, addDays, endOfMonth, nextFirst } from '../time/calendar';

/**
 * How long a commission waits. `days`: n days after the event or after completion (delivered, done).
 * `month`: the end of that month plus n days, then the next first of a month.
 */
export interface Hold {
  readonly kind: 'days' | 'month';
  readonly days: number;
  readonly from: 'event' | 'completed';
}

/** The day on which a commission becomes due for validation; undefined while completion is unknown. */
export function payableOn(hold: Hold, event: Day, completed: Day | undefined): Day | undefined {
  const start = hold.from === 'completed' ? completed : event;
  if (start === undefined) return undefined;
  return hold.kind === 'days' ? addDays(start, hold.days) : nextFirst(addDays(endOfMonth(start), hold.days));
}

/** "21 days after delivery" in the program's words. */
export function showHold(hold: Hold): string {
  const start = hold.from === 'completed' ? 'completion' : 'the event';
  const days = `${hold.days} ${hold.days === 1 ? 'day' : 'days'}`;
  return hold.kind === 'days' ? `${days} after ${start}` : `end of the month of ${start} + ${days}, then the next 1st`;
}
