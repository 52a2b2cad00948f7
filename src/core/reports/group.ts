import { type Block, type Column, type Predicate, MOST_ROWS, passing } from './block';
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

/** What a click counts as; an array of three whole numbers a group says how many of each. */
const [REPEAT, UNIQUE, ASIDE, KINDS] = [0, 1, 2, 3] as const;
/** Conversions, approved, decided and commission of a group stand in this order. */
const CONVERSION_FIGURES = 4;

/**
 * The sums of all groups, apart by how often they are added to: what every click adds to lies close together, so that
 * it stays near the processor.
 */
class SumTable {
  kinds = new Int32Array(KINDS * 1024);
  cost = new Float64Array(1024);
  conversions = new Float64Array(CONVERSION_FIGURES * 1024);

  reserve(groups: number): void {
    if (groups <= this.cost.length) return;
    const size = Math.max(groups, this.cost.length * 2);
    const grow = <T extends Int32Array | Float64Array>(from: T, to: T): T => (to.set(from), to);
    this.kinds = grow(this.kinds, new Int32Array(KINDS * size));
    this.cost = grow(this.cost, new Float64Array(size));
    this.conversions = grow(this.conversions, new Float64Array(CONVERSION_FIGURES * size));
  }

  read(group: number): Sums {
    const kind = (of: number): number => this.kinds[group * KINDS + of] ?? 0;
    const conversion = (of: number): number => this.conversions[group * CONVERSION_FIGURES + of] ?? 0;
    return {
      clicks: kind(REPEAT) + kind(UNIQUE),
      uniques: kind(UNIQUE),
      setAside: kind(ASIDE),
      cost: this.cost[group] ?? 0,
      conversions: conversion(0),
      approved: conversion(1),
      decided: conversion(2),
      commission: conversion(3),
    };
  }

  /** Makes room for so many groups, of which nothing is counted yet. */
  clear(groups: number): void {
    this.reserve(groups);
    this.kinds.fill(0, 0, groups * KINDS);
    this.cost.fill(0, 0, groups);
    this.conversions.fill(0, 0, groups * CONVERSION_FIGURES);
  }

  /** Adds a group of another table to one of this. */
  add(to: number, from: SumTable, group: number): void {
    for (let i = 0; i < KINDS; i++)
      this.kinds[to * KINDS + i] = (this.kinds[to * KINDS + i] ?? 0) + (from.kinds[group * KINDS + i] ?? 0);
    this.cost[to] = (this.cost[to] ?? 0) + (from.cost[group] ?? 0);
    for (let i = 0; i < CONVERSION_FIGURES; i++) {
      const at = to * CONVERSION_FIGURES + i;
      this.conversions[at] = (this.conversions[at] ?? 0) + (from.conversions[group * CONVERSION_FIGURES + i] ?? 0);
    }
  }

  isEmpty(group: number): boolean {
    const at = group * KINDS;
    return (
      this.kinds[at] === 0 &&
      this.kinds[at + 1] === 0 &&
      this.kinds[at + 2] === 0 &&
      this.conversions[group * CONVERSION_FIGURES] === 0
    );
  }
}

/** Adds the rows of a block to the sums of their groups; a row without a group has −1. */
export type Counting = (block: Block, groups: Int32Array, sums: SumTable) => void;

/**
 * Pairs of numbers by number: a table of cells while there are few enough, else open addressing. A map of objects
 * would cost several times the rest of a report.
 */
class Pairs {
  private static readonly MOST_CELLS = 1 << 22;
  private static readonly CELLS = 1 << 16;
  private stride = 64;
  private cells: Int32Array | undefined = new Int32Array(Pairs.CELLS).fill(-1);
  private lefts = new Int32Array(0);
  private rights = new Int32Array(0);
  private slots = new Int32Array(0);
  count = 0;
  /** The pair of each number. */
  private left = new Int32Array(1024);
  private right = new Int32Array(1024);

  number(left: number, right: number): number {
    if (this.cells && right < this.stride && (left + 1) * this.stride <= this.cells.length) {
      const cell = left * this.stride + right;
      const known = this.cells[cell] ?? -1;
      if (known >= 0) return known;
      return (this.cells[cell] = this.add(left, right));
    }
    return this.cells ? this.widen(left, right) : this.hashed(left, right);
  }

  /** Each row's group becomes that of the pair of group and value. */
  numberAll(groups: Int32Array, codes: Uint16Array, numbers: Int32Array): void {
    let { cells, stride } = this;
    for (let row = 0; row < groups.length; row++) {
      const group = groups[row] as number;
      if (group < 0) continue;
      const value = numbers[codes[row] as number] as number;
      const cell = group * stride + value;
      const known = cells && value < stride && cell < cells.length ? (cells[cell] as number) : -1;
      if (known >= 0) groups[row] = known;
      else {
        groups[row] = this.number(group, value);
        ({ cells, stride } = this);
      }
    }
  }

