import { type Block, type Predicate, passing, pick } from './block';
import type { Dimension } from './columns';
import { type Counting, countClicks, countConversions } from './counting';
import { type SortFigure, weightsOf } from './figure';
import { Kernel } from './kernel';
import { Cells, type Level, Pairs } from './levels';
import { type Comparing, byNames, firstPlaces } from './order';
import { type Counts, type Group, type Sums, sumsAt, sumsOf } from './sums';
import { Tally } from './tally';

/** The values of a dimension by number, over all blocks. */
class Values {
  private readonly numbers = new Map<string, number>();
  readonly texts: string[] = [];

  get count(): number {
    return this.texts.length;
  }

  /** For each place in a block's column, the number of its value. */
  numbered(values: readonly string[]): Uint32Array {
    const numbered = new Uint32Array(values.length);
    for (let place = 0; place < values.length; place++) {
      const value = values[place] as string;
      let number = this.numbers.get(value);
      if (number === undefined) {
        number = this.texts.length;
        this.numbers.set(value, number);
        this.texts.push(value);
      }
      numbered[place] = number;
    }
    return numbered;
  }
}

/** What was counted, as it is told from thread to thread. */
export interface Grouped {
  /** The values of each dimension by number. */
  readonly values: readonly (readonly string[])[];
  /** Of each dimension, the numbers of the groups' values. */
  readonly numbers: readonly Uint32Array[];
  readonly counts: Readonly<Record<Counting['of'], Counts>>;
}

/** The memory of what was counted, which is handed over with it instead of being copied. */
export const buffersOf = ({ numbers, counts: { clicks, conversions } }: Grouped): ArrayBuffer[] =>
  [...numbers, clicks.sums, clicks.thirds, conversions.sums, conversions.thirds].map(
    ({ buffer }) => buffer as ArrayBuffer,
  );

/** Cells of all groups that there may be, at most: memory for 80 MiB of counts. Beyond, only those met are numbered. */
const MOST_CELLS = 1 << 22;

/** Groups the rows of any number of blocks by dimensions. Values are looked up once a block, rows by numbers alone. */
export class Grouping {
  private readonly kernel = Kernel.take();
  private readonly values: Values[];
  /** Values of the first dimension that there is room for: its groups. */
  private firsts = 0;
  /** Of each dimension but the first. */
  private levels: Level[] = [];
  private tallies!: Readonly<Record<Counting['of'], Tally>>;

  constructor(
    private readonly by: readonly Dimension[],
    private readonly predicates: readonly Predicate[],
  ) {
    this.values = by.map(() => new Values());
    this.start();
  }

  /** With nothing counted, and room for the values that there are by now. */
  private start(): void {
    const { kernel, values } = this;
    this.firsts = values[0]?.count ?? 0;
    let cells = this.firsts;
    this.levels = values.slice(1).map(({ count }) => {
      const level = new Cells(kernel, count);
      cells *= level.width;
      return cells <= MOST_CELLS ? level : new Pairs(kernel);
    });
    this.tallies = { clicks: new Tally(kernel, countClicks), conversions: new Tally(kernel, countConversions) };
  }

  /** Whether there is room for the values that there are by now. */
  private hasRoom(): boolean {
    let cells = this.values[0]?.count ?? 0;
    for (const [i, level] of this.levels.entries()) {
      if (!(level instanceof Cells)) return true;
      cells *= level.width;
      if (cells > MOST_CELLS || (this.values[i + 1]?.count ?? 0) > level.width) return false;
    }
    return true;
  }

  /** The numbers of values of each dimension; there is room for them then. */
  private numbered(values: readonly (readonly string[])[]): Uint32Array[] {
    const numbers = values.map((texts, i) => this.values[i]?.numbered(texts) ?? new Uint32Array());
    if (this.hasRoom()) this.firsts = this.values[0]?.count ?? 0;
    else {
      const counted = this.grouped();
      this.kernel.clear();
      this.start();
      this.take(counted.numbers, counted.counts);
    }
    return numbers;
  }

  /** Counts the rows of a block that pass. */
  add(block: Block, counting: Counting, predicates = this.predicates): void {
    const rows = passing(block, predicates);
    if (rows?.length === 0 || block.rows === 0) return;
    const kept = rows ? pick(block, rows) : block;
    const columns = this.by.map((name) => kept.column(name));
    const numbers = this.numbered(columns.map(({ values }) => values));
    const { kernel } = this;
    if (columns.length === 0) kernel.u32(kernel.groups, kept.rows).fill(0);
    for (const [i, column] of columns.entries()) {
      const numberOf = numbers[i] ?? new Uint32Array();
      if (i === 0) kernel.lookUp(kept.rows, column, numberOf, kernel.groups);
      else this.levels[i - 1]?.add(kept.rows, column, numberOf);
    }
    this.tallyFor(counting.of).add(kept);
  }

  private tallyFor(of: Counting['of']): Tally {
    const tally = this.tallies[of];
    tally.makeRoom(this.count || 1);
    return tally;
  }

  grouped(): Grouped {
    const { clicks, conversions } = this.tallies;
    const groups = this.counted();
    return {
      values: this.values.map(({ texts }) => texts),
      numbers: this.numbersOf(groups),
      counts: { clicks: clicks.gather(groups), conversions: conversions.gather(groups) },
    };
  }

  /** Nothing is asked of this any more. */
  free(): void {
    this.kernel.free();
  }

  /** Adds what was counted elsewhere by the same dimensions. */
  absorb({ values, numbers, counts }: Grouped): void {
    this.take(numbers, counts, this.numbered(values));
  }

