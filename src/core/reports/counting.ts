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
    const amounts = Float64Array.from(commission.values, (text) => Number(text) || 0);
    const approved = Uint8Array.from(state.values, (text) =>
      ['approved', 'in_payout', 'paid'].includes(text) ? 1 : 0,
    );
    const decided = Uint8Array.from(state.values, (text, i) =>
      approved[i] === 1 || text === 'rejected' || text === 'reversed' ? 1 : 0,
    );
    const sums = kernel.f64(kernel.sums, numbered.count * FIGURES).fill(0);
    const add = (place: number, amount: number): void => {
      sums[place] = (sums[place] as number) + amount;
    };
    const numbers = kernel.numbersOf(numbered);
    for (let row = 0; row < numbers.length; row++) {
      const [at, code] = [(numbers[row] as number) * FIGURES, state.codes[row] as number];
      add(at + CONVERSIONS, 1);
      add(at + APPROVED, approved[code] as number);
      add(at + DECIDED, decided[code] as number);
      add(at + COMMISSION, amounts[commission.codes[row] as number] as number);
    }
    return sums;
  },
};
