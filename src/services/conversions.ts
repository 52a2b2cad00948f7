import type { ConversionFilter } from '@/store/books/conversion_filters';
import type { ConversionListRow, HistoryRow, Shelf } from '@/store/books/conversions';
import type { Page, Paging } from '@/store/database';
import { type Actor, requireOwn } from './actor';
import { type Scope, filterFor } from './scope';
import type { Stores } from './stores';

export const listConversions = (
  stores: Stores,
  actor: Actor,
  scope: Scope,
  shelf: Shelf,
  paging: Paging,
  filters: readonly ConversionFilter[] = [],
): Page<ConversionListRow> => stores.books.conversions.list(filterFor(actor, scope), shelf, paging, filters);

export const readConversion = (stores: Stores, actor: Actor, id: number): ConversionListRow =>
  requireOwn(stores, actor, stores.books.conversions.byId(id), `conversion ${id}`);

export const conversionHistory = (stores: Stores, actor: Actor, id: number): HistoryRow[] =>
  stores.books.conversions.history(readConversion(stores, actor, id).id);
