import type { Block } from './block';
import type { Counting } from './counting';
import type { Kernel } from './kernel';
import type { Counts, Kinds } from './sums';

/** What is counted by group, in the memory of a kernel. */
export class Tally {
  /** Where the counts stand, and of how many groups. */
  sums = 0;
  thirds = 0;
  room = 0;
  isEmpty = true;

  constructor(
    private readonly kernel: Kernel,
    private readonly counting: Counting,
  ) {}

  /** Called before anything of these is asked for. @param groups how many there are by now */
  makeRoom(groups: number): void {
    const { kernel, room } = this;
    if (groups <= room) return;
    this.room = Math.max(8192, Math.ceil(1.25 * groups));
    this.sums = kernel.larger(this.sums, 16 * room, 16 * this.room);
    this.thirds = kernel.larger(this.thirds, 4 * room, 4 * this.room);
  }

  /** Counts the rows of a block for the groups that they have in the kernel. */
  add(block: Block): void {
    this.isEmpty = false;
    const { kind, kindOf, amount, free } = this.counting;
    const [kinds, amounts] = [block.column(kind), block.column(amount)];
    this.kernel.countRows(
      block.rows,
      [kinds, Uint8Array.from(kinds.values, kindOf)],
      [amounts, Float64Array.from(amounts.values, (text) => Number(text) || 0)],
      free,
      this,
    );
  }

  /** Adds what was counted elsewhere. @param groups where the group here of each group there stands in the kernel */
  absorb(groups: number, { sums, thirds }: Counts): void {
    this.isEmpty = false;
    const { loops, put } = this.kernel;
    loops.addSums(groups, thirds.length, put(sums), put(thirds), this.sums, this.thirds);
  }

  /** What was counted of the first so many groups, until something is allocated. */
  counts(groups: number): Counts {
    return { sums: this.kernel.u32(this.sums, 4 * groups), thirds: this.kernel.u32(this.thirds, groups) };
  }

  /** A copy of what was counted of some groups; of none where nothing was. */
  gather(groups: Uint32Array): Counts {
    const { kernel } = this;
    const count = this.isEmpty ? 0 : groups.length;
    const [sums, thirds] = [kernel.allocate(16 * count), kernel.allocate(4 * count)];
    kernel.loops.gather(kernel.put(groups), count, this.sums, this.thirds, sums, thirds);
    return { sums: kernel.u32(sums, 4 * count).slice(), thirds: kernel.u32(thirds, count).slice() };
  }

  /** What was counted of some groups together. */
  total(groups: Uint32Array): Kinds {
    const { kernel } = this;
    const to = kernel.allocate(32);
    kernel.loops.total(kernel.put(groups), this.isEmpty ? 0 : groups.length, this.sums, this.thirds, to);
    const [first = 0, second = 0, third = 0, amount = 0] = kernel.f64(to, 4);
    return { first, second, third, amount };
  }
}