  private add(left: number, right: number): number {
    if (this.count === this.left.length) {
      this.left = grown(this.left);
      this.right = grown(this.right);
    }
    this.left[this.count] = left;
    this.right[this.count] = right;
    return this.count++;
  }

  /** More rows or a longer stride; past the most cells, hashing takes over. */
  private widen(left: number, right: number): number {
    while (right >= this.stride) this.stride *= 2;
    let rows = 64;
    while (rows <= left) rows *= 2;
    const highest = this.left.subarray(0, this.count).reduce((most, each) => Math.max(most, each), 0);
    while (rows <= highest) rows *= 2;
    const size = rows * this.stride;
    this.cells = size <= Pairs.MOST_CELLS ? new Int32Array(Math.max(size, Pairs.CELLS)).fill(-1) : undefined;
    if (this.cells)
      for (let i = 0; i < this.count; i++) this.cells[(this.left[i] ?? 0) * this.stride + (this.right[i] ?? 0)] = i;
    else this.rehash(1 << 20);
    return this.number(left, right);
  }

  private slotOf(left: number, right: number): number {
    const mask = this.slots.length - 1;
    let slot = (Math.imul(left, 0x9e3779b1) ^ Math.imul(right, 0x85ebca6b)) & mask;
    while (this.slots[slot] !== -1 && (this.lefts[slot] !== left || this.rights[slot] !== right))
      slot = (slot + 1) & mask;
    return slot;
  }
  private hashed(left: number, right: number): number {
    const slot = this.slotOf(left, right);
    const known = this.slots[slot] ?? -1;
    if (known >= 0) return known;
    const added = this.add(left, right);
    this.fill(slot, added);
    if (this.count * 2 > this.slots.length) this.rehash(this.slots.length * 2);
    return added;
  }
  private fill(slot: number, number: number): void {
    this.lefts[slot] = this.left[number] ?? 0;
    this.rights[slot] = this.right[number] ?? 0;
    this.slots[slot] = number;
  }
  private rehash(size: number): void {
    let slots = size;
    while (slots < this.count * 2) slots *= 2;
    this.slots = new Int32Array(slots).fill(-1);
    this.lefts = new Int32Array(slots);
    this.rights = new Int32Array(slots);
    for (let i = 0; i < this.count; i++) this.fill(this.slotOf(this.left[i] ?? 0, this.right[i] ?? 0), i);
  }

  pair(number: number): [left: number, right: number] {
    return [this.left[number] ?? 0, this.right[number] ?? 0];
  }
}

function grown(array: Int32Array): Int32Array<ArrayBuffer> {
  const larger = new Int32Array(array.length * 2);
  larger.set(array);
  return larger;
}

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

/** Counts clicks by what they are: `unique` is empty for those set aside, of which nothing else is counted. */
export const countClicks: Counting = (block, groups, { kinds, cost }) => {
  const [unique, costs] = [block.column('unique'), block.column('cost')];
  const kindOf = Uint8Array.from(unique.values, (text) => (text === '' ? ASIDE : text === 'unique' ? UNIQUE : REPEAT));
  const codes = unique.codes;
  // An element that is not there is never read: rows, codes and groups come from one another.
  for (let row = 0; row < groups.length; row++) {
    const at = (groups[row] as number) * KINDS;
    if (at < 0) continue;
    const place = at + (kindOf[codes[row] as number] as number);
    kinds[place] = (kinds[place] as number) + 1;
  }
  if (costs.values.length === 1 && costs.values[0] === '') return;
  const amounts = Float64Array.from(costs.values, (text) => Number(text) || 0);
  const counts = Float64Array.from(kindOf, (kind) => (kind === ASIDE ? 0 : 1));
  const costCodes = costs.codes;
  for (let row = 0; row < groups.length; row++) {
    const group = groups[row] as number;
    if (group >= 0)
      cost[group] =
        (cost[group] as number) +
        (amounts[costCodes[row] as number] as number) * (counts[codes[row] as number] as number);
  }
};

/** Counts matched conversions by the columns `state` and `commission`; of those that were decided, how many were approved. */
export const countConversions: Counting = (block, groups, { conversions }) => {
  const [state, commission] = [block.column('state'), block.column('commission')];
  const amounts = Float64Array.from(commission.values, (text) => Number(text) || 0);
  const approved = Uint8Array.from(state.values, (text) => (['approved', 'in_payout', 'paid'].includes(text) ? 1 : 0));
  const decided = Uint8Array.from(state.values, (text, i) =>
    approved[i] === 1 || text === 'rejected' || text === 'reversed' ? 1 : 0,
  );
  for (let row = 0; row < groups.length; row++) {
    const at = (groups[row] as number) * CONVERSION_FIGURES;
    if (at < 0) continue;
    const code = state.codes[row] as number;
    conversions[at] = (conversions[at] as number) + 1;
    conversions[at + 1] = (conversions[at + 1] as number) + (approved[code] as number);
    conversions[at + 2] = (conversions[at + 2] as number) + (decided[code] as number);
    conversions[at + 3] = (conversions[at + 3] as number) + (amounts[commission.codes[row] as number] as number);
  }
};
