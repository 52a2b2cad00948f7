import { LRUCache } from 'lru-cache';
import { type Filter, PART } from '@/core/reports/columns';
import type { Cells, Counted } from '@/core/reports/group';
import type { ScopeFilter } from '@/store/books/scope';
import type { Stores } from '../stores';

/** A question as far as a block's own counts depend on it: neither days, which blocks lie wholly within, nor order. */
interface Question {
  readonly filter: ScopeFilter;
  readonly by: readonly string[];
  readonly filters: readonly Filter[];
}

const MOST_BYTES = 64 * 1024 * 1024;
/** Of one block: where there are more it is counted again, or few such questions would push out all others. */
const MOST_COMBINATIONS = 1 << 14;
/** A short text takes about that much beside its letters. */
const TEXT_BYTES = 24;

function bytesOf({ values, places, sums }: Cells): number {
  const letters = values.flat().reduce((sum, text) => sum + text.length + TEXT_BYTES, 0);
  return 256 + letters + places.reduce((sum, each) => sum + each.byteLength, sums.byteLength);
}

/**
 * What full blocks had of each combination when they were asked for it last. Full blocks never change, so that another
 * order, page or period of the same question counts nothing again.
 */
export class KeptCells {
  private readonly kept = new LRUCache<string, Cells>({ maxSize: MOST_BYTES, sizeCalculation: bytesOf });

  /** @returns undefined for parts of composite sub-IDs, which are read by what the books say of links */
  of({ rollups }: Pick<Stores, 'rollups'>, { filter, by, filters }: Question) {
    if ([...by, ...filters.map(({ field }) => field)].some((name) => PART.test(name))) return undefined;
    const { programId, partnerId, channelId, offerId } = filter;
    const mark = JSON.stringify([rollups.rebuilds(), programId, partnerId, channelId, offerId, by, filters]);
    return {
      get: (firstSeq: number): Cells | undefined => this.kept.get(`${firstSeq} ${mark}`),
      set: (firstSeq: number, { count, cells }: Counted): void => {
        if (count <= MOST_COMBINATIONS) this.kept.set(`${firstSeq} ${mark}`, cells());
      },
    };
  }
}
