import { addDays, type Day } from '@/core/time/days';
import { hostCovers } from '@/core/links/destination';
import { readNames, readQuery, redirects } from '@/core/links/parts';
import { type Condition, EMPTY_PLAN, type RoutingPlan, mixesOf, planSchema } from '@/core/routing/plan';
import { type Choice, type Route, chooseDestination, compileRoute } from '@/core/routing/route';
import type { Visitor } from '@/core/routing/conditions';
import { bucketOf } from '@/core/routing/weights';
import { check } from '@/core/schema/problems';
import type { OfferRow } from '@/store/books/offers';
import type { PlanVersion } from '@/store/books/routing';
import { type Actor, audit, requireOwn, requireRight } from './actor';
import { eachClick } from './clicks';
import { readOffer } from './offers';
import { changes, checked } from './programs';
import { conflict, invalid, invalidField } from './refusal';
import { routeSettings } from './routes';
import { type Stores, programOf, todayIn } from './stores';

/** The plan in force; version 0 is that of an offer which never had one. */
export function readPlan(stores: Stores, actor: Actor, offerId: number): PlanVersion {
  const none = { offerId, version: 0, plan: EMPTY_PLAN, actor: '', reason: '', time: 0 };
  return stores.books.routing.planOf(plannedOffer(stores, actor, offerId).id) ?? none;
}

/** Partners see offers, and not how the program deals out their visitors. */
const plannedOffer = (stores: Stores, actor: Actor, offerId: number): OfferRow =>
  requireOwn(stores, actor, stores.books.offers.byId(offerId), `offer ${offerId}`);

export function planVersions(stores: Stores, actor: Actor, offerId: number): PlanVersion[] {
  return stores.books.routing.versions(plannedOffer(stores, actor, offerId).id);
}

/** Checks a plan against its schema and against what the offer and the books have. */
export function checkedPlan(stores: Stores, actor: Actor, offer: OfferRow, input: unknown): RoutingPlan {
  const plan = checked(check(planSchema, input));
  const problems = planProblems(stores, actor, offer, plan);
  if (problems.length > 0) throw invalid(problems);
  return plan;
}

function planProblems({ books }: Stores, { programId }: Actor, offer: OfferRow, plan: RoutingPlan) {
  const names = new Set(offer.landingPages.map(({ name }) => name));
  const lacking = (at: string, to: RoutingPlan['otherwise']['to']) =>
    to.flatMap(({ page }, i) =>
      names.has(page)
        ? []
        : [{ field: `${at}.to.${i}.page`, reason: `${offer.name} has no landing page named “${page}”.` }],
    );
  const known = ({ field, ...rest }: Condition): boolean => {
    const ids = 'values' in rest ? rest.values.map(Number) : [];
    if (field === 'partner') return ids.every((id) => books.partners.byId(id)?.programId === programId);
    if (field === 'source') return ids.every((id) => books.sources.byId(id)?.programId === programId);
    if (field !== 'channel') return true;
    return ids.every((id) => books.partners.byId(books.partners.channel(id)?.partnerId ?? 0)?.programId === programId);
  };
  return [
    ...plan.rules.flatMap(({ mix, when }, i) => [
      ...lacking(`rules.${i}.mix`, mix.to),
      ...when.flatMap((each, j) =>
        known(each)
          ? []
          : [{ field: `rules.${i}.when.${j}`, reason: `One of these does not exist here (${each.field}).` }],
      ),
    ]),
    ...lacking('otherwise', plan.otherwise.to),
  ];
}

/**
 * Puts a new version of the plan in force.
 * @param basedOn the version that was edited: another one that came meanwhile is not overwritten unseen
 */
export function savePlan(
  stores: Stores,
  actor: Actor,
  offerId: number,
  { plan: input, basedOn, reason = '' }: { plan: unknown; basedOn?: number; reason?: string },
): PlanVersion {
  requireRight(stores, actor, 'manage_setup', `offer ${offerId}`);
  const offer = readOffer(stores, actor, offerId);
  const before = readPlan(stores, actor, offerId);
  if (basedOn !== undefined && basedOn !== before.version)
    throw conflict(
      `${before.actor} saved version ${before.version} meanwhile. Yours is still here: open the page anew beside it and put in what differs.`,
    );
  const plan = checkedPlan(stores, actor, offer, input);
  const overflowHost = plan.overflow === '' ? undefined : new URL(plan.overflow);
  const hosts = [programOf(stores, actor.programId).trackingOrigin, ...programOf(stores, actor.programId).otherOrigins];
  if (overflowHost && hosts.some((origin) => hostCovers(new URL(origin).host, overflowHost)))
    throw invalidField('overflow', 'This is a tracking host itself: the visitor would come back here.');
  if (JSON.stringify(plan) === JSON.stringify(before.plan)) return before;
  return writePlan(stores, actor.name, { ...before, plan, reason }, () =>
    audit(stores, actor, 'changed', `routing of offer ${offerId}`, changes(before.plan, plan)),
  );
}

