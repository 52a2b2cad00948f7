import type { Block } from './block';
import type { Kernel, Numbered } from './kernel';
import { APPROVED, ASIDE, COMMISSION, CONVERSIONS, DECIDED, FIGURES, REPEAT, type SumsOf, UNIQUE } from './sums';

/** How the rows of a block are summed up. */
export interface Counting {
  readonly of: SumsOf;
  /** @returns the sums of each number that the rows were given: FIGURES a number, in the kernel's own place for them */
  sums(kernel: Kernel, block: Block, numbered: Numbered): Float64Array;
}

/** Counts clicks by what they are: `unique` is empty for those set aside, of which nothing else is counted. */
export const countClicks: Counting = {
  of: 'clicks',
  sums(kernel, block, numbered) {
    const [unique, cost] = [block.column('unique'), block.column('cost')];
    const kinds = Uint8Array.from(unique.values, (text) => (text === '' ? ASIDE : text === 'unique' ? UNIQUE : REPEAT));
    const amounts = Float64Array.from(cost.values, (text) => Number(text) || 0);
    return kernel.sumClicks(numbered, unique, kinds, cost, amounts);
  },
};

/** Counts matched conversions by the columns `state` and `commission`; of those that were decided, how many were approved. */
export const countConversions: Counting = {
  of: 'conversions',
  sums(kernel, block, numbered) {
    const [state, commission] = [block.column('state'), block.column('commission')];
    const amounts = commission.values.map((text) => Number(text) || 0);
    const approved = state.values.map((text) => (['approved', 'in_payout', 'paid'].includes(text) ? 1 : 0));
    const decided = state.values.map((text, i) => approved[i] || (text === 'rejected' || text === 'reversed' ? 1 : 0));
    const sums = kernel.f64(kernel.sums, numbered.count * FIGURES).fill(0);
    const add = (place: number, amount = 0): void => {
      sums[place] = (sums[place] ?? 0) + amount;
    };
    for (const [row, number] of kernel.numbersOf(numbered).entries()) {
      const [at, code] = [number * FIGURES, state.codes[row] ?? 0];
      add(at + CONVERSIONS, 1);
      add(at + APPROVED, approved[code]);
      add(at + DECIDED, decided[code]);
      add(at + COMMISSION, amounts[commission.codes[row] ?? 0]);
    }
    return sums;
  },
};
