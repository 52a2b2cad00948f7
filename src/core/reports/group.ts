import { type Block, type Column, type Predicate, MOST_ROWS, passing } from './block';
import type { Dimension } from './columns';
import type { Counting } from './counting';
import { Pairs } from './pairs';
import { type Group, type Sums, SumTable } from './sums';

/** A figure worked out of the sums of a group, by which groups are ordered. */
export type SortFigure = (sums: Sums) => number;

/** The places of the smallest keys, in order; equal ones in the order of their places. Most keys are looked at once. */
function firstPlaces(keys: Float64Array, most: number): number[] {
  const first: number[] = [];
  const key = (place: number): number => keys[place] ?? Infinity;
  for (let place = 0; place < keys.length; place++) {
    const full = first.length >= most;
    if (full && key(place) >= key(first[most - 1] ?? 0)) continue;
    if (first.length > 2000)
      return Array.from(keys.keys())
        .sort((a, b) => key(a) - key(b) || a - b)
        .slice(0, most);
    let [low, high] = [0, first.length];
    while (low < high) {
      const middle = (low + high) >>> 1;
      if (key(first[middle] ?? 0) <= key(place)) low = middle + 1;
      else high = middle;
    }
    first.splice(low, 0, place);
    if (full) first.pop();
  }
  return first;
}

/** The values of a dimension by number, over all blocks. */
class Values {
  private readonly numbers = new Map<string, number>();
  readonly texts: string[] = [];

  /** For each place in a block's column, the number of its value. */
  numbered(values: readonly string[]): Int32Array {
    return Int32Array.from(values, (value) => {
      let number = this.numbers.get(value);
      if (number === undefined) {
        number = this.texts.length;
        this.numbers.set(value, number);
        this.texts.push(value);
      }
      return number;
    });
  }
}

/** What was counted, as it is told from thread to thread. */
export interface Grouped {
  readonly empty: boolean;
  /** The values of each dimension by number. */
  readonly values: readonly (readonly string[])[];
  /** Of each dimension but the first: the group before it and the value, by group. */
  readonly pairs: readonly { readonly left: Int32Array; readonly right: Int32Array }[];
  readonly sums: Pick<SumTable, 'kinds' | 'cost' | 'conversions'>;
}

/** Combinations of a block's own values that are counted in a table of their own. */
const MOST_CELLS = 1 << 14;

/** Groups the rows of any number of blocks by dimensions. Values are looked up once a block, rows by numbers alone. */
export class Grouping {
  private readonly values: Values[];
  /** From the groups of the first dimensions and the values of the next to the groups of both. */
  private readonly levels: Pairs[];
  private readonly sums = new SumTable();
  private readonly local = new SumTable();
  private readonly groups = new Int32Array(MOST_ROWS);
  private empty = true;

  constructor(
    private readonly by: readonly Dimension[],
    private readonly predicates: readonly Predicate[],
  ) {
    this.values = by.map(() => new Values());
    this.levels = by.slice(1).map(() => new Pairs());
  }

  add(block: Block, counting: Counting, predicates = this.predicates): void {
    const kept = passing(block, predicates);
    if (kept && !kept.includes(1)) return;
    this.empty = false;
    const groups = this.groups.subarray(0, block.rows);
    if (kept) for (let i = 0; i < block.rows; i++) groups[i] = (kept[i] as number) - 1;
    else groups.fill(0);
    const columns = this.by.map((name) => block.column(name));
    const cells = columns.reduce((product, { values }) => product * values.length, 1);
    if (cells <= MOST_CELLS) this.byCells(block, groups, columns, cells, counting);
    else this.byRows(block, groups, columns, counting);
  }

  /** Few combinations in this block: counted by its own codes, and only their sums are brought to the groups. */
  private byCells(block: Block, cells: Int32Array, columns: readonly Column[], most: number, counting: Counting): void {
    for (const { values, codes } of columns) {
      if (values.length < 2) continue;
      const width = values.length;
      for (let row = 0; row < cells.length; row++) {
        const cell = cells[row] as number;
        if (cell >= 0) cells[row] = cell * width + (codes[row] as number);
      }
    }
    this.local.clear(most);
    counting(block, cells, this.local);
    const numbers = columns.map(({ values }, i) => this.values[i]?.numbered(values) ?? new Int32Array());
    if (columns.length === 0) return this.bring(0, 0);
    this.bringAll(numbers, 0, 0, 0);
  }

