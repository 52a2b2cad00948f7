import { type Block, MOST_ROWS, type Predicate, passing, pick } from './block';
import type { Dimension } from './columns';
import type { Counting } from './counting';
import { Kernel } from './kernel';
import { Pairs } from './pairs';
import { FIGURES, type Group, NO_SUMS, type Sums, type SumsOf, SumTable } from './sums';

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
  readonly pairs: readonly Uint32Array[];
  readonly sums: Readonly<Record<SumsOf, Float64Array>>;
}

/** Groups the rows of any number of blocks by dimensions. Values are looked up once a block, rows by numbers alone. */
export class Grouping {
  private readonly kernel = new Kernel();
  private readonly values: Values[];
  /** From the groups of the first dimensions and the values of the next to the groups of both. */
  private readonly levels: Pairs[];
  /** Where the sums of groups stand, and for how many there is room. */
  private readonly sums: Record<SumsOf, number>;
  private room = 1024;
  private empty = true;

  constructor(
    private readonly by: readonly Dimension[],
    private readonly predicates: readonly Predicate[],
  ) {
    const { kernel } = this;
    this.values = by.map(() => new Values());
    this.levels = by.slice(1).map(() => new Pairs(kernel));
    const bytes = 8 * FIGURES * this.room;
    this.sums = { clicks: kernel.allocate(bytes), conversions: kernel.allocate(bytes) };
  }

  /** Counts the rows of a block: first what it has of each combination of its own values, then brought to their groups. */
  add(block: Block, counting: Counting, predicates = this.predicates): void {
    const { kernel } = this;
    const rows = passing(block, predicates);
    if (rows?.length === 0 || block.rows === 0) return;
    this.empty = false;
    const kept = rows ? pick(block, rows) : block;
    const columns = this.by.map((name) => kept.column(name));
    const numbered = kernel.numberRows(kept.rows, columns);
    const { count } = numbered;
    counting.sums(kernel, kept, numbered);
    kernel.u32(kernel.cells, count).fill(0);
    for (const [i, column] of columns.entries()) {
      kernel.lookUp(numbered, column, this.values[i]?.numbered(column.values) ?? new Int32Array());
      this.meet(i, count);
    }
    this.addSums(counting.of, count);
  }

  /** The groups in the kernel's cells become those with a further dimension, whose numbers are wanted there. */
  private meet(dimension: number, count: number): void {
    const { kernel, levels, values } = this;
    const before = dimension === 1 ? values[0]?.texts.length : levels[dimension - 2]?.count;
    if (dimension === 0) kernel.u32(kernel.cells, count).set(kernel.u32(kernel.wanted, count));
    else levels[dimension - 1]?.number(count, before ?? 0, values[dimension]?.texts.length ?? 0);
  }

  /** Adds the kernel's sums to those of the groups in its cells. */
  private addSums(of: SumsOf, count: number): void {
    const { kernel } = this;
    if (this.count > this.room) {
      const [bytes, room] = [8 * FIGURES * this.room, 2 ** Math.ceil(Math.log2(this.count))];
      for (const each of ['clicks', 'conversions'] as const)
        this.sums[each] = kernel.larger(this.sums[each], bytes, 8 * FIGURES * room);
      this.room = room;
    }
    kernel.loops.addSums(kernel.cells, count, kernel.sums, this.sums[of]);
  }

  grouped(): Grouped {
    const { empty, values, levels } = this;
    const { clicks, conversions } = this.table();
    return {
      empty,
      values: values.map(({ texts }) => texts),
      pairs: levels.map((level) => level.all().slice()),
      sums: { clicks: clicks.slice(), conversions: conversions.slice() },
    };
  }