  /** @param own of each dimension, the numbers here of the values there, where they are others */
  private take(numbers: readonly Uint32Array[], counts: Grouped['counts'], own?: readonly Uint32Array[]): void {
    const { kernel, levels } = this;
    const [groups = kernel.put(new Uint32Array(1)), ...further] = numbers.map((elsewhere, i) => {
      const at = kernel.put(elsewhere);
      if (own?.[i]) kernel.loops.exchange(at, elsewhere.length, kernel.put(own[i]));
      return at;
    });
    for (const [i, values] of further.entries()) levels[i]?.join(groups, values, numbers[0]?.length ?? 0);
    for (const what of ['clicks', 'conversions'] as const)
      if (counts[what].thirds.length > 0) this.tallyFor(what).absorb(groups, counts[what]);
  }

  /** The groups that something was counted of, in order. */
  private counted(): Uint32Array {
    const { kernel, count } = this;
    const [tally, other = tally] = Object.values(this.tallies).filter(({ isEmpty }) => !isEmpty);
    if (!tally || !other) return new Uint32Array();
    for (const each of [tally, other]) each.makeRoom(count);
    const found = kernel.allocate(4 * count);
    const many = kernel.loops.counted(tally.sums, tally.thirds, other.sums, other.thirds, count, found);
    return kernel.u32(found, many).slice();
  }

  /** Groups are below. */
  private get count(): number {
    const { by, firsts, levels, tallies } = this;
    if (by.length === 0) return tallies.clicks.isEmpty && tallies.conversions.isEmpty ? 0 : 1;
    return levels.reduce((count, level) => level.count(count), firsts);
  }

  /** Of each dimension, the numbers of the groups' values. */
  private numbersOf(groups: Uint32Array): Uint32Array[] {
    const { kernel, levels } = this;
    const before = kernel.put(groups);
    const numbers = levels.map(() => kernel.allocate(4 * groups.length));
    for (let i = levels.length - 1; i >= 0; i--) levels[i]?.part(before, numbers[i] ?? 0, groups.length);
    return this.values.map((_, i) => kernel.u32(i === 0 ? before : (numbers[i - 1] ?? 0), groups.length).slice());
  }

  private namesOf(groups: Uint32Array): string[][] {
    const numbers = this.numbersOf(groups);
    return Array.from(groups, (_, at) => numbers.map((own, i) => this.values[i]?.texts[own[at] ?? 0] ?? ''));
  }

  /** Memory for what was counted of all groups, whether or not something was. */
  private tallied(): { clicks: Tally; conversions: Tally } {
    const { clicks, conversions } = this.tallies;
    for (const tally of [clicks, conversions]) tally.makeRoom(this.count);
    return { clicks, conversions };
  }

  private recordsOf(groups: Uint32Array): Group[] {
    const names = this.namesOf(groups);
    const { clicks, conversions } = this.tallied();
    const counts = [clicks.counts(this.count), conversions.counts(this.count)] as const;
    return Array.from(groups, (group, at) => ({ by: names[at] ?? [], ...sumsAt(...counts, group) }));
  }

  /** Groups that something was counted of. */
  result(): Group[] {
    return this.recordsOf(this.counted());
  }

  /**
   * The first groups in an order, without making a record of each of the others; how many there are in all, and the
   * sums of them all. Those with equal figures stand by their names.
   * @param by a figure of the group's sums, the largest first (the smallest with `ascending`), or 'name' for its values
   */
  best(
    by: SortFigure | 'name',
    ascending: boolean,
    limit: number,
    offset = 0,
  ): { groups: Group[]; count: number; total: Sums } {
    const counted = this.counted();
    const sign = ascending ? 1 : -1;
    const first =
      by === 'name' ? this.byName(counted, sign, offset + limit) : this.byFigure(counted, by, sign, offset + limit);
    const { clicks, conversions } = this.tallies;
    return {
      groups: this.recordsOf(first.slice(offset)),
      count: counted.length,
      total: sumsOf(clicks.total(counted), conversions.total(counted)),
    };
  }

  /** Compares places of groups by name: an order that does not depend on which was met first, so that pages go together. */
  private naming(groups: Uint32Array): Comparing {
    return byNames(
      this.values.map(({ texts }) => texts),
      this.numbersOf(groups),
    );
  }

  private byName(groups: Uint32Array, sign: number, most: number): Uint32Array {
    const names = this.naming(groups);
    const places = firstPlaces(groups.length, most, (a, b) => sign * names(a, b));
    return Uint32Array.from(places, (place) => groups[place] as number);
  }

  private byFigure(groups: Uint32Array, figure: SortFigure, sign: number, most: number): Uint32Array {
    const { kernel } = this;
    const { clicks, conversions } = this.tallied();
    const [count, least] = [groups.length, Math.min(most, groups.length)];
    const [at, weights] = [kernel.put(groups), kernel.putNumbers(weightsOf(figure))];
    const [figures, heap, found] = [kernel.allocate(8 * count), kernel.allocate(8 * least), kernel.allocate(4 * count)];
    const tallies = [clicks.sums, clicks.thirds, conversions.sums, conversions.thirds] as const;
    kernel.loops.figuresOf(at, count, ...tallies, weights, figure.over === undefined, sign, figures);
    // Those that may be among the first: at least so many, and all that have the last one's figure.
    const many = least === 0 ? 0 : kernel.loops.smallest(figures, count, least, heap, found);
    const candidates = kernel.u32(found, many).slice();
    const all = kernel.f64(figures, count);
    const keys = Float64Array.from(candidates, (place) => all[place] as number);
    const own = candidates.map((place) => groups[place] as number);
    const names = this.naming(own);
    const places = firstPlaces(many, most, (a, b) => (keys[a] as number) - (keys[b] as number) || names(a, b));
    return Uint32Array.from(places, (place) => own[place] as number);
  }
}
