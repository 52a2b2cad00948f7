import { utmAtRedirect, utmTemplate } from '@/core/links/compose';
import { redirects } from '@/core/links/parts';
import { landingPageOf } from '@/core/offers/schema';
import { type RouteSettings, joinAppended } from '@/core/routing/route';
import { type Day, addDays, startOfDay } from '@/core/time/days';
import type { RouteRow } from '@/store/books/links';
import type { PlanVersion } from '@/store/books/routing';

/** The first instant of an offer's dates, and the first after them; absent where it has none. */
export function offerTimes({ startsOn, endsOn }: { startsOn: string; endsOn: string }, timeZone: string) {
  return {
    ...(startsOn !== '' && { liveFrom: startOfDay(startsOn as Day, timeZone) }),
    ...(endsOn !== '' && { liveUntil: startOfDay(addDays(endsOn as Day, 1), timeZone) }),
  };
}

/** What the core needs to route a link, from what the books say of it. */
export function routeSettings(row: RouteRow, plan: PlanVersion | undefined): RouteSettings {
  return {
    linkLive: row.linkState === 'live',
    partnerLive: row.partnerState === 'active',
    offerLive: row.offerState === 'live',
    ...offerTimes(row, row.timeZone),
    landingPage: landingPageOf(row, row.landing),
    landingHosts: row.landingHosts,
    trackingOrigins: [row.trackingOrigin, ...row.otherOrigins],
    appended: joinAppended(row.appended, utmAtRedirect(row) ? utmTemplate(row.utm) : ''),
    ...(row.destination !== '' && { destination: row.destination }),
    ...(redirects(row.kind) && row.parts.to !== undefined && { issuedTo: row.parts.to }),
    fallback: new URL(row.offerFallback || row.programFallback).href,
    ...(plan && {
      routing: {
        plan: plan.plan,
        pages: row.landingPages,
        timeZone: row.timeZone,
        namesPage: row.landing !== '',
        link: {
          partner: String(row.partnerId),
          channel: String(row.channelId),
          source: row.sourceId === null ? '' : String(row.sourceId),
        },
      },
    }),
  };
}
