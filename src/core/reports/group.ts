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

/** What a block has of each combination of its own values. */
export interface Cells {
  /** The block's values of each dimension. */
  readonly values: readonly (readonly string[])[];
  /** The combinations of which something was counted, by number: the places of their values, the last one fastest. */
  readonly cells: Int32Array;
  /** Of each of them in turn. */
  readonly sums: SumTable;
}
const NO_CELLS: Cells = { values: [], cells: new Int32Array(), sums: new SumTable(0) };

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

  /**
   * Counts the rows of a block.
   * @returns what it has of each combination of its own values, where these are few: to be brought again without the block
   */
  add(block: Block, counting: Counting, predicates = this.predicates): Cells | undefined {
    const kept = passing(block, predicates);
    if (kept && !kept.includes(1)) return NO_CELLS;
    this.empty = false;
    const groups = this.groups.subarray(0, block.rows);
    if (kept) for (let i = 0; i < block.rows; i++) groups[i] = (kept[i] as number) - 1;
    else groups.fill(0);
    const columns = this.by.map((name) => block.column(name));
    const combinations = columns.reduce((product, { values }) => product * values.length, 1);
    if (combinations > MOST_CELLS) {
      this.byRows(block, groups, columns, counting);
      return undefined;
    }
    const cells = this.byCells(block, groups, columns, combinations, counting);
    this.bring(cells);
    return cells;
  }

  /** Few combinations in this block: counted by its own codes, so that only sums are brought to the groups. */
  private byCells(
    block: Block,
    cells: Int32Array,
    columns: readonly Column[],
    most: number,
    counting: Counting,
  ): Cells {
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
    const counted = Int32Array.from(this.local.counted(most));
    return { values: columns.map(({ values }) => values), cells: counted, sums: this.local.pick(counted) };
  }

  /** Adds what a block has of combinations to their groups. */
  bring({ values, cells, sums }: Cells): void {
    if (cells.length === 0) return;
    this.empty = false;
    const numbers = values.map((texts, i) => this.values[i]?.numbered(texts) ?? new Int32Array());
    // How many combinations one step of a dimension passes over.
    const strides = values.map((_, i) => values.slice(i + 1).reduce((product, { length }) => product * length, 1));
    for (let at = 0; at < cells.length; at++) {
      let [group, rest] = [0, cells[at] as number];
      for (let i = 0; i < numbers.length; i++) {
        const place = Math.floor(rest / (strides[i] as number));
        rest -= place * (strides[i] as number);
        const value = (numbers[i] as Int32Array)[place] as number;
        group = i === 0 ? value : (this.levels[i - 1]?.number(group, value) ?? 0);
      }
      this.sums.reserve(group + 1);
      this.sums.add(group, sums, at);
    }
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
    const from = Object.assign(new SumTable(0), sums);
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
    return this.sums.counted(this.count);
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
