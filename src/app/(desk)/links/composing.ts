import type { Hold } from '@/core/commissions/hold';
import { payableOn } from '@/core/commissions/hold';
import { type Rating, rateConversion } from '@/core/commissions/rate';
import type { RateSheet } from '@/core/commissions/sheet';
import { type ComposeContext, composeParts, utmAtRedirect, utmTemplate } from '@/core/links/compose';
import type { Change, Finding, KnownSource } from '@/core/links/findings';
import { lintLink } from '@/core/links/lint';
import { type LinkKind, type LinkParts, composeLink } from '@/core/links/parts';
import { type Proof, proveLink } from '@/core/links/proof';
import type { Labels, LinkFields, Utm } from '@/core/links/schema';
import type { SlotValue } from '@/core/links/values';
import { sourceTexts } from '@/core/links/values';
import type { Currency } from '@/core/money/currency';
import { parseAmount } from '@/core/money/text';
import type { LandingPage } from '@/core/offers/schema';
import { CARRIED, type Carried } from '@/core/placeholders/names';
import { compileRoute, joinAppended } from '@/core/routing/route';
import { examplesOf, namesOf, valuesOf } from '@/core/sources/schema';
import type { Day } from '@/core/time/calendar';
import type { Option } from '@/ui/form/Picker';

/** What the workbench knows of an offer: enough to prove a link in the browser, with the functions the edge uses. */
export interface ComposedOffer extends Option {
  landingPages: LandingPage[];
  landingHosts: string[];
  appended: string;
  fallback: string;
  live: boolean;
  /** Milliseconds; absent where the offer has no dates. */
  liveFrom?: number;
  liveUntil?: number;
  hold: Hold;
  events: string[];
}
/** What the workbench needs to know of the program. */
export interface Bench {
  /** The tracking hosts; the first is the one new links bear. */
  origins: string[];
  currency: Currency;
  offers: ComposedOffer[];
  sources: KnownSource[];
  rows: RateSheet['rows'];
  today: Day;
  /** The time for which the proof holds. */
  now: number;
}
export interface Draft {
  partner?: Option;
  channel?: Option;
  offer?: ComposedOffer;
  kind: LinkKind;
  landing: string;
  to: string;
  source?: KnownSource;
  values: Partial<Record<Carried, SlotValue>>;
  alias: string;
  labels: Labels;
  utm: Utm;
  utmForm: 'short' | 'long';
  /** Empty for the first tracking host. */
  host: string;
  /** By placeholder, or by slot for what is left to the partner. */
  examples: Record<string, string>;
}
export type DraftProblems = Record<string, string>;

export const EMPTY: Pick<
  Draft,
  'kind' | 'landing' | 'to' | 'values' | 'alias' | 'labels' | 'utm' | 'utmForm' | 'host' | 'examples'
> = {
  ...{
    kind: 'referral',
    landing: '',
    to: '',
    values: {},
    alias: '',
    labels: {},
    utm: {},
    utmForm: 'short',
    host: '',
    examples: {},
  },
};

/** Eight dots stand for the code, which is drawn when the link is issued. */
export const CODE_TO_COME = '········';

/** The draft as the use case takes it; what is not chosen yet is 0. */
export const draftFields = (draft: Draft): LinkFields => ({
  kind: draft.kind,
  partnerId: draft.partner?.id ?? 0,
  channelId: draft.channel?.id ?? 0,
  offerId: draft.offer?.id ?? 0,
  landing: draft.to.trim() === '' ? draft.landing : '',
  to: draft.to.trim(),
  values: draft.values,
  ...(draft.source && { names: namesOf(draft.source.preset) }),
  sourceId: draft.source?.id ?? null,
  alias: draft.alias.trim().toLowerCase(),
  labels: draft.labels,
  utm: draft.utm,
  utmForm: draft.utmForm,
  host: draft.host,
});

const codeOf = (option: Option | undefined, otherwise: string): string => option?.code ?? option?.about ?? otherwise;

function contextOf(draft: Draft, { origins }: Bench): ComposeContext {
  const pages = draft.offer?.landingPages ?? [];
  return {
    origin: draft.host || (origins[0] ?? ''),
    code: draft.alias.trim() || CODE_TO_COME,
    codes: {
      partner_code: codeOf(draft.partner, 'PARTNER'),
      channel_code: codeOf(draft.channel, 'CHANNEL'),
      offer_code: draft.offer?.about ?? 'OFFER',
    },
    landingPage: (pages.find(({ name }) => name === draft.landing) ?? pages[0])?.address ?? '',
  };
}

