import { type Column, MOST_ROWS } from './block';
import { KERNEL_CODE } from './kernel_code';

/** The functions of kernel.as, which says what they do. All numbers are whole; arrays are told by their first byte. */
type Loops = {
  countRows(
    ...[groups, rows, codes, kinds, amountCodes, amounts, free, sums, thirds, far]: [
      ...[number, number, number, number, number, number, number, number, number, boolean],
    ]
  ): void;
  lookUp(codes: number, rows: number, table: number, found: number): void;
  lookUpCells(codes: number, rows: number, table: number, groups: number, width: number): void;
  toCells(lefts: number, count: number, width: number, rights: number): void;
  fromCells(cells: number, count: number, width: number, rights: number): void;
  fromPairs(pairs: number, count: number, known: number, rights: number): void;
  exchange(numbers: number, count: number, table: number): void;
  numberPairs(
    ...[lefts, rights, count, slots, shift, known, pairs]: [number, number, number, number, number, number, number]
  ): number;
  placePairs(slots: number, shift: number, known: number, pairs: number): void;
  addSums(
    ...[groups, count, fromSums, fromThirds, sums, thirds]: [number, number, number, number, number, number]
  ): void;
  counted(
    ...[sums, thirds, otherSums, otherThirds, count, found]: [number, number, number, number, number, number]
  ): number;
  gather(...[groups, count, sums, thirds, toSums, toThirds]: [number, number, number, number, number, number]): void;
  total(groups: number, count: number, sums: number, thirds: number, to: number): void;
  figuresOf(
    ...[groups, count, sums, thirds, otherSums, otherThirds, weights, whole, sign, figures]: [
      ...[number, number, number, number, number, number, number, boolean, number, number],
    ]
  ): void;
  smallest(numbers: number, count: number, most: number, heap: number, found: number): number;
};

/** A line of the processor's cache: no group's counts lie in two of them. */
const LINE = 64;
/** Groups from which on their counts, 16 bytes each, are not in the caches any more. */
const FAR = 1 << 15;
const MODULE = new WebAssembly.Module(Uint8Array.from(atob(KERNEL_CODE), (sign) => sign.charCodeAt(0)));
const PAGE = 65_536;
const NO_KIND = 3;
/** Memory of the kernel that a thread keeps, at most. */
const MOST_KEPT = 128 * 1024 * 1024;

/** Memory for one grouping, and the loops over it. What the rows of a block need has its areas; what grows is allocated. */
export class Kernel {
  private readonly memory = new WebAssembly.Memory({ initial: 64 });
  readonly loops = new WebAssembly.Instance(MODULE, { env: { memory: this.memory } }).exports as Loops;
  private used = LINE;

  /** A u32 a row: its group. */
  readonly groups = this.allocate(4 * MOST_ROWS);
  /** A u32 a row: the number of its value of a further dimension. */
  readonly further = this.allocate(4 * MOST_ROWS);
  private readonly table = this.allocate(4 * MOST_ROWS);
  private readonly codes = this.allocate(2 * MOST_ROWS);
  private readonly amountCodes = this.allocate(2 * MOST_ROWS);
  private readonly kinds = this.allocate(MOST_ROWS);
  private readonly amounts = this.allocate(8 * MOST_ROWS);

  /** Where the areas end, and what is allocated begins. */
  private readonly areas = this.used;
  private static spare: Kernel | undefined;

  /** One that is free, or a new one. */
  static take(): Kernel {
    const kernel = Kernel.spare ?? new Kernel();
    Kernel.spare = undefined;
    kernel.clear();
    return kernel;
  }
  /** Nothing that was allocated is needed any more. */
  clear(): void {
    this.used = this.areas;
  }
  /** Nobody uses this any more. It is kept for the next: memory that is made anew costs more than all the counting. */
  free(): void {
    if (this.memory.buffer.byteLength <= MOST_KEPT) Kernel.spare = this;
  }

  /** @returns the first of so many bytes, whatever they are */
  allocate(bytes: number): number {
    const at = this.used;
    this.used += Math.ceil(bytes / LINE) * LINE;
    const missing = this.used - this.memory.buffer.byteLength;
    if (missing > 0) this.memory.grow(Math.ceil(missing / PAGE));
    return at;
  }
  /** An array that was allocated with more room; what is new is zero. */
  larger(at: number, bytes: number, size: number): number {
    const to = this.allocate(size);
    const all = new Uint8Array(this.memory.buffer);
    all.copyWithin(to, at, at + bytes);
    all.fill(0, to + bytes, to + size);
    return to;
  }
  /** @returns where a copy of an array stands now */
  put = (array: Uint32Array): number => {
    const at = this.allocate(array.byteLength);
    this.u32(at, array.length).set(array);
    return at;
  };
  putNumbers(array: Float64Array): number {
    const at = this.allocate(array.byteLength);
    this.f64(at, array.length).set(array);
    return at;
  }
  // Arrays in memory, until something is allocated.
  u32 = (at: number, length: number): Uint32Array => new Uint32Array(this.memory.buffer, at, length);
  u16 = (at: number, length: number): Uint16Array => new Uint16Array(this.memory.buffer, at, length);
  f64 = (at: number, length: number): Float64Array => new Float64Array(this.memory.buffer, at, length);

  /**
   * The numbers of the rows' values in one column.
   * @param numberOf by code
   * @param found `groups` or `further`
   */
  lookUp(rows: number, column: Column, numberOf: Uint32Array, found: number): void {
    this.putColumn(rows, column, numberOf);
    this.loops.lookUp(this.codes, rows, this.table, found);
  }

  /** The rows' groups, in `groups`, become their cells among so many values of a further column. */
  lookUpCells(rows: number, column: Column, numberOf: Uint32Array, width: number): void {
    this.putColumn(rows, column, numberOf);
    this.loops.lookUpCells(this.codes, rows, this.table, this.groups, width);
  }

  private putColumn(rows: number, column: Column, numberOf: Uint32Array): void {
    this.u16(this.codes, rows).set(column.codes.subarray(0, rows));
    this.u32(this.table, numberOf.length).set(numberOf);
  }

  /**
   * Counts the rows for the groups that they have.
   * @param kindOf by code of `kind`: 0, 1 or 2
   * @param amountOf by code of `amount`
   * @param free the kind whose amounts are not added, if any
   * @param sums of each group the first two kinds (u32) and the amount (f64)
   * @param thirds of each group the third kind (u32)
   * @param room for how many groups
   */
  countRows(
    rows: number,
    [kind, kindOf]: readonly [Column, Uint8Array],
    [amount, amountOf]: readonly [Column, Float64Array],
    free: number | undefined,
    { sums, thirds, room }: { readonly sums: number; readonly thirds: number; readonly room: number },
  ): void {
    const { groups, codes, kinds, amountCodes, amounts } = this;
    this.u16(codes, rows).set(kind.codes.subarray(0, rows));
    this.u16(amountCodes, rows).set(amount.codes.subarray(0, rows));
    new Uint8Array(this.memory.buffer, kinds).set(kindOf);
    this.f64(amounts, amountOf.length).set(amountOf);
    this.loops.countRows(groups, rows, codes, kinds, amountCodes, amounts, free ?? NO_KIND, sums, thirds, room > FAR);
  }
}
