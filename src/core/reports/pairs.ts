import type { Kernel } from './kernel';

const MOST_CELLS = 1 << 22;

/** Pairs of numbers by number: an index of cells while there are few enough, else open addressing. */
export class Pairs {
  count = 0;
  /** Where the left and the right number of each pair stand, and for how many there is room. */
  private known: number;
  private room = 1024;
  private index: number;
  private stride = 64;
  private rows = 1024;
  /** Once there are too many cells: where slots stand, and 32 less the binary logarithm of their number. */
  private slots: { at: number; shift: number } | undefined;

  constructor(private readonly kernel: Kernel) {
    this.known = kernel.allocate(8 * this.room);
    this.index = kernel.allocate(4 * this.stride * this.rows);
  }

  /**
   * The first so many cells become the numbers of their pairs with what is wanted.
   * @param lefts there are: cells are below
   * @param rights there are: what is wanted is below
   */
  number(count: number, lefts: number, rights: number): void {
    this.makeRoom(count, lefts, rights);
    const { kernel, slots, known } = this;
    const { loops, cells, wanted } = kernel;
    this.count = slots
      ? loops.pairByHash(cells, wanted, count, slots.at, slots.shift, known, this.count)
      : loops.pairByIndex(cells, wanted, count, this.index, this.stride, known, this.count);
  }

  /** That many more pairs may come. */
  private makeRoom(more: number, lefts: number, rights: number): void {
    const { kernel } = this;
    const most = this.count + more;
    if (most > this.room) {
      const room = 2 ** Math.ceil(Math.log2(most));
      this.known = kernel.larger(this.known, 8 * this.count, 8 * room);
      this.room = room;
    }
    if (this.slots) return this.hash(most);
    if (lefts <= this.rows && rights <= this.stride) return;
    while (this.stride < rights) this.stride *= 2;
    while (this.rows < lefts) this.rows *= 2;
    if (this.stride * this.rows > MOST_CELLS) return this.hash(most);
    this.index = kernel.allocate(4 * this.stride * this.rows);
    kernel.loops.indexPairs(this.index, this.stride, this.known, this.count);
  }

  private hash(most: number): void {
    const bits = Math.max(20, Math.ceil(Math.log2(most)) + 1);
    if (this.slots && 32 - this.slots.shift >= bits) return;
    this.slots = { at: this.kernel.allocate(4 * 2 ** bits), shift: 32 - bits };
    this.kernel.loops.hashPairs(this.slots.at, this.slots.shift, this.known, this.count);
  }

  /** Left and right of each pair in turn. */
  all = (): Uint32Array => this.kernel.u32(this.known, 2 * this.count);
}
