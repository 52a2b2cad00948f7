import type { Column } from './block';
import type { Kernel } from './kernel';

/** How groups of some dimensions and the values of a further one become the groups of all of these. */
export interface Level {
  /** Groups are below. @param before what those of the dimensions before are below */
  count(before: number): number;
  /** The groups of the kernel's rows become those that they are together with their values in a column, by number. */
  add(rows: number, column: Column, numberOf: Uint32Array): void;
  /**
   * Each of some groups becomes that which it is together with a further value.
   * @param groups where they stand in the kernel
   * @param values where their further values stand by number
   */
  join(groups: number, values: number, count: number): void;
  /** The other way. */
  part(groups: number, values: number, count: number): void;
}

/** Every pair that there may be is a group, met or not: group × width + value. For few enough of them. */
export class Cells implements Level {
  /** Values are below. */
  readonly width: number;

  /** @param values that there are; there is room for an eighth more */
  constructor(
    private readonly kernel: Kernel,
    values: number,
  ) {
    this.width = Math.max(8, Math.ceil(1.125 * values));
  }
  count = (before: number): number => before * this.width;
  add(rows: number, column: Column, numberOf: Uint32Array): void {
    this.kernel.lookUpCells(rows, column, numberOf, this.width);
  }

  join(groups: number, values: number, count: number): void {
    this.kernel.loops.toCells(groups, count, this.width, values);
  }
  part(groups: number, values: number, count: number): void {
    this.kernel.loops.fromCells(groups, count, this.width, values);
  }
}

/** Pairs are numbered as they are met, by open addressing. */
export class Pairs implements Level {
  private pairs = 0;
  /** Where group and value of each pair stand, and for how many there is room. */
  private known: number;
  private room = 1024;
  /** Where slots stand, and 32 less the binary logarithm of their number. */
  private slots: { at: number; shift: number };

  constructor(private readonly kernel: Kernel) {
    this.known = kernel.allocate(8 * this.room);
    this.slots = this.slotsFor(this.room);
  }

  count = (): number => this.pairs;
  add(rows: number, column: Column, numberOf: Uint32Array): void {
    const { kernel } = this;
    kernel.lookUp(rows, column, numberOf, kernel.further);
    this.join(kernel.groups, kernel.further, rows);
  }

  private slotsFor(pairs: number): { at: number; shift: number } {
    const bits = Math.ceil(Math.log2(pairs)) + 1;
    return { at: this.kernel.larger(0, 0, 4 * 2 ** bits), shift: 32 - bits };
  }

  join(groups: number, values: number, count: number): void {
    const { kernel } = this;
    if (this.pairs + count > this.room) {
      this.room = 2 ** Math.ceil(Math.log2(this.pairs + count));
      this.known = kernel.larger(this.known, 8 * this.pairs, 8 * this.room);
      this.slots = this.slotsFor(this.room);
      kernel.loops.placePairs(this.slots.at, this.slots.shift, this.known, this.pairs);
    }
    const { at, shift } = this.slots;
    this.pairs = kernel.loops.numberPairs(groups, values, count, at, shift, this.known, this.pairs);
  }

  part(groups: number, values: number, count: number): void {
    this.kernel.loops.fromPairs(groups, count, this.known, values);
  }
}
