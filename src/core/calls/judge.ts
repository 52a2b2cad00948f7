import type { Instant } from '../time/days';
import { wallClock } from '../time/zones';
import { type CallTerms } from './terms';

/** What can become of a call. `asked`: it counts as soon as the merchant says so. */
export const CALL_OUTCOMES = {
  converted: 'a conversion',
  asked: 'waits for the merchant’s word',
  unanswered: 'not answered',
  too_short: 'too short',
  repeat_caller: 'the same caller again',
  closed: 'outside the hours',
  cap_day: 'beyond the day’s cap',
  cap_at_once: 'beyond the cap of calls at once',
  anonymous: 'set aside: the caller hid the number',
  nobody: 'the number was nobody’s then',
  no_event: 'the offer takes no calls',
} as const;
export type CallOutcome = keyof typeof CALL_OUTCOMES;

/** A call with what is known of others at its time. */
export interface CallInSight {
  readonly time: Instant;
  /** Seconds. */
  readonly length: number;
  readonly answered: boolean;
  readonly anonymous: boolean;
  /** When this caller last called and it counted, within the hours that are looked at. */
  readonly before?: Instant;
  /** Calls that counted: on its day, and those that went on when it began. */
  readonly onDay: number;
  readonly goingOn: number;
}
export interface Judgement {
  readonly outcome: CallOutcome;
  readonly detail: string;
}

/** Minutes since midnight. */
const minuteOf = (clock: string): number => Number(clock.slice(0, 2)) * 60 + Number(clock.slice(3, 5));

/** Whether a line is open; one that opens later than it closes is open over midnight, which belongs to the day it opened on. */
function isOpen({ days, opens, closes }: CallTerms, time: Instant, zone: string): boolean {
  const { weekday, minute } = wallClock(time, zone);
  const [from, to] = [minuteOf(opens || '00:00'), minuteOf(closes || '24:00')];
  const on = (day: number): boolean => days.length === 0 || days.includes(day);
  if (from < to) return on(weekday) && minute >= from && minute < to;
  return (on(weekday) && minute >= from) || (on(weekday === 1 ? 7 : weekday - 1) && minute < to);
}

/** What becomes of a call by the terms of its offer, and why, in words for whoever asks. */
export function judgeCall(call: CallInSight, terms: CallTerms, zone: string): Judgement {
  const { length, before, onDay, goingOn } = call;
  const { converts, leastSeconds, repeatHours, mostADay, mostAtOnce } = terms;
  if (call.anonymous) return { outcome: 'anonymous', detail: 'A caller without a number cannot be known again.' };
  if (!isOpen(terms, call.time, zone))
    return {
      outcome: 'closed',
      detail: `Calls count from ${terms.opens || '00:00'} to ${terms.closes || '24:00'}${terms.days.length > 0 ? ', on the days of the offer' : ''}.`,
    };
  if (!call.answered) return { outcome: 'unanswered', detail: 'Nobody picked it up.' };
  if (converts === 'length' && length < leastSeconds)
    return { outcome: 'too_short', detail: `${length} s; ${leastSeconds} s are needed.` };
  if (before !== undefined)
    return { outcome: 'repeat_caller', detail: `The caller counted already, less than ${repeatHours} hours before.` };
  if (mostAtOnce > 0 && goingOn >= mostAtOnce)
    return {
      outcome: 'cap_at_once',
      detail: `${goingOn} that count went on when it began; ${mostAtOnce} are paid at once.`,
    };
  if (mostADay > 0 && onDay >= mostADay)
    return { outcome: 'cap_day', detail: `${onDay} calls had counted on this day; ${mostADay} are paid a day.` };
  if (converts === 'merchant')
    return { outcome: 'asked', detail: 'The merchant reports it by a postback that names the call as its order.' };
  return { outcome: 'converted', detail: `Answered, ${length} s.` };
}
