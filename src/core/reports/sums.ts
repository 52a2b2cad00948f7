/** What is counted of clicks. Cost is in millionths of the program's currency. */
export interface ClickSums {
  clicks: number;
  uniques: number;
  setAside: number;
  cost: number;
}
/** What is counted of conversions. Commission is in minor units, less what was taken back. */
export interface ConversionSums {
  conversions: number;
  approved: number;
  decided: number;
  commission: number;
}
export type Sums = ClickSums & ConversionSums;
export interface Group extends Sums {
  readonly by: readonly string[];
}

export const NO_SUMS: Sums = {
  ...{ clicks: 0, uniques: 0, setAside: 0, cost: 0 },
  ...{ conversions: 0, approved: 0, decided: 0, commission: 0 },
};

/** What was counted by group: three kinds, less than 2^32 of each, and an amount. */
export interface Counts {
  /** Four of each group: the first and the second kind, and the 64 bits of the amount. */
  readonly sums: Uint32Array;
  /** The third kind of each group. */
  readonly thirds: Uint32Array;
}
const amountsOf = ({ buffer, byteOffset, length }: Uint32Array): Float64Array =>
  new Float64Array(buffer, byteOffset, length / 2);

/** The counts of three kinds and the amount of one group, or of several together. */
export interface Kinds {
  readonly first: number;
  readonly second: number;
  readonly third: number;
  readonly amount: number;
}

/** What was counted of one group. */
const kindsAt = ({ sums, thirds }: Counts, group: number): Kinds => ({
  first: sums[4 * group] ?? 0,
  second: sums[4 * group + 1] ?? 0,
  third: thirds[group] ?? 0,
  amount: amountsOf(sums)[2 * group + 1] ?? 0,
});

/** Clicks are repeated, unique or set aside; conversions are undecided, approved or declined. */
export const sumsOf = (click: Kinds, conversion: Kinds): Sums => ({
  clicks: click.first + click.second,
  uniques: click.second,
  setAside: click.third,
  cost: click.amount,
  conversions: conversion.first + conversion.second + conversion.third,
  approved: conversion.second,
  decided: conversion.second + conversion.third,
  commission: conversion.amount,
});

/** The sums of one group, by what was counted of all. */
export const sumsAt = (clicks: Counts, conversions: Counts, group: number): Sums =>
  sumsOf(kindsAt(clicks, group), kindsAt(conversions, group));
