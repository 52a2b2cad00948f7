import { splitComposite, layoutOf } from '@/core/links/values';
import { isCarried } from '@/core/placeholders/names';
import { type Block, type Predicate, partColumn } from '@/core/reports/block';
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

/** A block that also has the parts of composite sub-IDs as columns: "sub2.match". */
export function withParts<T extends Block>({ books }: Stores, block: T): T {
  const parts = new Map<string, ReturnType<typeof partColumn>>();
  const layouts = new Map<string, ReturnType<typeof layoutOf>>();
  const layout = (link: string, slot: string): ReturnType<typeof layoutOf> => {
    const key = `${link} ${slot}`;
    if (!layouts.has(key))
      layouts.set(key, isCarried(slot) ? layoutOf(books.links.byId(Number(link))?.parts.values[slot]) : undefined);
    return layouts.get(key);
  };
  return {
    ...block,
    mayHave: (name: string, value: string) => PART.test(name) || (block.mayHave?.(name, value) ?? true),
    column(name: string) {
      const [, slot, part = ''] = PART.exec(name) ?? [];
      if (slot === undefined) return block.column(name);
      const column =
        parts.get(name) ??
        partColumn(block, slot, (link, text) => {
          const known = layout(link, slot);
          return known ? (splitComposite(text, known)[known.names.indexOf(part)] ?? '') : '';
        });
      parts.set(name, column);
      return column;
    },
  };
}
