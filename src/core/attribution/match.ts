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
  unknown_coupon: 'No coupon with this code belongs to a partner.',
  offer_mismatch: 'The event is not one of the clicked offer.',
  partner_closed: 'The partner was closed when the event happened.',
  set_aside_click: 'The click was set aside and never counts.',
};

export interface ClickFacts {
  readonly time: Instant;
  readonly partnerClosed: boolean;
  readonly setAside: boolean;
  readonly offerHasEvent: boolean;
  readonly clickWindowDays: number;
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
