import { checkDeepLink } from '../links/destination';
import { type Destination, mergeParameters, splitDestination } from '../links/landing';
import { type ClickValues, CLICK_NAMES } from '../placeholders/names';
import { type Template, compileTemplate } from '../placeholders/template';

/** What the edge and the proof must know of a link to send a visitor on. */
export interface RouteSettings {
  readonly linkLive: boolean;
  readonly partnerLive: boolean;
  readonly offerLive: boolean;
  readonly landingPage: string;
  readonly landingHosts: readonly string[];
  readonly appended: string;
  /** Where visitors go when link, partner or offer is not live. */
  readonly fallback: string;
}

export interface Route {
  /** Compiled once per change of the settings, used on every click. */
  readonly settings: RouteSettings;
  readonly landing: Template;
  /** The landing page taken apart, when it carries no placeholder. */
  readonly fixedLanding?: Destination;
  readonly appended: Template;
}

export interface Choice {
  readonly via: 'deep_link' | 'landing_page' | 'fallback';
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

export function compileRoute(settings: RouteSettings): Route {
  const landing = compiled(settings.landingPage);
  const fixed = landing.names.length === 0 && { fixedLanding: splitDestination(landing.text) };
  return { settings, landing, ...fixed, appended: compiled(settings.appended) };
}

export const isLive = ({ linkLive, partnerLive, offerLive }: RouteSettings): boolean =>
  linkLive && partnerLive && offerLive;

/** Where this click goes: deep link if allowed, else the landing page; the fallback when something is not live. */
export function chooseDestination(route: Route, values: ClickValues, to: string | undefined): Choice {
  const { settings } = route;
  if (!isLive(settings)) return { via: 'fallback', address: settings.fallback, replaced: [] };
  const checked = to === undefined || to === '' ? undefined : checkDeepLink(to, settings.landingHosts);
  const target = checked?.ok
    ? splitDestination(checked.url.href)
    : (route.fixedLanding ?? splitDestination(route.landing.expand(values)));
  const landing = mergeParameters(target, route.appended.expand(values));
  return {
    via: checked?.ok ? 'deep_link' : 'landing_page',
    ...landing,
    ...(checked && !checked.ok && { toRefused: checked.reason }),
  };
}
