import {
  type ClickFacts,
  type Match,
  type UnmatchedReason,
  type VisitorClick,
  attribute,
  creditedClick,
} from '@/core/attribution/match';
import { conversionKey } from '@/core/conversions/repeat';
import { DAY_MS } from '@/core/time/days';
import type { CallRow } from '@/store/books/calls';
import type { CouponRow } from '@/store/books/coupons';
import type { ConversionRow, MatchedTo } from '@/store/books/conversions';
import type { OfferRow } from '@/store/books/offers';
import type { MatchableClick } from '@/store/traffic';
import { earn, isMatched, programDay } from './earning';
import { settleDecisions } from './settling';
import type { Stores } from './stores';

/** What a report or a stored conversion names, to find its partner by. */
export interface Asked {
  readonly clickId?: string;
  readonly coupon?: string;
  /** The page tag's. */
  readonly visitor?: string;
  /** An order may be a call that the exchange reported. */
  readonly order?: string;
  readonly event: string;
  /** Of the event. */
  readonly time: number;
}
export interface Found {
  readonly match: Match;
  /** The one that is named, or credited. */
  readonly click?: MatchableClick;
  readonly coupon?: CouponRow;
  readonly call?: CallRow;
  /** Of click or coupon, whichever matched or else is known. */
  readonly offerId?: number;
}

/** Clicks of a visitor that are looked at. */
const MOST_CLICKS = 200;

/** Looks up what is named and says by which of it the conversion finds its partner, or why by none. */
export function findPartner({ books, traffic }: Stores, programId: number, day: string, asked: Asked): Found {
  const seen = asked.clickId === undefined ? undefined : traffic.clickToMatch(asked.clickId);
  const click = seen?.programId === programId ? seen : undefined;
  const coupon = asked.coupon === undefined ? undefined : books.coupons.byCode(programId, asked.coupon);
  const closed = (partnerId: number): boolean => books.partners.byId(partnerId)?.state === 'closed';
  const hasEvent = (offer: OfferRow): boolean => offer.events.some(({ event }) => event === asked.event);
  const clickOffer = click && books.offers.byId(click.offerId);
  const couponOffer = coupon && books.offers.byId(coupon.offerId);
  const named = asked.order === undefined ? undefined : books.calls.byCallId(programId, asked.order);
  const callEvents = named && named.offerId !== null ? books.offers.byId(named.offerId)?.events : undefined;
  // An order of another kind may bear the same number.
  const call = callEvents?.some(({ event, kind }) => event === asked.event && kind === 'call') ? named : undefined;
  const facts = (of: MatchableClick, offer: OfferRow): ClickFacts => ({
    time: of.time,
    setAside: of.setAside !== null,
    partnerClosed: closed(of.partnerId),
    offerHasEvent: hasEvent(offer),
    clickWindowDays: offer.clickWindowDays,
    couponFirst: offer.couponFirst,
  });
  const seenOf = (visitor: string): { click: MatchableClick; facts: VisitorClick }[] =>
    traffic.clicksOfVisitor(visitor, MOST_CLICKS).flatMap((each) => {
      const offer = each.programId === programId ? books.offers.byId(each.offerId) : undefined;
      return offer
        ? [{ click: each, facts: { ...facts(each, offer), offerId: offer.id, credits: offer.creditedClick } }]
        : [];
    });
  const clicks = asked.visitor === undefined ? [] : seenOf(asked.visitor);
  const credited = creditedClick(
    clicks.map((each) => each.facts),
    asked.time,
  );
  const match = attribute(
    {
      ...(asked.clickId !== undefined && {
        click: {
          facts: click && clickOffer && facts(click, clickOffer),
        },
      }),
      ...(asked.visitor !== undefined && { visitor: 'reason' in credited ? credited : {} }),
      ...(call && call.partnerId !== null && { call: { partnerClosed: closed(call.partnerId) } }),
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
  const by = 'by' in match ? match.by : undefined;
  const ofVisitor = 'place' in credited ? clicks[credited.place]?.click : clicks.at(-1)?.click;
  const ofCall = call?.clickId ? traffic.clickToMatch(call.clickId) : undefined;
  const meant = by === 'visitor' ? ofVisitor : by === 'call' ? ofCall : (click ?? ofVisitor);
  const offers = { click, coupon, visitor: ofVisitor, call };
  const offerId = by ? offers[by]?.offerId : (click ?? coupon ?? ofVisitor)?.offerId;
  return {
    match,
    ...(meant && { click: meant }),
    ...(coupon && { coupon }),
    ...(call && { call }),
    ...(typeof offerId === 'number' && { offerId }),
  };
}

/** Whom a conversion belongs to by what was found; undefined where it belongs to nobody yet. */
export function belongsTo({ match, click, coupon, call }: Found): Omit<MatchedTo, 'clickId' | 'matchKey'> | undefined {
  if (!('by' in match)) return undefined;
  const owners = {
    click,
    visitor: click,
    coupon: coupon && { ...coupon, linkId: null },
    call: call && { ...call, linkId: click?.linkId ?? null },
  };
  const { offerId, partnerId, channelId, linkId } = owners[match.by] ?? {};
  if (offerId == null || partnerId == null || channelId == null) return undefined;
  return { offerId, partnerId, channelId, linkId: linkId ?? null, matchedBy: match.by };
}

/** The click that a conversion is kept with: the one it was credited to, else the one it names. */
export function clickOf({ match, click }: Found, named: string | undefined): string | null {
  const credited = 'by' in match && (match.by === 'visitor' || match.by === 'call');
  return (credited ? click?.clickId : undefined) ?? named ?? null;
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

/** Looks once more for the partner of a conversion by what it names. @returns whether it found one */
export function rematch(stores: Stores, conversion: ConversionRow, why: string): boolean {
  const { programId, clickId, coupon, visitor, orderRef, event, time } = conversion;
  const found = findPartner(stores, programId, programDay(stores, programId, time), {
    ...{ event, time },
    ...(clickId !== null && { clickId }),
    ...(coupon !== null && { coupon }),
    ...(visitor !== null && { visitor }),
    ...(orderRef !== null && { order: orderRef }),
  });
  const owner = belongsTo(found);
  if (!owner) return false;
  const by = clickOf(found, clickId ?? undefined);
  const matchKey = conversionKey(owner.offerId, event, orderRef ?? undefined, by ?? undefined) ?? null;
  return giveTo(stores, conversion.id, { ...owner, clickId: by, matchKey }, 'Brivet', why);
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
    if (conversion && rematch(stores, conversion, why)) matched += 1;
  }
  return matched;
}

/** A page may tell of a click or a visitor later than the merchant's server of the sale. */
const LATE_MS = DAY_MS;

/** Matches again what was reported lately of clicks and visitors that were not known then. @returns how many found their partner */
export function matchLate(stores: Stores, programId: number): number {
  const { conversions } = stores.books;
  const ids = conversions.unknownSince(programId, stores.now() - LATE_MS);
  const known = ids.filter((id) => {
    const { clickId, visitor } = conversions.plain(id) ?? {};
    const told =
      (clickId != null && stores.traffic.clickToMatch(clickId)) ||
      (visitor != null && stores.traffic.clicksOfVisitor(visitor, 1)[0]);
    return Boolean(told);
  });
  if (known.length === 0) return 0;
  return stores.books.inTransaction(
    () =>
      known.filter((id) => {
        const conversion = conversions.plain(id);
        return conversion?.unmatched === 'unknown_click' && rematch(stores, conversion, 'its click was told of later');
      }).length,
  );
}
