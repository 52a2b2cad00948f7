import type { Destination, Mix } from './plan';
import { type Outlook, LEAST } from './verdict';

/** Shares of the destinations that are on, in whole percent that sum to 100 (largest remainder, ties to the first). */
function wholePercents(shares: readonly number[]): number[] {
  const sum = shares.reduce((all, each) => all + each, 0);
  const exact = shares.map((each) => (100 * each) / sum);
  const whole = exact.map(Math.floor);
  const missing = 100 - whole.reduce((all, each) => all + each, 0);
  const order = exact.map((each, i) => ({ i, left: each - Math.floor(each) })).sort((a, b) => b.left - a.left);
  for (const { i } of order.slice(0, missing)) whole[i] = (whole[i] ?? 0) + 1;
  return whole;
}

/**
 * Weights moved towards each destination's chance to be best: never below the least share, never by more points than
 * the step, and not before there is anything to go by.
 * @returns undefined when nothing moves
 */
export function shiftedWeights({ to, shift }: Mix, { arms, verdict }: Outlook): Destination[] | undefined {
  const on = to.filter((each) => each.on && each.weight > 0);
  if (!shift || on.length < 2 || (verdict.kind === 'too_early' && verdict.because !== 'unclear')) return undefined;
  const least = Math.min(shift.least, Math.floor(100 / on.length));
  const now = wholePercents(on.map(({ weight }) => weight));
  const chance = new Map(arms.map(({ page, chanceToBeBest }) => [page, chanceToBeBest]));
  if (on.some(({ page }) => !chance.has(page)) || arms.some(({ uniques }) => uniques < LEAST.uniques)) return undefined;
  const free = 100 - least * on.length;
  const wanted = on.map(({ page }) => least + free * (chance.get(page) ?? 0));
  // Every move is shortened alike, so that the shares keep their sum and the widest keeps to the step.
  const widest = Math.max(...wanted.map((each, i) => Math.abs(each - (now[i] ?? 0))));
  const part = widest > shift.step ? shift.step / widest : 1;
  const next = wholePercents(wanted.map((each, i) => (now[i] ?? 0) + part * (each - (now[i] ?? 0))));
  if (next.every((each, i) => each === now[i])) return undefined;
  return to.map((each) => ({
    ...each,
    weight: on.includes(each) ? (next[on.indexOf(each)] ?? each.weight) : each.weight,
  }));
}
