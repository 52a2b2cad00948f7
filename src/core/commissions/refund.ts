import type { Refund } from '../conversions/standing';
import { allocate, divideRounded } from '../money/money';
import type { Explanation } from './rate';

/** What each line earned: what a row paid, over the lines it won by their bases and the largest remainder. */
function byLine({ lines, paid }: Explanation): number[] {
  const earned = lines.map(() => 0);
  const winners = lines.map(({ looks }) => looks.find(({ failed }) => failed === undefined)?.row);
  for (const { row, amount } of paid) {
    const won = lines.flatMap((_, index) => (winners[index] === row ? [index] : []));
    const weights = won.map((index) => Math.max(0, lines[index]?.base ?? 0));
    const parts = weights.some((weight) => weight > 0)
      ? allocate(amount, weights)
      : allocate(
          amount,
          weights.map(() => 1),
        );
    won.forEach((index, at) => (earned[index] = parts[at] ?? 0));
  }
  return earned;
}

/** A part of an amount, rounded once, half away from zero. */
const partOf = (amount: number, part: number, whole: number): number =>
  Number(divideRounded(BigInt(amount) * BigInt(part), BigInt(whole)));

/**
 * What of a commission goes with what was refunded of its sale. Items take what their own lines earned, in proportion
 * to the units; an amount takes the same share of the commission as of the sale. Never more than the commission.
 * @returns minor units of the program
 */
export function refundedPart(amount: number, explanation: Explanation, refund: Refund): number {
  if (refund.whole) return amount;
  const { figures } = explanation;
  let part = refund.amount === 0 || figures.amount === 0 ? 0 : partOf(amount, refund.amount, figures.amount);
  const left = { ...refund.items };
  const earned = byLine(explanation);
  figures.items.forEach(({ sku, quantity }, index) => {
    const units = Math.min(quantity, left[sku] ?? 0);
    if (units === 0) return;
    left[sku] = (left[sku] ?? 0) - units;
    part += partOf(earned[index] ?? 0, units, quantity);
  });
  return Math.min(part, amount);
}
