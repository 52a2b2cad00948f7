import type { Actor } from '@/services/actor';
import { issueLink } from '@/services/links';
import { createOffer } from '@/services/offers';
import {
  createChannel,
  createPartner,
  markDetailsChecked,
  putPayoutDetails,
  setPartnerState,
} from '@/services/partners';
import type { Stores } from '@/services/stores';
import { putSheetInForce } from '@/services/terms';
import { DEEP_PAGES, type DemoPartner, OFFERS, type OfferCode, PARTNERS, SEARCH_SLOTS } from './scenario';
import { demoSheet } from './terms';

/** A link somebody clicks, with how often and how well. */
export interface CastLink {
  code: string;
  offer: OfferCode;
  partner: string;
  search: boolean;
  weight: number;
  quality: number;
  /** Deep link, or the offer's landing page when empty. */
  to: string;
  /** A platform that was set up wrongly for a while and never filled its placeholders. */
  unfilled: boolean;
}

/** Creates offers, partners, channels and links, as the people of the program would. */
export function createCast(stores: Stores, manager: Actor, finance: Actor): CastLink[] {
  const offers = new Map(OFFERS.map((fields) => [fields.code, createOffer(stores, manager, fields).id]));
  const offer = (code: OfferCode): number => offers.get(code) ?? 0;
  const links: CastLink[] = [];
  for (const partner of PARTNERS) links.push(...createOne(stores, manager, finance, partner, offer));
  const studiomap = stores.books.partners.byCode(manager.programId, 'STUDIOMAP');
  const openDays = studiomap && stores.books.partners.channels(studiomap.id).find(({ code }) => code === 'OPEN');
  putSheetInForce(stores, manager, demoSheet(offer, openDays?.id ?? 0), stores.now());
  for (const { code, state } of PARTNERS) {
    const id = stores.books.partners.byCode(manager.programId, code)?.id ?? 0;
    if (state === 'paused') setPartnerState(stores, manager, id, 'paused');
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
  const { code, name, country, notes = '', ownMinimum = '', currency = 'EUR', state, account } = partner;
  const { id } = createPartner(stores, manager, {
    code,
    name,
    kind: partner.person ? 'person' : 'business',
    email: `pay@${code.toLowerCase()}.example`,
    country,
    payoutCurrency: currency,
    ownMinimum,
    notes,
  });
  if (state === 'refused') setPartnerState(stores, manager, id, 'refused', notes);
  if (state === 'applied' || state === 'refused') return [];
  setPartnerState(stores, manager, id, 'active');
  if (account) {
    putPayoutDetails(stores, finance, id, { holder: name, account });
    if (!partner.unchecked) markDetailsChecked(stores, finance, id);
  }
  return partner.channels.flatMap(([channelCode, channelName, kind, offerCode, weight]) => {
    const address = `https://${code.toLowerCase()}.example/`;
    const channel = createChannel(stores, manager, id, { code: channelCode, name: channelName, kind, address });
    const search = kind === 'search ads';
    const pages = ['', ...DEEP_PAGES[offerCode]];
    return pages.map((to, i): CastLink => {
      const slots = search
        ? SEARCH_SLOTS
        : i === 0
          ? {}
          : { sub1: { kind: 'fixed' as const, text: `2026-q${i + 2}_${kind.split(' ')[0]}` } };
      const link = issueLink(stores, manager, {
        partnerId: id,
        channelId: channel.id,
        offerId: offer(offerCode),
        slots,
        to,
      });
      return {
        code: link.code,
        offer: offerCode,
        partner: code,
        search,
        weight: weight / (i + 1),
        quality: partner.quality,
        to,
        unfilled: code === 'ADWINDLE' && i === 1,
      };
    });
  });
}
