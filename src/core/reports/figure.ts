import { type Kinds, type Sums, sumsOf } from './sums';

/** A sum of a group's sums, each so many times. */
export type Weights = Partial<Record<keyof Sums, number>>;
/** A figure by which groups are ordered; over others of their sums, −1 where those are zero. */
export interface SortFigure {
  readonly of: Weights;
  readonly over?: Weights;
}

const KINDS = ['first', 'second', 'third', 'amount'] as const satisfies readonly (keyof Kinds)[];
const NONE: Kinds = { first: 0, second: 0, third: 0, amount: 0 };
const weigh = (sums: Sums, weights: Weights): number =>
  Object.entries(weights).reduce((sum, [name, weight]) => sum + weight * sums[name as keyof Sums], 0);

/** What each kind of clicks, then of conversions, adds to a sum of sums. */
const byKind = (weights: Weights): number[] => [
  ...KINDS.map((kind) => weigh(sumsOf({ ...NONE, [kind]: 1 }, NONE), weights)),
  ...KINDS.map((kind) => weigh(sumsOf(NONE, { ...NONE, [kind]: 1 }), weights)),
];

/** A figure as the kernel takes it: eight weights above, and eight below. */
export const weightsOf = ({ of, over = {} }: SortFigure): Float64Array =>
  Float64Array.from([...byKind(of), ...byKind(over)]);
