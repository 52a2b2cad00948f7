import { DAY_MS } from '../time/calendar';
import type { Instant } from '../time/days';

/** Why a conversion has no partner yet. */
export const UNMATCHED_REASONS = [
  'unknown_click',
  'outside_window',
  'unknown_coupon',
  'offer_mismatch',
  'partner_closed',
  'set_aside_click',
] as const;
export type UnmatchedReason = (typeof UNMATCHED_REASONS)[number];

export const UNMATCHED_WORDS: Record<UnmatchedReason, string> = {
  unknown_click: 'No click with this ID was ever recorded here.',
  outside_window: 'The click is older than the offer’s click window, or younger than the event.',
  unknown_coupon: 'No coupon with this code was in force on the day of the event.',
  offer_mismatch: 'The event is not one of the offer.',
  partner_closed: 'The partner was closed when the event happened.',
  set_aside_click: 'The click was set aside and never counts.',
};

export interface ClickFacts {
  readonly time: Instant;
  readonly partnerClosed: boolean;
  readonly setAside: boolean;
  readonly offerHasEvent: boolean;
  readonly clickWindowDays: number;
  /** A coupon that was given goes before the click. */
  readonly couponFirst: boolean;
}
export interface CouponFacts {
  readonly startsOn: string;
  readonly endsOn: string;
  readonly partnerClosed: boolean;
  readonly offerHasEvent: boolean;
  readonly couponFirst: boolean;
}

/** Clocks of two servers may differ; a conversion this much before its click still belongs to it. */
const CLOCK_TOLERANCE_MS = 5 * 60_000;

/** Whether a conversion belongs to the click it names. The window is counted from the click to the event's time. */
export function matchByClick(click: ClickFacts | undefined, eventTime: Instant): UnmatchedReason | undefined {
  if (!click) return 'unknown_click';
  if (click.setAside) return 'set_aside_click';
  if (click.partnerClosed) return 'partner_closed';
  if (!click.offerHasEvent) return 'offer_mismatch';
  const age = eventTime - click.time;
  return age < -CLOCK_TOLERANCE_MS || age > click.clickWindowDays * DAY_MS ? 'outside_window' : undefined;
}

/** @param day of the event, in the program's zone */
export function matchByCoupon(coupon: CouponFacts | undefined, day: string): UnmatchedReason | undefined {
  if (!coupon || (coupon.startsOn !== '' && day < coupon.startsOn) || (coupon.endsOn !== '' && day > coupon.endsOn))
    return 'unknown_coupon';
  if (coupon.partnerClosed) return 'partner_closed';
  return coupon.offerHasEvent ? undefined : 'offer_mismatch';
}

/** One of the clicks that the page tag saw of a visitor. */
export interface VisitorClick extends ClickFacts {
  readonly offerId: number;
  /** Which of a visitor's clicks on the offer is credited. */
  readonly credits: CreditedClick;
}
export const CREDITED_CLICKS = ['last', 'first'] as const;
export type CreditedClick = (typeof CREDITED_CLICKS)[number];

/**
 * Which of a visitor's clicks a conversion is credited to: the last one that it could belong to says which offer, and
 * that offer whether its last or its first is meant.
 * @param clicks oldest first
 * @returns the click's place among them, or why none of them is it
 */
export function creditedClick(
  clicks: readonly VisitorClick[],
  eventTime: Instant,
): { readonly place: number } | { readonly reason: UnmatchedReason } {
  const reasons = clicks.map((click) => matchByClick(click, eventTime));
  const last = reasons.lastIndexOf(undefined);
  const newest = clicks[last];
  if (!newest) return { reason: reasons.at(-1) ?? 'unknown_click' };
  if (newest.credits === 'last') return { place: last };
  return { place: clicks.findIndex(({ offerId }, i) => offerId === newest.offerId && reasons[i] === undefined) };
}

/** What a report names: absent where it names none, with no facts where there is nothing of that name. */
export interface Named {
  readonly call?: { readonly partnerClosed: boolean };
  readonly click?: { readonly facts: ClickFacts | undefined };
  readonly coupon?: { readonly facts: CouponFacts | undefined };
  /** What came of the visitor's own clicks. */
  readonly visitor?: { readonly reason?: UnmatchedReason };
}
export type MatchedBy = 'call' | 'click' | 'coupon' | 'visitor';
export type Match = { readonly by: MatchedBy } | { readonly reason: UnmatchedReason };

/**
 * By which of what it names a conversion finds its partner: the call that it is about, then the click, the coupon and
 * the visitor, unless the offer puts the coupon before the click. Where none does, the reason is that of the one that
 * was asked first.
 */
export function attribute({ call, click, coupon, visitor }: Named, eventTime: Instant, day: string): Match {
  const asked: [MatchedBy, UnmatchedReason | undefined][] = [];
  if (call) asked.push(['call', call.partnerClosed ? 'partner_closed' : undefined]);
  if (click) asked.push(['click', matchByClick(click.facts, eventTime)]);
  const couponFirst = coupon?.facts?.couponFirst ?? click?.facts?.couponFirst ?? false;
  if (coupon)
    asked.splice(couponFirst && click ? asked.length - 1 : asked.length, 0, [
      'coupon',
      matchByCoupon(coupon.facts, day),
    ]);
  if (visitor) asked.push(['visitor', visitor.reason]);
  const found = asked.find(([, reason]) => reason === undefined);
  return found ? { by: found[0] } : { reason: asked[0]?.[1] ?? 'unknown_click' };
}
