import { type Filter, isDimension, readFilters } from '@/core/reports/columns';
import type { ClickQuery } from '@/services/clicks';
import { EXPLORE_SORTS, MOST_DIMENSIONS } from '@/services/explore';
import { wholeNumber } from '@/services/scope';
import type { Desk } from '../../desk';

export const SHELVES = ['counted', 'set_aside', 'explore'] as const;
export type Shelf = (typeof SHELVES)[number];

export const shelfOf = (desk: Desk): Shelf => SHELVES.find((each) => each === desk.param('shelf')) ?? 'counted';
export const filtersOf = (desk: Desk): Filter[] => readFilters(desk.param('where'));

const USUAL = 'sub1';

/** What the explorer is asked, by the parameters of its address. */
export function exploring(param: (name: string) => string | undefined) {
  const by = (param('by') ?? USUAL).split(',').filter(isDimension).slice(0, MOST_DIMENSIONS);
  const sort = EXPLORE_SORTS.find((each) => each === param('sort')) ?? ('clicks' as const);
  return { by, sort, ascending: param('order') === 'up', filters: readFilters(param('where')) };
}

export const queryOf = (desk: Desk, shelf: 'counted' | 'set_aside'): ClickQuery => ({
  shelf,
  filters: filtersOf(desk),
  upto: wholeNumber(desk.param('upto')) ?? undefined,
});