/** Writes the next version. */
export function writePlan(
  stores: Stores,
  by: string,
  from: PlanVersion,
  also: () => void = () => undefined,
): PlanVersion {
  const next = { ...from, version: from.version + 1, actor: by, time: stores.now() };
  stores.books.inTransaction(() => {
    stores.books.routing.insertPlan(next);
    also();
  });
  return next;
}

/** An earlier version in force again, as a new one. */
export function restorePlan(stores: Stores, actor: Actor, offerId: number, version: number): PlanVersion {
  const found = planVersions(stores, actor, offerId).find((each) => each.version === version);
  if (!found) throw invalidField('version', `There is no version ${version} of this plan.`);
  return savePlan(stores, actor, offerId, { plan: found.plan, reason: `as version ${version}` });
}

/** What a plan would have done with the counted clicks of a day. */
export interface Replayed {
  readonly day: Day;
  readonly clicks: number;
  readonly changed: number;
  /** Clicks by where they would have gone, and where the plan in force sends them; most first. */
  readonly to: readonly {
    readonly rule: string;
    readonly page: string;
    readonly now: number;
    readonly before: number;
  }[];
}

const MOST_REPLAYED = 50_000;

function* firstOf<T>(pages: Generator<T[]>, most: number): Generator<T> {
  let seen = 0;
  for (const page of pages)
    for (const each of page) {
      if (seen++ >= most) return;
      yield each;
    }
}

/** Sends yesterday's clicks of an offer through a plan and through the one in force. Caps are left out. */
export function replayPlan(stores: Stores, actor: Actor, offerId: number, input: unknown): Replayed {
  const offer = readOffer(stores, actor, offerId);
  const plan = checkedPlan(stores, actor, offer, input);
  const day = addDays(todayIn(stores, actor.programId), -1);
  const inForce = readPlan(stores, actor, offerId);
  const routes = new Map<number, [now: Route, before: Route] | undefined>();
  const routesOf = (linkId: number): [Route, Route] | undefined => {
    if (!routes.has(linkId)) {
      const link = stores.books.links.byId(linkId);
      const row = link && redirects(link.kind) ? stores.books.links.route(link.code) : undefined;
      // As if everything were live: a paused link would go to the fallback under either plan.
      const live = row && {
        ...row,
        linkState: 'live',
        partnerState: 'active',
        offerState: 'live',
        startsOn: '',
        endsOn: '',
      };
      routes.set(
        linkId,
        live && [compileRoute(routeSettings(live, { ...inForce, plan })), compileRoute(routeSettings(live, inForce))],
      );
    }
    return routes.get(linkId);
  };
  const counts = new Map<string, { rule: string; page: string; now: number; before: number }>();
  const count = (choice: Choice, which: 'now' | 'before'): void => {
    const [rule, page] = [choice.rule ?? choice.via, choice.page ?? ''];
    const row = counts.get(`${rule} ${page}`) ?? { rule, page, now: 0, before: 0 };
    row[which] += 1;
    counts.set(`${rule} ${page}`, row);
  };
  let [clicks, changed] = [0, 0];
  const scope = { from: day, to: day, partnerId: null, channelId: null, offerId };
  for (const click of firstOf(eachClick(stores, actor, scope, { shelf: 'counted', filters: [] }), MOST_REPLAYED)) {
    const pair = routesOf(click.linkId);
    if (!pair) continue;
    const { slots, to } = readQuery(click.query, readNames(click.names));
    const visitor: Visitor = {
      bucket: bucketOf(click.visitor),
      country: () => click.facts.country,
      device: () => click.facts.device,
      os: () => click.facts.os,
      language: () => click.facts.language,
    };
    const [now, before] = pair.map((route) =>
      chooseDestination(route, { values: { ...slots, click_id: click.clickId }, to, now: click.time, visitor }),
    );
    if (!now || !before) continue;
    clicks += 1;
    if (now.address !== before.address) changed += 1;
    count(now, 'now');
    count(before, 'before');
  }
  return { day, clicks, changed, to: [...counts.values()].sort((a, b) => b.now + b.before - a.now - a.before) };
}

/** What a rule is called: its name, or what it is. */
export const ruleNames = (plan: RoutingPlan = EMPTY_PLAN): Map<string, string> =>
  new Map(mixesOf(plan).map(({ rule, name }, i) => [rule, name || `Rule ${i + 1}`]));
