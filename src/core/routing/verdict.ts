/** What one destination of a split test has seen. */
export interface Arm {
  readonly page: string;
  /** Unique counted clicks that were sent there. */
  readonly uniques: number;
  /** Conversions of those clicks. */
  readonly conversions: number;
}
/** What the numbers say of a destination, by its posterior Beta distribution. */
export interface ArmOutlook extends Arm {
  /** Posterior mean of the conversion rate. */
  readonly rate: number;
  readonly chanceToBeBest: number;
  /** What sending everybody here would be expected to lose against the best, in points of the conversion rate. */
  readonly expectedLoss: number;
}
export type Verdict =
  /** One destination is best, as far as anybody needs to know. */
  | { readonly kind: 'best'; readonly page: string }
  /** They are so close that either will do. */
  | { readonly kind: 'equal' }
  | { readonly kind: 'too_early'; readonly because: 'days' | 'clicks' | 'conversions' | 'unclear' };
export interface Outlook {
  /** Best first. */
  readonly arms: readonly ArmOutlook[];
  readonly verdict: Verdict;
}

/** How many unique clicks the prior weighs, at the average rate of all destinations. */
const PRIOR_CLICKS = 20;
const STEPS = 2000;
const SURE = 0.95;
/** Share of the average rate below which a loss is not worth waiting for. */
const SMALL_LOSS = 0.01;
/** Below these nothing is said: a week has its rhythm, and a handful of orders proves nothing. */
export const LEAST = { days: 7, uniques: 100, conversions: 10 } as const;

interface Posterior {
  readonly a: number;
  readonly b: number;
}
const meanOf = ({ a, b }: Posterior): number => a / (a + b);
const deviationOf = ({ a, b }: Posterior): number => Math.sqrt((a * b) / ((a + b) ** 2 * (a + b + 1)));

/** Density and distribution of a Beta posterior at the middles of equal steps from `low` to `high`. */
function tabulate({ a, b }: Posterior, low: number, width: number): { density: Float64Array; below: Float64Array } {
  const logs = Float64Array.from({ length: STEPS }, (_, i) => {
    const x = low + (i + 0.5) * width;
    return (a - 1) * Math.log(x) + (b - 1) * Math.log1p(-x);
  });
  const top = logs.reduce((most, each) => Math.max(most, each), -Infinity);
  const density = logs.map((each) => Math.exp(each - top));
  const sum = density.reduce((all, each) => all + each, 0);
  const below = new Float64Array(STEPS);
  let passed = 0;
  for (let i = 0; i < STEPS; i++) {
    const share = (density[i] ?? 0) / sum;
    density[i] = share;
    below[i] = passed + share / 2;
    passed += share;
  }
  return { density, below };
}

/**
 * Compares destinations by Beta-Binomial with their common average as prior. Chance to be best and expected loss are
 * integrals over the posteriors, worked out on a grid, so the same figures always give the same answer.
 * @param days for which the test has run with these destinations
 */
export function judge(arms: readonly Arm[], days: number): Outlook {
  const uniques = arms.reduce((sum, arm) => sum + arm.uniques, 0);
  const conversions = arms.reduce((sum, arm) => sum + Math.min(arm.conversions, arm.uniques), 0);
  const average = uniques === 0 ? 0 : conversions / uniques;
  const a0 = Math.max(0.5, average * PRIOR_CLICKS);
  const posteriors = arms.map(({ uniques: seen, conversions: made }) => ({
    a: a0 + Math.min(made, seen),
    b: Math.max(0.5, PRIOR_CLICKS - a0) + seen - Math.min(made, seen),
  }));
  const low = Math.max(0, Math.min(...posteriors.map((each) => meanOf(each) - 8 * deviationOf(each))));
  const high = Math.min(1, Math.max(...posteriors.map((each) => meanOf(each) + 8 * deviationOf(each))));
  const width = (high - low) / STEPS;
  const tables = posteriors.map((each) => tabulate(each, low, width));
  let best = high;
  const chances = arms.map(() => 0);
  for (let i = 0; i < STEPS; i++) {
    const allBelow = tables.reduce((product, { below }) => product * (below[i] ?? 0), 1);
    best -= allBelow * width;
    for (const [at, { density }] of tables.entries()) {
      const others = tables.reduce((product, { below }, j) => (j === at ? product : product * (below[i] ?? 0)), 1);
      chances[at] = (chances[at] ?? 0) + (density[i] ?? 0) * others;
    }
  }
  const sum = chances.reduce((all, each) => all + each, 0) || 1;
  const outlooks = arms.map((arm, i): ArmOutlook => {
    const rate = posteriors[i] ? meanOf(posteriors[i]) : 0;
    return { ...arm, rate, chanceToBeBest: (chances[i] ?? 0) / sum, expectedLoss: Math.max(0, best - rate) };
  });
  outlooks.sort((x, y) => y.chanceToBeBest - x.chanceToBeBest);
  return { arms: outlooks, verdict: verdictOf(outlooks, days, average) };
}

function verdictOf(arms: readonly ArmOutlook[], days: number, average: number): Verdict {
  const [first] = arms;
  if (days < LEAST.days) return { kind: 'too_early', because: 'days' };
  if (!first || arms.some(({ uniques }) => uniques < LEAST.uniques)) return { kind: 'too_early', because: 'clicks' };
  if (arms.reduce((sum, { conversions }) => sum + conversions, 0) < LEAST.conversions)
    return { kind: 'too_early', because: 'conversions' };
  const small = average * SMALL_LOSS;
  if (arms.every(({ expectedLoss }) => expectedLoss <= small)) return { kind: 'equal' };
  return first.chanceToBeBest >= SURE && first.expectedLoss <= small
    ? { kind: 'best', page: first.page }
    : { kind: 'too_early', because: 'unclear' };
}
