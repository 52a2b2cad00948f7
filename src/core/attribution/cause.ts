import { isUlid } from '../clicks/ulid';
import { DAY_MS } from '../time/calendar';
import type { Instant } from '../time/days';
import type { UnmatchedReason } from './match';

/** What is known of a conversion that found no partner, and of what it named. */
export interface UnmatchedFacts {
  readonly reason: UnmatchedReason;
  readonly event: string;
  readonly time: Instant;
  readonly clickId: string | null;
  readonly coupon: string | null;
  readonly visitor: string | null;
  readonly offer?: { readonly id: number; readonly name: string; readonly clickWindowDays: number };
  readonly partner?: string;
  readonly click?: { readonly time: Instant; readonly setAside: string | null };
}

/** What would remove the cause for all of its kind. */
export type Fix =
  | { readonly kind: 'coupon'; readonly code: string }
  | { readonly kind: 'window'; readonly offerId: number; readonly offer: string; readonly days: number }
  | { readonly kind: 'event'; readonly offerId: number; readonly offer: string; readonly event: string };

/** Why conversions were not matched, likely: those with the same key have the same cause. */
export interface Cause {
  readonly key: string;
  /** After "41 …". */
  readonly words: string;
  readonly fix?: Fix;
}

/** Windows that an extension is rounded up to, in days. */
const WINDOWS = [7, 14, 30, 45, 60, 90, 120, 180, 365];

/** The likely cause, told from what the conversion named. */
export function causeOf(facts: UnmatchedFacts): Cause {
  const { reason, event, clickId, coupon, offer, partner, click, time } = facts;
  switch (reason) {
    case 'unknown_click':
      return clickCause(clickId, facts.visitor);
    case 'unknown_coupon':
      return {
        key: `coupon-${(coupon ?? '').toLowerCase()}`,
        words: `with the coupon “${coupon}”, which nobody had on the day`,
        ...(coupon !== null && { fix: { kind: 'coupon', code: coupon } }),
      };
    case 'outside_window': {
      const age = click ? (time - click.time) / DAY_MS : 0;
      if (!offer || age < 0)
        return { key: 'before', words: 'whose click is younger than the event: look at the clocks' };
      const days = WINDOWS.find((window) => window >= age);
      return {
        key: `window-${offer.id}-${days ?? 'older'}`,
        words: `whose click on ${offer.name} is older than ${offer.clickWindowDays} days${days ? `, up to ${days}` : ', more than a year'}`,
        ...(days !== undefined && { fix: { kind: 'window', offerId: offer.id, offer: offer.name, days } }),
      };
    }
    case 'offer_mismatch':
      return {
        key: `event-${offer?.id ?? 0}-${event}`,
        words: `report “${event}”, which is no event of ${offer?.name ?? 'the offer'}`,
        ...(offer && { fix: { kind: 'event', offerId: offer.id, offer: offer.name, event } }),
      };
    case 'partner_closed':
      return { key: `closed-${partner ?? ''}`, words: `of ${partner ?? 'a partner'}, who was closed by then` };
    case 'set_aside_click':
      return {
        key: `aside-${click?.setAside ?? ''}`,
        words: `whose click was set aside (${click?.setAside ?? 'a rule'})`,
      };
  }
}

function clickCause(clickId: string | null, visitor: string | null): Cause {
  if (clickId === null && visitor !== null)
    return { key: 'visitor', words: 'name a visitor of whom the page tag saw no click' };
  if (clickId === null) return { key: 'nameless', words: 'name neither a click, a coupon nor a visitor' };
  if (/[{}[\]%$<>]/.test(clickId))
    return { key: 'unfilled', words: `with a placeholder that was not filled in, “${clickId.slice(0, 30)}”` };
  if (!isUlid(clickId)) return { key: 'foreign', words: 'with click IDs of another program’s format' };
  return { key: 'unknown', words: 'with well-formed click IDs that were never recorded here' };
}
