import type { RateSheet } from '@/core/commissions/sheet';
import type { Hold } from '@/core/commissions/hold';
import { payableOn } from '@/core/commissions/hold';
import { type Rating, rateConversion } from '@/core/commissions/rate';
import { checkDeepLink } from '@/core/links/destination';
import { type LinkParts, type SlotValue, parseLink, sourceTextProblem } from '@/core/links/parts';
import { type Proof, proveLink } from '@/core/links/proof';
import type { Currency } from '@/core/money/currency';
import { parseAmount } from '@/core/money/text';
import { VALUE_SLOTS, type ValueSlot } from '@/core/placeholders/names';
import { compileRoute } from '@/core/routing/route';
import type { Day } from '@/core/time/calendar';
import type { Option } from '@/ui/form/Picker';

/** What the workbench knows of an offer: enough to prove a link in the browser, with the functions the edge uses. */
export interface ComposedOffer extends Option {
  landingPage: string;
  landingHosts: string[];
  appended: string;
  fallback: string;
  live: boolean;
  hold: Hold;
  events: string[];
}
export interface Draft {
  partner?: Option;
  channel?: Option;
  offer?: ComposedOffer;
  to: string;
  slots: Partial<Record<ValueSlot, SlotValue>>;
  examples: Partial<Record<ValueSlot, string>>;
}
export type DraftProblems = Partial<Record<'partner' | 'channel' | 'offer' | 'to' | ValueSlot, string>>;

/** Eight dots stand for the code, which is drawn when the link is issued. */
export const CODE_TO_COME = '········';

export function draftParts(draft: Draft, origin: string): LinkParts {
  const slots = Object.fromEntries(Object.entries(draft.slots).filter(([, value]) => value.text !== ''));
  return { origin, code: CODE_TO_COME, slots, ...(draft.to.trim() && { to: draft.to.trim() }) };
}

/** What is wrong with what stands in the fields; what is only missing is not said before one tries to issue. */
export function draftProblems(draft: Draft, origin: string): DraftProblems {
  const problems: DraftProblems = {};
  const to = draft.to.trim();
  const own = parseLink(to);
  if (to !== '' && own?.origin === origin)
    problems.to = 'This is one of our own links. Paste the page it should lead to, not the link.';
  else if (to !== '' && draft.offer) {
    const checked = checkDeepLink(to, draft.offer.landingHosts);
    if (!checked.ok) problems.to = checked.reason;
  }
  for (const slot of VALUE_SLOTS) {
    const value = draft.slots[slot];
    const problem = value?.kind === 'source' ? sourceTextProblem(value.text) : undefined;
    if (problem) problems[slot] = problem;
  }
  return problems;
}

export function draftProof(draft: Draft, origin: string): Proof | undefined {
  const { offer, partner, channel } = draft;
  if (!offer) return undefined;
  const route = compileRoute({ ...offer, linkLive: true, partnerLive: true, offerLive: offer.live });
  const codes = {
    partner_code: partner?.about ?? 'PARTNER',
    channel_code: channel?.about ?? 'CHANNEL',
    offer_code: offer.about,
  };
  return proveLink(draftParts(draft, origin), route, codes, draft.examples);
}

/** What a conversion behind the draft would earn, by the sheet in force and without this month's volume. */
export function draftEarning(
  draft: Draft,
  rows: RateSheet['rows'],
  currency: Currency,
  sale: { event: string; amount: string },
  today: Day,
): { rating?: Rating; payable?: Day; problem?: string } {
  const amount = parseAmount(sale.amount, currency);
  if (!draft.offer || !amount.ok) return amount.ok ? {} : { problem: amount.reason };
  const rating = rateConversion(
    { version: 0, rows },
    {
      offerId: draft.offer.id,
      event: sale.event,
      partnerId: draft.partner?.id ?? 0,
      channelId: draft.channel?.id,
      program: currency,
      figures: { currency, amount: amount.value.minor, tax: 0, shipping: 0, discount: 0, items: [] },
    },
  );
  return { rating, payable: payableOn(draft.offer.hold, today, undefined) };
}