  /** Walks the combinations of a block's values from the first dimension on; groups are made of those that were counted. */
  private bringAll(numbers: readonly Int32Array[], at: number, cell: number, before: number): void {
    const own = numbers[at] ?? new Int32Array();
    const last = at === numbers.length - 1;
    const level = at === 0 ? undefined : this.levels[at - 1];
    for (let place = 0; place < own.length; place++) {
      const next = cell * own.length + place;
      if (last && this.local.isEmpty(next)) continue;
      const value = own[place] as number;
      const group = level ? level.number(before, value) : value;
      if (last) this.bring(group, next);
      else this.bringAll(numbers, at + 1, next, group);
    }
  }
  private bring(group: number, cell: number): void {
    this.sums.reserve(group + 1);
    this.sums.add(group, this.local, cell);
  }

  /** Many combinations: each row is brought to its group by the numbers of its values. */
  private byRows(block: Block, groups: Int32Array, columns: readonly Column[], counting: Counting): void {
    for (const [i, { values, codes }] of columns.entries()) {
      const numbers = this.values[i]?.numbered(values) ?? new Int32Array();
      if (i > 0) this.levels[i - 1]?.numberAll(groups, codes, numbers);
      else
        for (let row = 0; row < groups.length; row++)
          if ((groups[row] as number) >= 0) groups[row] = numbers[codes[row] as number] as number;
    }
    this.sums.reserve(this.count);
    counting(block, groups, this.sums);
  }

  grouped(): Grouped {
    const { empty, values, levels } = this;
    const { kinds, cost, conversions } = this.sums;
    return {
      empty,
      values: values.map(({ texts }) => texts),
      pairs: levels.map((level) => level.all()),
      sums: { kinds, cost, conversions },
    };
  }

  /** Adds what was counted elsewhere by the same dimensions. */
  absorb({ empty, values, pairs, sums }: Grouped): void {
    this.empty &&= empty;
    const numbers = values.map((texts, i) => this.values[i]?.numbered(texts) ?? new Int32Array());
    let groups = numbers[0] ?? Int32Array.of(0);
    for (const [i, { left, right }] of pairs.entries()) {
      const [level, before, own] = [this.levels[i], groups, numbers[i + 1] ?? new Int32Array()];
      groups = left.map((from, group) => level?.number(before[from] ?? 0, own[right[group] ?? 0] ?? 0) ?? 0);
    }
    this.sums.reserve(this.count);
    const from = Object.assign(new SumTable(), sums);
    for (const [group, to] of groups.entries()) if (!from.isEmpty(group)) this.sums.add(to, from, group);
  }

  private get count(): number {
    if (this.by.length === 0) return this.empty ? 0 : 1;
    return this.by.length === 1 ? (this.values[0]?.texts.length ?? 0) : (this.levels.at(-1)?.count ?? 0);
  }

  private valuesOf(group: number): string[] {
    const found: string[] = [];
    let number = group;
    for (let i = this.by.length - 1; i > 0; i--) {
      const [left, right] = this.levels[i - 1]?.pair(number) ?? [0, 0];
      found.unshift(this.values[i]?.texts[right] ?? '');
      number = left;
    }
    if (this.by.length > 0) found.unshift(this.values[0]?.texts[number] ?? '');
    return found;
  }

  /** Groups that something was counted of, in the order in which they were met. */
  result(): Group[] {
    return this.counted().map((group) => this.read(group));
  }

  /**
   * The first groups in an order, without making a record of each of the others.
   * @param by a figure of the group's sums, the largest first (the smallest with `ascending`), or 'name' for its values
   */
  best(by: SortFigure | 'name', ascending: boolean, limit: number, offset = 0): Group[] {
    const groups = this.counted();
    const sign = ascending ? 1 : -1;
    if (by === 'name') {
      const names = new Map(groups.map((group) => [group, this.valuesOf(group).join('\u0001')]));
      const name = (group: number): string => names.get(group) ?? '';
      groups.sort((a, b) => sign * (name(a) < name(b) ? -1 : name(a) > name(b) ? 1 : 0));
      return groups.slice(offset, offset + limit).map((group) => this.read(group));
    }
    const keys = Float64Array.from(groups, (group) => sign * by(this.sums.read(group)));
    const order = firstPlaces(keys, offset + limit).slice(offset);
    return order.map((place) => this.read(groups[place] ?? 0));
  }

  private counted(): number[] {
    const groups: number[] = [];
    for (let group = 0; group < this.count; group++) if (!this.sums.isEmpty(group)) groups.push(group);
    return groups;
  }

  private read(group: number): Group {
    return { by: this.valuesOf(group), ...this.sums.read(group) };
  }

  /** How many groups something was counted of, and the sums of them all. */
  total(): { count: number; sums: Sums } {
    const all = new SumTable();
    const groups = this.counted();
    for (const group of groups) all.add(0, this.sums, group);
    return { count: groups.length, sums: all.read(0) };
  }
}
