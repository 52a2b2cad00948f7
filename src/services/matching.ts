import { type Match, type UnmatchedReason, attribute } from '@/core/attribution/match';
import { conversionKey } from '@/core/conversions/repeat';
import type { CouponRow } from '@/store/books/coupons';
import type { MatchedTo } from '@/store/books/conversions';
import type { OfferRow } from '@/store/books/offers';
import type { MatchableClick } from '@/store/traffic';
import { earn, isMatched, programDay } from './earning';
import { settleDecisions } from './settling';
import type { Stores } from './stores';

/** What a report or a stored conversion names, to find its partner by. */
export interface Asked {
  readonly clickId?: string;
  readonly coupon?: string;
  readonly event: string;
  /** Of the event. */
  readonly time: number;
}
export interface Found {
  readonly match: Match;
  readonly click?: MatchableClick;
  readonly coupon?: CouponRow;
  /** Of click or coupon, whichever matched or else is known. */
  readonly offerId?: number;
}

/** Looks up click and coupon and says by which of them the conversion finds its partner, or why by neither. */
export function findPartner({ books, traffic }: Stores, programId: number, day: string, asked: Asked): Found {
  const seen = asked.clickId === undefined ? undefined : traffic.clickToMatch(asked.clickId);
  const click = seen?.programId === programId ? seen : undefined;
  const coupon = asked.coupon === undefined ? undefined : books.coupons.byCode(programId, asked.coupon);
  const closed = (partnerId: number): boolean => books.partners.byId(partnerId)?.state === 'closed';
  const hasEvent = (offer: OfferRow): boolean => offer.events.some(({ event }) => event === asked.event);
  const clickOffer = click && books.offers.byId(click.offerId);
  const couponOffer = coupon && books.offers.byId(coupon.offerId);
  const match = attribute(
    {
      ...(asked.clickId !== undefined && {
        click: {
          facts: click &&
            clickOffer && {
              time: click.time,
              setAside: click.setAside !== null,
              partnerClosed: closed(click.partnerId),
              offerHasEvent: hasEvent(clickOffer),
              clickWindowDays: clickOffer.clickWindowDays,
              couponFirst: clickOffer.couponFirst,
            },
        },
      }),
      ...(asked.coupon !== undefined && {
        coupon: {
          facts: coupon &&
            couponOffer && {
              startsOn: coupon.startsOn,
              endsOn: coupon.endsOn,
              partnerClosed: closed(coupon.partnerId),
              offerHasEvent: hasEvent(couponOffer),
              couponFirst: couponOffer.couponFirst,
            },
        },
      }),
    },
    asked.time,
    day,
  );
  const byCoupon = 'by' in match && match.by === 'coupon';
  const offerId = byCoupon ? coupon?.offerId : (click?.offerId ?? coupon?.offerId);
  return { match, ...(click && { click }), ...(coupon && { coupon }), ...(offerId !== undefined && { offerId }) };
}

/** Whom a conversion belongs to by what was found; undefined where it belongs to nobody yet. */
export function belongsTo({ match, click, coupon }: Found): Omit<MatchedTo, 'clickId' | 'matchKey'> | undefined {
  if (!('by' in match)) return undefined;
  const owner = match.by === 'coupon' ? coupon && { ...coupon, linkId: null } : click;
  if (!owner) return undefined;
  const { offerId, partnerId, channelId, linkId } = owner;
  return { offerId, partnerId, channelId, linkId, matchedBy: match.by };
}

/** Gives an unmatched conversion its partner and books what it earned. Called within a transaction. */
export function giveTo(stores: Stores, id: number, to: MatchedTo, actor: string, why: string): boolean {
  const { conversions } = stores.books;
  if (!conversions.setMatch(id, to)) return false;
  conversions.addHistory(id, { time: stores.now(), actor, what: 'matched', detail: why });
  const conversion = conversions.plain(id);
  if (conversion && isMatched(conversion) && conversion.state === 'pending') {
    // One that was taken back before has its commission already.
    earn(stores, conversion, actor, stores.books.commissions.byConversion(id));
    settleDecisions(stores, id);
  }
  return true;
}

/**
 * Matches again what waited for a reason that is gone: a coupon was added, an event or days to an offer, a partner
 * taken back. Runs in the transaction of what removed the reason.
 * @returns how many found their partner
 */
export function matchAgain(
  stores: Stores,
  programId: number,
  asked: { reason: UnmatchedReason; offerId?: number; coupon?: string },
  why: string,
): number {
  const { conversions } = stores.books;
  let matched = 0;
  for (const id of conversions.unmatchedFor({ programId, ...asked })) {
    const conversion = conversions.plain(id);
    if (!conversion) continue;
    const { clickId, coupon, event, time, orderRef } = conversion;
    const found = findPartner(stores, programId, programDay(stores, programId, time), {
      ...{ event, time, ...(clickId !== null && { clickId }), ...(coupon !== null && { coupon }) },
    });
    const owner = belongsTo(found);
    const matchKey = conversionKey(owner?.offerId ?? 0, event, orderRef ?? undefined, clickId ?? undefined) ?? null;
    if (owner && giveTo(stores, id, { ...owner, clickId, matchKey }, 'Brivet', why)) matched += 1;
  }
  return matched;
}
