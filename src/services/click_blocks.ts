import { splitComposite, layoutOf } from '@/core/links/values';
import { isCarried } from '@/core/placeholders/names';
import { type Block, type Column, type Predicate, partColumn } from '@/core/reports/block';
import { type Filter, PART, predicateOf } from '@/core/reports/columns';
import type { ScopeFilter } from '@/store/books/scope';
import type { Stores } from './stores';

export const CLICK_SHELVES = ['counted', 'set_aside', 'all'] as const;
export type ClickShelf = (typeof CLICK_SHELVES)[number];

const ID_FIELDS = [
  ['programId', 'program'],
  ['partnerId', 'partner'],
  ['channelId', 'channel'],
  ['offerId', 'offer'],
] as const;

/** A scope, a shelf and filters as conditions on the columns of clicks. Days come last: blocks within them need no look. */
export function predicatesOf(scope: ScopeFilter, shelf: ClickShelf, filters: readonly Filter[]): Predicate[] {
  const ids = ID_FIELDS.flatMap(([name, field]) =>
    scope[name] === null ? [] : [predicateOf({ field, how: 'is', text: String(scope[name]) })],
  );
  const aside: Predicate[] = {
    counted: [{ field: 'set_aside', exactly: '', test: (value: string) => value === '' }],
    set_aside: [{ field: 'set_aside', test: (value: string) => value !== '' }],
    all: [],
  }[shelf];
  const { from, to } = scope;
  return [
    ...ids,
    ...filters.map(predicateOf),
    ...aside,
    { field: 'day', test: (value: string) => value >= from && value <= to },
  ];
}

interface Days {
  readonly firstDay: string;
  readonly lastDay: string;
}
const liesWithin = ({ firstDay, lastDay }: Days, { from, to }: Pick<ScopeFilter, 'from' | 'to'>): boolean =>
  firstDay >= from && lastDay <= to;

/** The same for a block: where all of its days are looked at, none is compared. */
export function predicatesWithin(
  block: Days,
  scope: ScopeFilter,
  shelf: ClickShelf,
  filters: readonly Filter[],
): Predicate[] {
  const all = predicatesOf(scope, shelf, filters);
  return liesWithin(block, scope) ? all.slice(0, -1) : all;
}

/** A block that also has the parts of composite sub-IDs as columns: "sub2.match". */
export function withParts<T extends Block>({ books }: Pick<Stores, 'books'>, block: T): T {
  const parts = new Map<string, ReturnType<typeof partColumn>>();
  const layouts = new Map<string, ReturnType<typeof layoutOf>>();
  const layout = (link: string, slot: string): ReturnType<typeof layoutOf> => {
    const key = `${link} ${slot}`;
    if (!layouts.has(key))
      layouts.set(key, isCarried(slot) ? layoutOf(books.links.byId(Number(link))?.parts.values[slot]) : undefined);
    return layouts.get(key);
  };
  function column(name: string): Column {
    const [, slot, part = ''] = PART.exec(name) ?? [];
    if (slot === undefined) return block.column(name);
    const found =
      parts.get(name) ??
      partColumn(block, slot, (link, text) => {
        const known = layout(link, slot);
        return known ? (splitComposite(text, known)[known.names.indexOf(part)] ?? '') : '';
      });
    parts.set(name, found);
    return found;
  }
  function find(name: string, value: string): { place: number; codes: Uint8Array | Uint16Array } {
    if (block.find && !PART.test(name)) return block.find(name, value);
    const { values, codes } = column(name);
    return { place: values.indexOf(value), codes };
  }
  return { ...block, column, find };
}
