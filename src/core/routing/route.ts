import { type Checked, checkDeepLink } from '../links/destination';
import { type Destination, mergeParameters, splitDestination } from '../links/landing';
import type { LandingPage } from '../offers/schema';
import { type ClickValues, CLICK_NAMES } from '../placeholders/names';
import { type Template, compileTemplate } from '../placeholders/template';
import type { Instant } from '../time/days';
import { type WallClock, wallClock } from '../time/zones';
import { type LinkFacts, type Visitor, firstFailed, isLinkField } from './conditions';
import { DEFAULT_RULE, type Mix, type RoutingPlan, type Rule } from './plan';
import { type Dealt, deal, prepareDeal } from './weights';

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
  /** Never destinations: a link that led to a link would lead in a circle. */
  readonly trackingOrigins: readonly string[];
  readonly appended: string;
  /** The page this link leads to instead of the landing page; it may have been changed since it was issued. */
  readonly destination?: string;
  /** The deep link as it was issued: where it arrives unchanged, it means the link's destination. */
  readonly issuedTo?: string;
  /** Where visitors go when link, partner or offer is not live. */
  readonly fallback: string;
  readonly routing?: RoutingSettings;
}

/** How the offer deals out its visitors. */
export interface RoutingSettings {
  readonly plan: RoutingPlan;
  readonly pages: readonly LandingPage[];
  readonly link: LinkFacts;
  readonly timeZone: string;
  /** The link names a landing page of its own: only rules that say so take its visitors elsewhere. */
  readonly namesPage: boolean;
}

/** A landing page ready to be filled. */
interface Page {
  readonly name: string;
  readonly template: Template;
  /** Taken apart, when it carries no placeholder. */
  readonly fixed?: Destination;
}
interface ReadyRule {
  readonly rule: Pick<Rule, 'id' | 'when' | 'overOwn'>;
  readonly deal: readonly Dealt<Page>[];
}

export interface Route {
  /** Compiled once per change of the settings, used on every click. */
  readonly settings: RouteSettings;
  readonly landing: Page;
  /** The link's own page taken apart, when it has one that may be followed. */
  readonly own?: Destination;
  readonly appended: Template;
  readonly rules: readonly ReadyRule[];
  readonly otherwise: readonly Dealt<Page>[];
  readonly overflow?: Destination;
}

/** One visitor before a route. */
export interface Asking {
  readonly values: ClickValues;
  /** The deep link that the address carried. */
  readonly to?: string;
  readonly now: Instant;
  /** Absent where nobody in particular asks: no rule takes nobody. */
  readonly visitor?: Visitor;
  /** A cap of the offer, or of the visitor, is used up. */
  readonly capped?: boolean;
}

export interface Choice {
  /** `destination` is the page kept with the link, `deep_link` one that the address carried. */
  readonly via: 'deep_link' | 'destination' | 'rule' | 'landing_page' | 'overflow' | 'fallback';
  readonly address: string;
  readonly replaced: readonly string[];
  /** Why a deep link that was asked for is not followed. */
  readonly toRefused?: string | undefined;
  /** ID of the rule that took the visitor, 'default' for the mix of everybody else. */
  readonly rule?: string | undefined;
  /** Name of the landing page that was dealt. */
  readonly page?: string | undefined;
}

const compiled = (text: string): Template => {
  const result = compileTemplate(text, CLICK_NAMES);
  if (!result.ok) throw new Error(`A stored template cannot be read: ${result.reason}`);
  return result.template;
};
const pageOf = ({ name, address }: LandingPage): Page => {
  const template = compiled(address);
  return { name, template, ...(template.names.length === 0 && { fixed: splitDestination(template.text) }) };
};

function checkPage(page: string, { landingHosts, trackingOrigins }: RouteSettings): Checked {
  const checked = checkDeepLink(page, landingHosts);
  if (!checked.ok || !trackingOrigins.includes(checked.url.origin)) return checked;
  return { ok: false, reason: `"${checked.url.host}" is the tracking host itself: the visitor would come back here.` };
}

export function compileRoute(settings: RouteSettings): Route {
  // The hosts may have changed since the page was chosen: it is checked again, and the landing page stands in for it.
  const own = settings.destination ? checkPage(settings.destination, settings) : undefined;
  return {
    settings,
    landing: pageOf({ name: '', address: settings.landingPage }),
    ...(own?.ok && { own: splitDestination(own.url.href) }),
    appended: compiled(settings.appended),
    ...compilePlan(settings.routing),
  };
}

