import { type Mix, type RoutingPlan, mixesOf } from '@/core/routing/plan';
import { shiftedWeights } from '@/core/routing/shift';
import { type Outlook, judge } from '@/core/routing/verdict';
import { countClicks, countConversions } from '@/core/reports/counting';
import { Grouping } from '@/core/reports/group';
import { type Group, NO_SUMS } from '@/core/reports/sums';
import type { Predicate } from '@/core/reports/block';
import { type Day, dayOf, daysBetween } from '@/core/time/days';
import type { PlanVersion } from '@/store/books/routing';
import type { Actor } from './actor';
import { predicatesOf } from './click_blocks';
import { planVersions, writePlan } from './routing';
import { type Stores, programOf, todayIn } from './stores';

/** A mix of two or more pages, and what the numbers say of it. */
export interface SplitTest {
  readonly rule: string;
  readonly name: string;
  readonly mix: Mix;
  /** Since when these pages have been dealt out; changes of weight do not begin anew. */
  readonly since: Day;
  readonly days: number;
  readonly outlook: Outlook;
  /** By page, what was earned. Minor units. */
  readonly commission: ReadonlyMap<string, number>;
  readonly clicks: ReadonlyMap<string, number>;
}

const livePages = ({ to }: Mix): string =>
  to
    .filter(({ on, weight }) => on && weight > 0)
    .map(({ page }) => page)
    .sort()
    .join('\n');

/** The first version from which on the mix of a rule has dealt out the same pages in the same round. */
function begun(versions: readonly PlanVersion[], rule: string): PlanVersion | undefined {
  const mixIn = (plan: RoutingPlan): Mix | undefined => mixesOf(plan).find((each) => each.rule === rule)?.mix;
  const [newest] = versions;
  const now = newest && mixIn(newest.plan);
  if (!now) return undefined;
  let first = newest;
  for (const version of versions) {
    const mix = mixIn(version.plan);
    if (!mix || livePages(mix) !== livePages(now) || mix.round !== now.round) break;
    first = version;
  }
  return first;
}

/** The mixes of an offer with two pages or more, each with its verdict. */
export function splitTests(stores: Stores, actor: Actor, offerId: number): SplitTest[] {
  return testsOf(stores, actor.programId, offerId, planVersions(stores, actor, offerId));
}

function testsOf(stores: Stores, programId: number, offerId: number, versions: readonly PlanVersion[]): SplitTest[] {
  const [newest] = versions;
  if (!newest) return [];
  const { timeZone } = programOf(stores, programId);
  const today = todayIn(stores, programId);
  return mixesOf(newest.plan).flatMap(({ rule, name, mix }): SplitTest[] => {
    const from = begun(versions, rule);
    if (!from || livePages(mix).split('\n').length < 2) return [];
    const since = dayOf(from.time, timeZone);
    const scope = { programId, offerId, partnerId: null, channelId: null, from: since, to: today };
    const ofRule: Predicate = { field: 'rule', exactly: rule, test: (value) => value === rule };
    const groups = new Grouping(['page'], [...predicatesOf(scope, 'all', []), ofRule]);
    stores.rollups.atOnce(() => {
      for (const block of stores.rollups.clicks.between(since, today)) groups.add(block, countClicks);
      for (const block of stores.rollups.conversions.between(since, today)) groups.add(block, countConversions);
    });
    const byPage = new Map<string, Group>(groups.result().map((group) => [group.by[0] ?? '', group]));
    const sumsOf = (page: string) => byPage.get(page) ?? { ...NO_SUMS };
    const pages = livePages(mix).split('\n');
    const arms = pages.map((page) => ({ page, uniques: sumsOf(page).uniques, conversions: sumsOf(page).conversions }));
    const days = daysBetween(since, today);
    return [
      {
        ...{ rule, name, mix, since, days, outlook: judge(arms, days) },
        commission: new Map(pages.map((page) => [page, sumsOf(page).commission])),
        clicks: new Map(pages.map((page) => [page, sumsOf(page).clicks])),
      },
    ];
  });
}
/**
 * Moves the weights of mixes that allow it, at most once a day; every move is a version of the plan.
 * @returns how many offers moved
 */
export function shiftWeights(stores: Stores, programId: number): number {
  let moved = 0;
  const { timeZone } = programOf(stores, programId);
  for (const offer of stores.books.offers.ofProgram(programId)) {
    const versions = stores.books.routing.versions(offer.id);
    const [newest] = versions;
    if (!newest || !mixesOf(newest.plan).some(({ mix }) => mix.shift)) continue;
    const shifted = versions.find(({ actor }) => actor === SHIFTER);
    if (shifted && dayOf(shifted.time, timeZone) === dayOf(stores.now(), timeZone)) continue;
    const said: string[] = [];
    const plan = testsOf(stores, programId, offer.id, versions).reduce((before, test) => {
      const to = shiftedWeights(test.mix, test.outlook);
      if (!to) return before;
      said.push(`${test.name || test.rule}: ${to.map(({ page, weight }) => `${page} ${weight} %`).join(', ')}`);
      return withMix(before, test.rule, { ...test.mix, to });
    }, newest.plan);
    if (said.length === 0) continue;
    writePlan(stores, SHIFTER, { ...newest, plan, reason: said.join('; ') });
    moved += 1;
  }
  return moved;
}

/** Who moves weights, in the versions of a plan. */
export const SHIFTER = 'Brivet';

function withMix(plan: RoutingPlan, rule: string, mix: Mix): RoutingPlan {
  if (rule === 'default') return { ...plan, otherwise: mix };
  return { ...plan, rules: plan.rules.map((each) => (each.id === rule ? { ...each, mix } : each)) };
}