export const draftParts = (draft: Draft, bench: Bench): LinkParts => {
  const fields = draftFields(draft);
  // A page that is no address yet cannot be composed: the rest of the link is shown without it.
  const page = fields.to === '' || URL.canParse(fields.to) ? fields.to : '';
  return composeParts({ ...fields, to: page }, contextOf(draft, bench));
};

/** Everything about the draft that will not do what its author thinks, worked out as it is typed. */
export function draftFindings(draft: Draft, bench: Bench): Finding[] {
  const fields = draftFields(draft);
  return lintLink({
    ...{ kind: fields.kind, to: fields.to, values: fields.values, address: composeLink(draftParts(draft, bench)) },
    ...(fields.names && { names: fields.names }),
    ...(draft.offer && { offer: draft.offer }),
    ...(draft.source && { source: draft.source }),
    offers: bench.offers,
    sources: bench.sources,
    origins: bench.origins,
  });
}

export function draftProof(draft: Draft, bench: Bench): Proof | undefined {
  const { offer, to } = draft;
  if (!offer || (to.trim() !== '' && !URL.canParse(to.trim()))) return undefined;
  const fields = draftFields(draft);
  const context = contextOf(draft, bench);
  const parts = draftParts(draft, bench);
  const route = compileRoute({
    ...{ linkLive: true, partnerLive: true, offerLive: offer.live, fallback: offer.fallback },
    ...(offer.liveFrom !== undefined && { liveFrom: offer.liveFrom }),
    ...(offer.liveUntil !== undefined && { liveUntil: offer.liveUntil }),
    landingPage: context.landingPage,
    landingHosts: offer.landingHosts,
    trackingOrigins: bench.origins,
    appended: joinAppended(offer.appended, utmAtRedirect(fields) ? utmTemplate(fields.utm) : ''),
    ...((parts.to ?? fields.to) && { destination: parts.to ?? fields.to }),
    ...(parts.to && { issuedTo: parts.to }),
  });
  return proveLink(parts, route, context.codes, draft.examples, bench.now);
}

/** The placeholders and open slots for which the proof wants an example. */
export const wantedExamples = ({ values }: Draft): string[] => [
  ...new Set(
    CARRIED.flatMap((slot) => {
      const value = values[slot];
      if (!value) return [];
      return value.kind === 'partner' ? [slot] : sourceTexts(value);
    }),
  ),
];

/** The draft written for a source: its placeholders, names and examples. What was typed by hand stays. */
export function withSource(draft: Draft, source: KnownSource | undefined): Draft {
  const before = draft.source ? valuesOf(draft.source.preset) : {};
  const kept = Object.fromEntries(
    CARRIED.flatMap((slot) => {
      const value = draft.values[slot];
      return value && JSON.stringify(value) !== JSON.stringify(before[slot]) ? [[slot, value]] : [];
    }),
  );
  return {
    ...draft,
    source,
    values: { ...(source && valuesOf(source.preset)), ...kept },
    examples: { ...draft.examples, ...(source && examplesOf(source.preset)) },
  };
}

/** Does to the draft what a fix says. */
export function withChange(draft: Draft, change: Change, bench: Bench): Draft {
  const values = { ...draft.values };
  for (const slot of CARRIED) {
    if (!change.values || !(slot in change.values)) continue;
    const value = change.values[slot];
    if (value === undefined) delete values[slot];
    else values[slot] = value;
  }
  const changed: Draft = {
    ...draft,
    values,
    ...(change.to !== undefined && { to: change.to }),
    ...(change.kind && { kind: change.kind }),
    ...(change.offerId !== undefined && { offer: bench.offers.find(({ id }) => id === change.offerId) }),
  };
  const source = bench.sources.find(({ id }) => id === change.sourceId);
  return source ? withSource(changed, source) : changed;
}

/** What a conversion behind the draft would earn, by the sheet in force and without this month's volume. */
export function draftEarning(
  draft: Draft,
  { rows, currency, today }: Bench,
  sale: { event: string; amount: string },
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
