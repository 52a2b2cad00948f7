import Joi from 'joi';
import { type Dimension, type Filter, dimensionWord, isDimension } from '@/core/reports/columns';
import { MOST_ROWS } from '@/core/reports/block';
import { countClicks, countConversions } from '@/core/reports/counting';
import type { SortFigure } from '@/core/reports/figure';
import { Grouping } from '@/core/reports/group';
import type { Group, Sums } from '@/core/reports/sums';
import { layoutOf } from '@/core/links/values';
import { SUB_SLOTS } from '@/core/placeholders/names';
import { type Actor, requireRight } from './actor';
import { predicatesOf, predicatesWithin, withParts } from './click_blocks';
import type { HelpOrder, Helper } from './reports/sharing';
import { type Scope, filterFor } from './scope';
import type { Stores } from './stores';

/** How groups can be ordered: by a sum or a ratio of sums, or by their values. */
export const EXPLORE_SORTS = [
  ...([
    'clicks',
    'uniques',
    'conversions',
    'rate',
    'commission',
    'epc',
    'cost',
    'profit',
    'set_aside',
    'name',
  ] as const),
] as const;
export type ExploreSort = (typeof EXPLORE_SORTS)[number];

export interface ExploreRequest {
  readonly scope: Scope;
  readonly by: readonly Dimension[];
  readonly filters: readonly Filter[];
  readonly sort: ExploreSort;
  readonly ascending: boolean;
  readonly limit: number;
  readonly offset: number;
}
export interface Explored {
  readonly groups: readonly Group[];
  readonly total: Sums;
  /** How many groups there are in all. */
  readonly count: number;
}
export const MOST_DIMENSIONS = 6;
/** Full blocks from which on a second thread is worth its call. */
const LEAST_SHARED = 4;
export const dimensionSchema = Joi.array()
  .items(Joi.string().custom((name: string, helpers) => (isDimension(name) ? name : helpers.error('any.only'))))
  .max(MOST_DIMENSIONS);

/** Commission less cost, in millionths of the currency: both are exact there. */
export const profitMicros = ({ commission, cost }: Pick<Sums, 'commission' | 'cost'>, minorPerUnit: number): number =>
  Math.round((commission * 1_000_000) / minorPerUnit) - cost;

/** What groups are ordered by. Commission in minor units against cost in millionths needs the currency's digits. */
const sortFigure = (sort: Exclude<ExploreSort, 'name'>, minorPerUnit: number): SortFigure =>
  sort === 'profit' ? { of: { commission: 1_000_000 / minorPerUnit, cost: -1 } } : FIGURES[sort];
const FIGURES: Record<Exclude<ExploreSort, 'name' | 'profit'>, SortFigure> = {
  clicks: { of: { clicks: 1 } },
  uniques: { of: { uniques: 1 } },
  conversions: { of: { conversions: 1 } },
  rate: { of: { conversions: 1 }, over: { uniques: 1 } },
  commission: { of: { commission: 1 } },
  epc: { of: { commission: 1 }, over: { clicks: 1 } },
  cost: { of: { cost: 1 } },
  set_aside: { of: { setAside: 1 } },
};

/** Adds full blocks of clicks, by their places as they are drawn, until one is beyond the last. */
export function countBlocks(
  stores: Pick<Stores, 'books' | 'rollups'>,
  grouping: Grouping,
  { filter, filters, blocks }: Omit<HelpOrder, 'shared'>,
  next: () => number,
): void {
  for (let first = blocks[next()]; first !== undefined; first = blocks[next()]) {
    const block = stores.rollups.clicks.fullAt(first);
    grouping.add(withParts(stores, block), countClicks, predicatesWithin(block, filter, 'all', filters));
  }
}

/**
 * Groups clicks and conversions of a scope by any dimensions. Reads every click of the scope: for a thread of its own.
 * @param helper a second thread that counts some of the blocks
 */
export function explore(
  stores: Stores,
  actor: Actor,
  request: ExploreRequest,
  minorPerUnit: number,
  helper?: Helper,
): Explored {
  requireRight(stores, actor, 'look', 'clicks');
  const filter = filterFor(actor, request.scope);
  const { by, filters } = request;
  const grouping = new Grouping(by, []);
  stores.rollups.atOnce(() => {
    const { clicks, conversions } = stores.rollups;
    const order = { filter, by, filters, blocks: clicks.full(filter.from, filter.to) };
    const shared = order.blocks.length >= LEAST_SHARED ? helper?.(order) : undefined;
    // What is not shared first: meanwhile the other thread draws blocks.
    for (const block of clicks.between(filter.from, filter.to, MOST_ROWS))
      grouping.add(withParts(stores, block), countClicks, predicatesWithin(block, filter, 'all', filters));
    for (const block of conversions.between(filter.from, filter.to))
      grouping.add(withParts(stores, block), countConversions, predicatesWithin(block, filter, 'all', filters));
    let own = 0;
    countBlocks(stores, grouping, order, () => shared?.next() ?? own++);
    const helped = shared?.result();
    if (helped) grouping.absorb(helped);
  });
  const { sort, ascending, limit, offset } = request;
  const figure = sort === 'name' ? sort : sortFigure(sort, minorPerUnit);
  const found = grouping.best(figure, ascending, limit, offset);
  grouping.free();
  return found;
}

/** The parts of composite sub-IDs that links of a scope have: "sub2.match". */
export function knownParts(stores: Stores, actor: Actor, scope: Scope): string[] {
  const { programId, partnerId, channelId, offerId } = filterFor(actor, scope);
  const found = new Set<string>();
  const filter = { programId, partnerId, channelId, offerId, text: '' };
  for (const { parts } of stores.books.links.list(filter, { limit: 2000, offset: 0 }).rows)
    for (const slot of SUB_SLOTS)
      for (const name of layoutOf(parts.values[slot])?.names ?? []) found.add(`${slot}.${name}`);
  return [...found].filter(isDimension).sort((a, b) => (dimensionWord(a) < dimensionWord(b) ? -1 : 1));
}

/** Links whose placeholders arrived unfilled, with the slots and how often; most first. */
export function unfilledLinks(
  stores: Stores,
  actor: Actor,
  scope: Scope,
): { linkId: number; slots: string; clicks: number }[] {
  const filter = filterFor(actor, scope);
  const unfilled = { field: 'flags', test: (value: string) => value.includes('unfilled:') };
  const grouping = new Grouping(['link', 'flags'], [...predicatesOf(filter, 'counted', []), unfilled]);
  stores.rollups.atOnce(() => {
    for (const block of stores.rollups.clicks.between(filter.from, filter.to)) grouping.add(block, countClicks);
  });
  const rows = new Map<string, { linkId: number; slots: string; clicks: number }>();
  for (const {
    by: [link = '', flags = ''],
    clicks,
  } of grouping.result()) {
    const slots = /unfilled:(\S+)/.exec(flags)?.[1] ?? '';
    const row = rows.get(`${link} ${slots}`) ?? { linkId: Number(link), slots, clicks: 0 };
    row.clicks += clicks;
    rows.set(`${link} ${slots}`, row);
  }
  return [...rows.values()].sort((a, b) => b.clicks - a.clicks);
}
