import { type Block, type Predicate, fold, passing, valueAt } from './block';
import type { Dimension } from './columns';

/** What is counted of clicks. Cost is in millionths of the program's currency. */
export interface ClickSums {
  clicks: number;
  uniques: number;
  setAside: number;
  cost: number;
}
/** What is counted of conversions. Commission is in minor units, less what was taken back. */
export interface ConversionSums {
  conversions: number;
  approved: number;
  decided: number;
  commission: number;
}
export type Sums = ClickSums & ConversionSums;
export interface Group extends Sums {
  readonly by: readonly string[];
}

export const NO_SUMS: Sums = {
  ...{ clicks: 0, uniques: 0, setAside: 0, cost: 0 },
  ...{ conversions: 0, approved: 0, decided: 0, commission: 0 },
};

/** Adds a row of a block to the sums of its group. */
export type Counting = (block: Block) => (sums: Sums, row: number) => void;

const MOST_VALUES = 2 ** 26;

/**
 * Groups rows block by block. Within a block rows are folded to small numbers and counted in arrays; only the groups of
 * a block, not its rows, are looked up by their values.
 */
export class Grouping {
  private readonly groups: Group[] = [];
  private readonly places = new Map<string, Map<string, number>>();
  private readonly keys = new Map<number, number>();
  private readonly levels: Map<number, number>[];
  readonly total: Sums = { ...NO_SUMS };

  constructor(
    private readonly by: readonly Dimension[],
    private readonly predicates: readonly Predicate[],
  ) {
    this.levels = by.map(() => new Map<number, number>());
  }

  add(block: Block, counting: Counting): void {
    const kept = passing(block, this.predicates);
    if (kept && !kept.includes(1)) return;
    const columns = this.by.map((name) => block.column(name));
    const { ids, samples } = fold(columns, block.rows);
    const local: (Sums | undefined)[] = samples.map(() => undefined);
    const count = counting(block);
    for (let i = 0; i < block.rows; i++) {
      if (kept && kept[i] === 0) continue;
      const id = ids[i] ?? 0;
      count((local[id] ??= { ...NO_SUMS }), i);
    }
    for (const [id, sums] of local.entries()) {
      if (!sums) continue;
      const sample = samples[id] ?? 0;
      addSums(this.group(columns.map((column) => valueAt(column, sample))), sums);
      addSums(this.total, sums);
    }
  }

  /** Numbers stand for values, pairs of numbers for pairs: strings are joined for nobody. */
  private group(values: readonly string[]): Group {
    let key = 0;
    for (const [i, value] of values.entries()) {
      const name = this.by[i] ?? '';
      const places = this.places.get(name) ?? new Map<string, number>();
      this.places.set(name, places);
      let place = places.get(value);
      if (place === undefined) places.set(value, (place = places.size));
      const pair = key * MOST_VALUES + place;
      const level = this.levels[i] ?? this.keys;
      key = level.get(pair) ?? level.size;
      level.set(pair, key);
    }
    return (this.groups[key] ??= { by: values, ...NO_SUMS });
  }

  result(): readonly Group[] {
    return this.groups;
  }
}

export function addSums(to: Sums, more: Sums): void {
  to.clicks += more.clicks;
  to.uniques += more.uniques;
  to.setAside += more.setAside;
  to.cost += more.cost;
  to.conversions += more.conversions;
  to.approved += more.approved;
  to.decided += more.decided;
  to.commission += more.commission;
}

/** Counts clicks: those set aside apart, and nothing else of them. */
export const countClicks: Counting = (block) => {
  const [unique, aside, cost] = [block.column('unique'), block.column('set_aside'), block.column('cost')];
  const costs = cost.values.map((text) => Number(text) || 0);
  const isAside = aside.values.map((text) => text !== '');
  const isUnique = unique.values.map((text) => text === 'unique');
  return (sums, row) => {
    if (isAside[aside.codes?.[row] ?? 0]) {
      sums.setAside += 1;
      return;
    }
    sums.clicks += 1;
    if (isUnique[unique.codes?.[row] ?? 0]) sums.uniques += 1;
    sums.cost += costs[cost.codes?.[row] ?? 0] ?? 0;
  };
};