  /** Adds what was counted elsewhere by the same dimensions. */
  absorb({ empty, values, pairs, sums }: Grouped): void {
    this.empty &&= empty;
    const { kernel } = this;
    const numbers = values.map((texts, i) => this.values[i]?.numbered(texts) ?? new Int32Array());
    // Of each dimension in turn, the groups here of the groups there.
    let groups = numbers[0] ?? new Int32Array(1);
    for (const [i, pair] of pairs.entries()) {
      const next = new Int32Array(pair.length / 2);
      for (let from = 0; from < next.length; from += MOST_ROWS) {
        const count = Math.min(MOST_ROWS, next.length - from);
        const [lefts, rights] = [kernel.u32(kernel.cells, count), kernel.u32(kernel.wanted, count)];
        for (let at = 0; at < count; at++) {
          lefts[at] = groups[pair[2 * (from + at)] as number] as number;
          rights[at] = (numbers[i + 1] as Int32Array)[pair[2 * (from + at) + 1] as number] as number;
        }
        this.meet(i + 1, count);
        next.set(kernel.u32(kernel.cells, count), from);
      }
      groups = next;
    }
    this.absorbSums('clicks', groups, sums.clicks);
    this.absorbSums('conversions', groups, sums.conversions);
  }

  private absorbSums(of: SumsOf, groups: Int32Array, sums: Float64Array): void {
    const { kernel } = this;
    for (let from = 0; from < sums.length / FIGURES; from += MOST_ROWS) {
      const own = groups.subarray(from, from + MOST_ROWS);
      const figures = sums.subarray(from * FIGURES, (from + own.length) * FIGURES);
      kernel.u32(kernel.cells, own.length).set(own);
      kernel.f64(kernel.sums, figures.length).set(figures);
      this.addSums(of, own.length);
    }
  }

  /** The sums of all groups, until more is counted. */
  private table(): SumTable {
    const figures = this.count * FIGURES;
    return new SumTable(this.kernel.f64(this.sums.clicks, figures), this.kernel.f64(this.sums.conversions, figures));
  }

  private get count(): number {
    if (this.by.length === 0) return this.empty ? 0 : 1;
    return this.by.length === 1 ? (this.values[0]?.texts.length ?? 0) : (this.levels.at(-1)?.count ?? 0);
  }

  private valuesOf(group: number): string[] {
    const found: string[] = [];
    let number = group;
    for (let i = this.by.length - 1; i > 0; i--) {
      const pairs = this.levels[i - 1]?.all();
      found.unshift(this.values[i]?.texts[pairs?.[2 * number + 1] ?? 0] ?? '');
      number = pairs?.[2 * number] ?? 0;
    }
    if (this.by.length > 0) found.unshift(this.values[0]?.texts[number] ?? '');
    return found;
  }

  /** Groups that something was counted of, in the order in which they were met. */
  result(): Group[] {
    const table = this.table();
    return Array.from(table.counted(), (group) => ({ by: this.valuesOf(group), ...table.read(group) }));
  }

  /**
   * The first groups in an order, without making a record of each of the others; how many there are in all, and the
   * sums of them all.
   * @param by a figure of the group's sums, the largest first (the smallest with `ascending`), or 'name' for its values
   */
  best(
    by: SortFigure | 'name',
    ascending: boolean,
    limit: number,
    offset = 0,
  ): { groups: Group[]; count: number; total: Sums } {
    const table = this.table();
    const counted = table.counted();
    const sign = ascending ? 1 : -1;
    const order = by === 'name' ? this.byName(counted, sign) : byFigure(table, counted, by, sign, offset + limit);
    const groups = Array.from(order.slice(offset, offset + limit), (group) => ({
      by: this.valuesOf(group),
      ...table.read(group),
    }));
    return { groups, count: counted.length, total: table.total() };
  }

  private byName(groups: Int32Array, sign: number): Int32Array {
    const names = new Map(Array.from(groups, (group) => [group, this.valuesOf(group).join('\u0001')]));
    const name = (group: number): string => names.get(group) ?? '';
    return groups.toSorted((a, b) => sign * (name(a) < name(b) ? -1 : name(a) > name(b) ? 1 : 0));
  }
}

function byFigure(table: SumTable, groups: Int32Array, figure: SortFigure, sign: number, most: number): number[] {
  const sums = { ...NO_SUMS };
  const keys = new Float64Array(groups.length);
  for (let i = 0; i < groups.length; i++) keys[i] = sign * figure(table.read(groups[i] as number, sums));
  return firstPlaces(keys, most).map((place) => groups[place] ?? 0);
}