/** What asks for the link alone is answered here, so that a click is held against as little as possible. */
function compilePlan(routing: RoutingSettings | undefined): Pick<Route, 'rules' | 'otherwise' | 'overflow'> {
  if (!routing) return { rules: [], otherwise: [] };
  const { plan, pages, link } = routing;
  const ready = new Map(pages.map((page) => [page.name, pageOf(page)]));
  const dealOf = (rule: string, { to, round }: Mix) => prepareDeal(to, rule, round, (page) => ready.get(page));
  const rules = plan.rules.flatMap((rule): ReadyRule[] => {
    const fits = rule.when.every(
      (each) => !isLinkField(each.field) || !('is' in each) || each.values.includes(link[each.field]) === each.is,
    );
    const among = fits && rule.on ? dealOf(rule.id, rule.mix) : [];
    if (among.length === 0) return [];
    const { id, overOwn } = rule;
    return [{ rule: { id, overOwn, when: rule.when.filter(({ field }) => !isLinkField(field)) }, deal: among }];
  });
  return {
    rules,
    otherwise: dealOf(DEFAULT_RULE, plan.otherwise),
    ...(plan.overflow !== '' && { overflow: splitDestination(plan.overflow) }),
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

const fill = (page: Page, values: ClickValues): Destination =>
  page.fixed ?? splitDestination(page.template.expand(values));

/** Where a visitor is to go before our parameters are merged in. */
type Target = Pick<Choice, 'via' | 'rule' | 'page'> & { destination: Destination };

/**
 * Where this click goes: live? caps? then the rules from the top; a page of the link's own only yields to rules that
 * say so; everybody else is dealt out by weight, or sees the offer's first landing page.
 */
export function chooseDestination(route: Route, { values, to, now, visitor, capped }: Asking): Choice {
  const { settings } = route;
  if (!isLive(settings, now)) return { via: 'fallback', address: settings.fallback, replaced: [] };
  if (capped) {
    if (!route.overflow) return { via: 'overflow', address: settings.fallback, replaced: [] };
    return { via: 'overflow', ...mergeParameters(route.overflow, route.appended.expand(values)) };
  }
  const asked = to === undefined || to === '' || to === settings.issuedTo ? undefined : to;
  const checked = asked === undefined ? undefined : checkPage(asked, settings);
  const own: Target | undefined = checked?.ok
    ? { via: 'deep_link', destination: splitDestination(checked.url.href) }
    : route.own && { via: 'destination', destination: route.own };
  const target = ruled(route, own !== undefined, values, now, visitor) ?? own ?? dealt(route, values, visitor);
  const refused = checked ?? (to && !route.own ? checkPage(to, settings) : undefined);
  const { address, replaced } = mergeParameters(target.destination, route.appended.expand(values));
  // Field by field: on the path of every redirect, copying objects into one another costs more than the choice.
  return {
    via: target.via,
    address,
    replaced,
    rule: target.rule,
    page: target.page,
    toRefused: refused && !refused.ok ? refused.reason : undefined,
  };
}

function ruled(
  { rules, settings: { routing } }: Route,
  hasOwn: boolean,
  values: ClickValues,
  now: Instant,
  visitor: Visitor | undefined,
): Target | undefined {
  if (rules.length === 0 || !visitor || !routing) return undefined;
  const clock = (): WallClock => wallClock(now, routing.timeZone);
  for (const { rule, deal: among } of rules) {
    if ((hasOwn || routing.namesPage) && !rule.overOwn) continue;
    if (firstFailed(rule, routing.link, visitor, clock)) continue;
    const page = deal(among, visitor.bucket);
    if (page) return { via: 'rule', rule: rule.id, page: page.name, destination: fill(page, values) };
  }
  return undefined;
}

function dealt({ otherwise, landing, settings }: Route, values: ClickValues, visitor: Visitor | undefined): Target {
  const page = settings.routing?.namesPage
    ? undefined
    : visitor
      ? deal(otherwise, visitor.bucket)
      : [...otherwise].sort((a, b) => b.weight - a.weight)[0]?.target;
  if (!page) return { via: 'landing_page', destination: fill(landing, values) };
  return { via: 'landing_page', rule: DEFAULT_RULE, page: page.name, destination: fill(page, values) };
}

/** Two lists of appended parameters as one: the offer's, and the UTM parameters kept with a link. */
export const joinAppended = (offer: string, link: string): string =>
  [offer, link].filter((each) => each !== '').join('&');
