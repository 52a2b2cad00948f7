import { monthOf, type Day } from '../time/calendar';
import type { Cap } from './plan';

/** What has come to an offer: by day, so that months and totals are sums. */
export interface DayCount {
  readonly day: string;
  readonly count: number;
}
/** How much a cap has used up of its period. */
export type Used = (of: Cap['of'], per: Cap['per']) => number;

/** Whether a count of this day belongs to the period of a cap that is looked at today. */
export const inPeriod = (day: string, today: Day, per: Cap['per']): boolean =>
  per === 'total' || (per === 'day' ? day === today : monthOf(day as Day) === monthOf(today));

export const usedOf = (counts: readonly DayCount[], today: Day, per: Cap['per']): number =>
  counts.reduce((sum, { day, count }) => (inPeriod(day, today, per) ? sum + count : sum), 0);

/** The first cap that is used up. */
export const reachedCap = (caps: readonly Cap[], used: Used): Cap | undefined =>
  caps.find(({ of, per, most }) => used(of, per) >= most);
