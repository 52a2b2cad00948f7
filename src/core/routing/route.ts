import { type Checked, checkDeepLink } from '../links/destination';
import { type Destination, mergeParameters, splitDestination } from '../links/landing';
import { type ClickValues, CLICK_NAMES } from '../placeholders/names';
import { type Template, compileTemplate } from '../placeholders/template';
import type { Instant } from '../time/days';

/** What the edge and the proof must know of a link to send a visitor on. */
export interface RouteSettings {
  readonly linkLive: boolean;
  readonly partnerLive: boolean;
  readonly offerLive: boolean;
  /** The offer's dates, from the first instant to before the last; absent where it has none. */
  readonly liveFrom?: Instant;
  readonly liveUntil?: Instant;
  readonly landingPage: string;
  readonly landingHosts: readonly string[];
  /** Never a destination: a link that led to a link would lead in a circle. */
  readonly trackingOrigin: string;
  readonly appended: string;
  /** The page this link leads to instead of the landing page; it may have been changed since it was issued. */
  readonly destination?: string;
  /** The deep link as it was issued: where it arrives unchanged, it means the link's destination. */
  readonly issuedTo?: string;
  /** Where visitors go when link, partner or offer is not live. */
  readonly fallback: string;
}

export interface Route {
  /** Compiled once per change of the settings, used on every click. */
  readonly settings: RouteSettings;
  readonly landing: Template;
  /** The landing page taken apart, when it carries no placeholder. */
  readonly fixedLanding?: Destination;
  /** The link's own page taken apart, when it has one that may be followed. */
  readonly own?: Destination;
  readonly appended: Template;
}

export interface Choice {
  /** `destination` is the page kept with the link, `deep_link` one that the address carried. */
  readonly via: 'deep_link' | 'destination' | 'landing_page' | 'fallback';
  readonly address: string;
  readonly replaced: readonly string[];
  /** Why a deep link that was asked for is not followed. */
  readonly toRefused?: string;
}

const compiled = (text: string): Template => {
  const result = compileTemplate(text, CLICK_NAMES);
  if (!result.ok) throw new Error(`A stored template cannot be read: ${result.reason}`);
  return result.template;
};

function checkPage(page: string, { landingHosts, trackingOrigin }: RouteSettings): Checked {
  const checked = checkDeepLink(page, landingHosts);
  if (!checked.ok || checked.url.origin !== trackingOrigin) return checked;
  return { ok: false, reason: `"${checked.url.host}" is the tracking host itself: the visitor would come back here.` };
}

export function compileRoute(settings: RouteSettings): Route {
  const landing = compiled(settings.landingPage);
  const fixed = landing.names.length === 0 && { fixedLanding: splitDestination(landing.text) };
  // The hosts may have changed since the page was chosen: it is checked again, and the landing page stands in for it.
  const own = settings.destination ? checkPage(settings.destination, settings) : undefined;
  return {
    settings,
    landing,
    ...fixed,
    ...(own?.ok && { own: splitDestination(own.url.href) }),
    appended: compiled(settings.appended),
  };
}

export function isLive(
  { linkLive, partnerLive, offerLive, liveFrom, liveUntil }: RouteSettings,
  now: Instant,
): boolean {
  return (
    linkLive &&
    partnerLive &&
    offerLive &&
    (liveFrom === undefined || now >= liveFrom) &&
    (liveUntil === undefined || now < liveUntil)
  );
}

/** Where this click goes: deep link if allowed, else the link's own page, else the landing page; the fallback when something is not live. */
export function chooseDestination(route: Route, values: ClickValues, to: string | undefined, now: Instant): Choice {
  const { settings } = route;
  if (!isLive(settings, now)) return { via: 'fallback', address: settings.fallback, replaced: [] };
  const asked = to === undefined || to === '' || to === settings.issuedTo ? undefined : to;
  const checked = asked === undefined ? undefined : checkPage(asked, settings);
  const target = checked?.ok
    ? splitDestination(checked.url.href)
    : (route.own ?? route.fixedLanding ?? splitDestination(route.landing.expand(values)));
  const landing = mergeParameters(target, route.appended.expand(values));
  const via = checked?.ok ? 'deep_link' : route.own ? 'destination' : 'landing_page';
  const refused = checked ?? (to && !route.own ? checkPage(to, settings) : undefined);
  return { via, ...landing, ...(refused && !refused.ok && { toRefused: refused.reason }) };
}

/** Two lists of appended parameters as one: the offer's, and the UTM parameters kept with a link. */
export const joinAppended = (offer: string, link: string): string =>
  [offer, link].filter((each) => each !== '').join('&');
