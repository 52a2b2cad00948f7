import type { Grouped } from '@/core/reports/group';
import type { ExploreRequest } from '../explore';
import type { ScopeFilter } from '@/store/books/scope';

/** What the thread that helps is told: the blocks that both draw from, each once. */
export interface HelpOrder {
  readonly filter: ScopeFilter;
  readonly by: ExploreRequest['by'];
  readonly filters: ExploreRequest['filters'];
  /** Numbers of the first clicks of the blocks. */
  readonly blocks: readonly number[];
  readonly shared: SharedArrayBuffer;
}
/**
 * Begins to share a question; undefined where there is no other thread any more. What it returns ends it: undefined
 * where the other thread took nothing.
 */
export type Helper = (
  order: Omit<HelpOrder, 'shared'>,
) => { next(): number; result(): Grouped | undefined } | undefined;

/** What each thread keeps of the columns that it opened, at most. */
export const KEPT_MEBIBYTES = 64;

const [DRAWN, STATE] = [0, 1];
const [OPEN, JOINED, CLOSED, DONE, FAILED] = [0, 1, 2, 3, 4];
const PATIENCE_MS = 60_000;

/**
 * Blocks that two threads draw from, by a counter in shared memory: the asker from the first on, the helper from the
 * last on. So each meets mostly the blocks of which it kept columns when it was asked before.
 */
export class Draw {
  private readonly cells: Int32Array;
  private own = 0;

  constructor(
    private readonly blocks: number,
    readonly shared = new SharedArrayBuffer(8),
  ) {
    this.cells = new Int32Array(shared);
  }

  /** The place of a block that nobody else has; beyond the last where none is left. */
  next(from: 'first' | 'last'): number {
    if (Atomics.add(this.cells, DRAWN, 1) >= this.blocks) return this.blocks;
    this.own += 1;
    return from === 'first' ? this.own - 1 : this.blocks - this.own;
  }
  /** The helper comes in. @returns false where it is too late */
  join(): boolean {
    return Atomics.compareExchange(this.cells, STATE, OPEN, JOINED) === OPEN;
  }
  /** The helper has said what it counted, or could not. */
  leave(well: boolean): void {
    Atomics.store(this.cells, STATE, well ? DONE : FAILED);
    Atomics.notify(this.cells, STATE);
  }
  /**
   * The asker is through: lets no helper in, or waits for the one that is.
   * @returns whether there is something of the helper
   * @throws when it failed or ended
   */
  close(): boolean {
    if (Atomics.compareExchange(this.cells, STATE, OPEN, CLOSED) === OPEN) return false;
    Atomics.wait(this.cells, STATE, JOINED, PATIENCE_MS);
    if (Atomics.load(this.cells, STATE) === DONE) return true;
    throw new Error('The second thread of reports gave no answer.');
  }
}
