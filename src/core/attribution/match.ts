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

/** What a report names: absent where it names none, with no facts where there is nothing of that name. */
export interface Named {
  readonly click?: { readonly facts: ClickFacts | undefined };
  readonly coupon?: { readonly facts: CouponFacts | undefined };
}
export type Match = { readonly by: 'click' | 'coupon' } | { readonly reason: UnmatchedReason };

/**
 * By which of click and coupon a conversion finds its partner: the click, then the coupon, unless the offer puts the
 * coupon first. Where neither does, the reason is that of the one that was asked first.
 */
export function attribute({ click, coupon }: Named, eventTime: Instant, day: string): Match {
  const byClick = click && matchByClick(click.facts, eventTime);
  const byCoupon = coupon && matchByCoupon(coupon.facts, day);
  const couponFirst = coupon?.facts?.couponFirst ?? click?.facts?.couponFirst ?? false;
  if (coupon && couponFirst && byCoupon === undefined) return { by: 'coupon' };
  if (click && byClick === undefined) return { by: 'click' };
  if (coupon && byCoupon === undefined) return { by: 'coupon' };
  return { reason: (couponFirst ? (byCoupon ?? byClick) : (byClick ?? byCoupon)) ?? 'unknown_click' };
}
