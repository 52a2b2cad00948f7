import { type Filter, readFilters } from '@/core/reports/columns';
import type { ClickQuery } from '@/services/clicks';
import { wholeNumber } from '@/services/scope';
import type { Desk } from '../../desk';

export const SHELVES = ['counted', 'set_aside', 'explore'] as const;
export type Shelf = (typeof SHELVES)[number];

export const shelfOf = (desk: Desk): Shelf => SHELVES.find((each) => each === desk.param('shelf')) ?? 'counted';
export const filtersOf = (desk: Desk): Filter[] => readFilters(desk.param('where'));

export const queryOf = (desk: Desk, shelf: 'counted' | 'set_aside'): ClickQuery => ({
  shelf,
  filters: filtersOf(desk),
  upto: wholeNumber(desk.param('upto')) ?? undefined,
});
