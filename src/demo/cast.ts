import type { LinkParts } from '@/core/links/parts';
import type { LinkFields } from '@/core/links/schema';
import { namesOf, valuesOf } from '@/core/sources/schema';
import type { Actor } from '@/services/actor';
import { apply, publishTerms } from '@/services/applications';
import { createCoupon } from '@/services/coupons';
import { createChannel } from '@/services/channels';
import { issueLink } from '@/services/links';
import { createMailCopy } from '@/services/mail_copy';
import { createOffer } from '@/services/offers';
import {
  createPartner,
  markDetailsChecked,
  partnerFields,
  putPayoutDetails,
  setPartnerState,
  updatePartner,
} from '@/services/partners';
import type { Stores } from '@/services/stores';
import { putSheetInForce } from '@/services/terms';
import type { SourceRow } from '@/store/books/sources';
import { DEEP_PAGES, OFFERS, type OfferCode, COUPONS } from './scenario/offers';
import { ALIASES, CHANNEL_SOURCES, type DemoPartner, PARTNERS } from './scenario/partners';
import { APPLICANTS, MAIL_COPY, TERMS } from './scenario/program';
import { demoSheet } from './terms';

/** A link somebody clicks, with how often and how well. */
export interface CastLink {
  code: string;
  parts: LinkParts;
  offer: OfferCode;
  partner: string;
  search: boolean;
  weight: number;
  quality: number;
  /** A platform that was set up wrongly for a while and never filled its placeholders. */
  unfilled: boolean;
}

/** Creates offers, partners, channels and links, as the people of the program would. */
export function createCast(stores: Stores, manager: Actor, finance: Actor): CastLink[] {
  const terms = publishTerms(stores, manager, { text: TERMS });
  const offers = new Map(OFFERS.map((fields) => [fields.code, createOffer(stores, manager, fields).id]));
  const offer = (code: OfferCode): number => offers.get(code) ?? 0;
  const links: CastLink[] = [];
  for (const partner of PARTNERS) links.push(...createOne(stores, manager, finance, partner, offer));
  for (const fields of APPLICANTS)
    apply(stores, manager.programId, { ...fields, termsVersion: terms.version, accepted: true });
  for (const { code, partner, channel } of COUPONS) {
    const whose = stores.books.partners.byCode(manager.programId, partner);
    const found = whose && stores.books.partners.channelByCode(whose.id, channel);
    if (found)
      createCoupon(stores, manager, { code, partnerId: whose.id, channelId: found.id, offerId: offer('GLAZE') });
  }
  createMailCopy(stores, manager, { ...MAIL_COPY, offerId: offer('GLAZE'), to: '' });
  const studiomap = stores.books.partners.byCode(manager.programId, 'STUDIOMAP');
  const openDays = studiomap && stores.books.partners.channelByCode(studiomap.id, 'OPEN');
  putSheetInForce(stores, manager, demoSheet(offer, openDays?.id ?? 0), stores.now());
  for (const { code, state, referrer } of PARTNERS) {
    const partner = stores.books.partners.byCode(manager.programId, code);
    if (partner && referrer)
      updatePartner(stores, manager, partner.id, { ...partnerFields(stores, partner), referrer });
    if (partner && state === 'paused') setPartnerState(stores, manager, partner.id, 'paused');
  }
  return links;
}

function createOne(
  stores: Stores,
  manager: Actor,
  finance: Actor,
  partner: DemoPartner,
  offer: (code: OfferCode) => number,
): CastLink[] {
  const { code, name, country, notes = '', ownMinimum = '', currency = 'EUR', state, account, group = '' } = partner;
  const { id } = createPartner(stores, manager, {
    code,
    name,
    kind: partner.person ? 'person' : 'business',
    email: `pay@${code.toLowerCase()}.example`,
    country,
    payoutCurrency: currency,
    ownMinimum,
    notes,
    group,
  });
  if (state === 'refused') {
    setPartnerState(stores, manager, id, 'refused', notes);
    return [];
  }
  setPartnerState(stores, manager, id, 'active');
  if (account) {
    putPayoutDetails(stores, finance, id, { holder: name, account });
    if (!partner.unchecked) markDetailsChecked(stores, finance, id);
  }
  return partner.channels.flatMap((channel) => channelLinks(stores, manager, partner, id, channel, offer));
}

function sourceOf(
  stores: Stores,
  manager: Actor,
  partner: string,
  channel: string,
  kind: string,
): SourceRow | undefined {
  const name = kind === 'search ads' ? 'Quillsearch' : CHANNEL_SOURCES[`${partner}/${channel}`];
  const id = name === undefined ? undefined : stores.books.sources.byName(manager.programId, name);
  return id === undefined ? undefined : stores.books.sources.byId(id);
}

/** A link to the landing page, and one to each page of the offer that partners like to point at. */
function channelLinks(
  stores: Stores,
  manager: Actor,
  { code: partnerCode, quality }: DemoPartner,
  partnerId: number,
  [code, name, kind, offerCode, weight]: DemoPartner['channels'][number],
  offer: (code: OfferCode) => number,
): CastLink[] {
  const source = sourceOf(stores, manager, partnerCode, code, kind);
  const address = `https://${partnerCode.toLowerCase()}.example/`;
  const channel = createChannel(stores, manager, partnerId, {
    code,
    name,
    kind,
    address,
    sourceId: source?.id ?? null,
  });
  const gone = code === 'TABLE' ? ['https://larkmoor.example/kilns/studio-40'] : [];
  return ['', ...DEEP_PAGES[offerCode], ...gone].map((to, i): CastLink => {
    const carried: Pick<LinkFields, 'values' | 'names' | 'sourceId'> = source
      ? { values: valuesOf(source.preset), names: namesOf(source.preset), sourceId: source.id }
      : { values: i === 0 ? {} : { sub1: { kind: 'fixed', text: `2026-q${i + 2}_${kind.split(' ')[0]}` } } };
    const link = issueLink(stores, manager, {
      ...carried,
      partnerId,
      channelId: channel.id,
      offerId: offer(offerCode),
      to,
      alias: (i === 0 && ALIASES[`${partnerCode}/${code}`]) || '',
      labels: kind === 'search ads' ? { campaign: `${offerCode.toLowerCase()}-autumn`, tags: ['paid'] } : {},
      utm: kind === 'newsletter' ? { source: 'partner', medium: 'email', campaign: '{channel_code}' } : {},
    });
    return {
      code: link.code,
      parts: link.parts,
      offer: offerCode,
      partner: partnerCode,
      search: kind === 'search ads',
      weight: weight / (i + 1),
      quality,
      unfilled: partnerCode === 'ADWINDLE' && i === 1,
    };
  });
}
