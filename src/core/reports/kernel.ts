import { type Column, MOST_ROWS } from './block';
import { KERNEL_CODE } from './kernel_code';
import { FIGURES } from './sums';

/** The functions of kernel.as, which says what they do. All numbers are whole; arrays are told by their first byte. */
type Loops = {
  widen(cells: number, codes: number, rows: number, width: number): void;
  numberByIndex(cells: number, rows: number, combos: number, firsts: number, index: number): number;
  numberByHash(cells: number, rows: number, firsts: number, slots: number, shift: number): number;
  addClicks(
    ...[numbers, rows, codes, kinds, costs, amounts, sums]: [number, number, number, number, number, number, number]
  ): void;
  lookUp(rows: number, count: number, codes: number, table: number, found: number): void;
  pairByIndex(
    ...[lefts, rights, count, index, stride, known, pairs]: [number, number, number, number, number, number, number]
  ): number;
  indexPairs(index: number, stride: number, known: number, pairs: number): void;
  pairByHash(
    ...[lefts, rights, count, slots, shift, known, pairs]: [number, number, number, number, number, number, number]
  ): number;
  hashPairs(slots: number, shift: number, known: number, pairs: number): void;
  addSums(groups: number, count: number, sums: number, to: number): void;
};

const MODULE = new WebAssembly.Module(Uint8Array.from(atob(KERNEL_CODE), (sign) => sign.charCodeAt(0)));
const PAGE = 65_536;
/** Cells that have a place of their own in the index of a block. */
const INDEX_CELLS = 1 << 20;
/** Slots for the combinations of a block: 2^17. */
const [SLOTS, SLOTS_SHIFT] = [1 << 17, 15];

/** The rows of a block by number: which combination of values each has. */
export interface Numbered {
  readonly rows: number;
  readonly count: number;
}

/** Memory for one grouping, and the loops over it. What a row or a block needs has its areas; what grows is allocated. */
export class Kernel {
  private readonly memory = new WebAssembly.Memory({ initial: 144 });
  readonly loops = new WebAssembly.Instance(MODULE, { env: { memory: this.memory } }).exports as Loops;
  private used = 8;

  /** A u32 a row: its cell, its number, or the group of a number. */
  readonly cells = this.allocate(4 * MOST_ROWS);
  /** A u32 a number: what stands in the place of its code. */
  readonly wanted = this.allocate(4 * MOST_ROWS);
  private readonly combos = this.allocate(4 * MOST_ROWS);
  /** A u32 a number: the row in which it was met first. */
  readonly firsts = this.allocate(4 * MOST_ROWS);
  private readonly table = this.allocate(4 * MOST_ROWS);
  /** Four f64 a number. */
  readonly sums = this.allocate(8 * FIGURES * MOST_ROWS);
  private readonly codes = this.allocate(2 * MOST_ROWS);
  private readonly costs = this.allocate(2 * MOST_ROWS);
  private readonly kinds = this.allocate(MOST_ROWS);
  private readonly amounts = this.allocate(8 * MOST_ROWS);
  private readonly index = this.allocate(4 * INDEX_CELLS);
  private readonly slots = this.allocate(8 * SLOTS);

  /** @returns the first of so many bytes, all of them zero */
  allocate(bytes: number): number {
    const at = this.used;
    this.used += Math.ceil(bytes / 8) * 8;
    const missing = this.used - this.memory.buffer.byteLength;
    if (missing > 0) this.memory.grow(Math.ceil(missing / PAGE));
    return at;
  }
  /** An array that was allocated with more room. */
  larger(at: number, bytes: number, size: number): number {
    const to = this.allocate(size);
    new Uint8Array(this.memory.buffer).copyWithin(to, at, at + bytes);
    return to;
  }
  // Arrays in memory, until something is allocated.
  u32 = (at: number, length: number): Uint32Array => new Uint32Array(this.memory.buffer, at, length);
  u16 = (at: number, length: number): Uint16Array => new Uint16Array(this.memory.buffer, at, length);
  f64 = (at: number, length: number): Float64Array => new Float64Array(this.memory.buffer, at, length);

  /**
   * Numbers the combinations of the columns' values that rows really have, in the order in which they are met; each
   * row's number then stands in its cell.
   * @param rows at most `MOST_ROWS`
   */
  numberRows(rows: number, columns: readonly Column[]): Numbered {
    const { loops, cells, codes, combos, firsts } = this;
    this.u32(cells, rows).fill(0);
    // How many different cells there may be.
    let size = 1;
    const number = (): void => {
      size =
        size <= INDEX_CELLS
          ? loops.numberByIndex(cells, rows, combos, firsts, this.index)
          : loops.numberByHash(cells, rows, firsts, this.slots, SLOTS_SHIFT);
    };
    for (const [i, { values, codes: own }] of columns.entries()) {
      if (i > 0 && size * values.length > INDEX_CELLS) number();
      this.u16(codes, rows).set(own.subarray(0, rows));
      loops.widen(cells, codes, rows, values.length);
      size *= values.length;
    }
    number();
    return { rows, count: size };
  }

  /** The number of each row, until something is allocated. */
  numbersOf = ({ rows }: Numbered): Uint32Array => this.u32(this.cells, rows);

  /**
   * Sums of clicks by the numbers that the rows were given last.
   * @param kindOf of each value of `kind`: which of the first three figures it counts for; with the third, no amount counts
   * @param amountOf of each value of `cost`, added to the fourth figure
   */
  sumClicks(
    { rows, count }: Numbered,
    kind: Column,
    kindOf: Uint8Array,
    cost: Column,
    amountOf: Float64Array,
  ): Float64Array {
    const { cells, codes, kinds, costs, amounts, sums } = this;
    this.u16(codes, rows).set(kind.codes.subarray(0, rows));
    this.u16(costs, rows).set(cost.codes.subarray(0, rows));
    new Uint8Array(this.memory.buffer, kinds).set(kindOf);
    this.f64(amounts, amountOf.length).set(amountOf);
    const own = this.f64(sums, count * FIGURES).fill(0);
    this.loops.addClicks(cells, rows, codes, kinds, costs, amounts, sums);
    return own;
  }

  /** What stands in the place of a column's code: in `wanted`, by the numbers that the rows were given last. */
  lookUp({ rows, count }: Numbered, column: Column, table: Int32Array): void {
    this.u16(this.codes, rows).set(column.codes.subarray(0, rows));
    this.u32(this.table, table.length).set(table);
    this.loops.lookUp(this.firsts, count, this.codes, this.table, this.wanted);
  }
}
