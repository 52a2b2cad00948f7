import type { Block } from './block';
import { ASIDE, CONVERSION_FIGURES, KINDS, REPEAT, type SumTable, UNIQUE } from './sums';

/** Adds the rows of a block to the sums of their groups; a row without a group has −1. */
export type Counting = (block: Block, groups: Int32Array, sums: SumTable) => void;

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
