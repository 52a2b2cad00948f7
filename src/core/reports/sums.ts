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

/** What a click counts as; an array of three whole numbers a group says how many of each. */
export const [REPEAT, UNIQUE, ASIDE, KINDS] = [0, 1, 2, 3] as const;
/** Conversions, approved, decided and commission of a group stand in this order. */
export const CONVERSION_FIGURES = 4;

/**
 * The sums of all groups, apart by how often they are added to: what every click adds to lies close together, so that
 * it stays near the processor.
 */
export class SumTable {
  kinds: Int32Array;
  cost: Float64Array;
  conversions: Float64Array;

  constructor(groups = 1024) {
    this.kinds = new Int32Array(KINDS * groups);
    this.cost = new Float64Array(groups);
    this.conversions = new Float64Array(CONVERSION_FIGURES * groups);
  }

  reserve(groups: number): void {
    if (groups <= this.cost.length) return;
    const size = Math.max(groups, this.cost.length * 2);
    const grow = <T extends Int32Array | Float64Array>(from: T, to: T): T => (to.set(from), to);
    this.kinds = grow(this.kinds, new Int32Array(KINDS * size));
    this.cost = grow(this.cost, new Float64Array(size));
    this.conversions = grow(this.conversions, new Float64Array(CONVERSION_FIGURES * size));
  }

  read(group: number): Sums {
    const kind = (of: number): number => this.kinds[group * KINDS + of] ?? 0;
    const conversion = (of: number): number => this.conversions[group * CONVERSION_FIGURES + of] ?? 0;
    return {
      clicks: kind(REPEAT) + kind(UNIQUE),
      uniques: kind(UNIQUE),
      setAside: kind(ASIDE),
      cost: this.cost[group] ?? 0,
      conversions: conversion(0),
      approved: conversion(1),
      decided: conversion(2),
      commission: conversion(3),
    };
  }

  /** Makes room for so many groups, of which nothing is counted yet. */
  clear(groups: number): void {
    this.reserve(groups);
    this.kinds.fill(0, 0, groups * KINDS);
    this.cost.fill(0, 0, groups);
    this.conversions.fill(0, 0, groups * CONVERSION_FIGURES);
  }

  /** Adds a group of another table to one of this. */
  add(to: number, from: SumTable, group: number): void {
    for (let i = 0; i < KINDS; i++)
      this.kinds[to * KINDS + i] = (this.kinds[to * KINDS + i] ?? 0) + (from.kinds[group * KINDS + i] ?? 0);
    this.cost[to] = (this.cost[to] ?? 0) + (from.cost[group] ?? 0);
    for (let i = 0; i < CONVERSION_FIGURES; i++) {
      const at = to * CONVERSION_FIGURES + i;
      this.conversions[at] = (this.conversions[at] ?? 0) + (from.conversions[group * CONVERSION_FIGURES + i] ?? 0);
    }
  }

  /** The first groups, as far as something was counted of them. */
  counted(groups: number): number[] {
    const counted: number[] = [];
    for (let group = 0; group < groups; group++) if (!this.isEmpty(group)) counted.push(group);
    return counted;
  }

  /** A table of these groups alone, in their order. */
  pick(groups: Int32Array): SumTable {
    const picked = new SumTable(groups.length);
    for (let i = 0; i < groups.length; i++) picked.add(i, this, groups[i] as number);
    return picked;
  }

  isEmpty(group: number): boolean {
    const at = group * KINDS;
    return (
      this.kinds[at] === 0 &&
      this.kinds[at + 1] === 0 &&
      this.kinds[at + 2] === 0 &&
      this.conversions[group * CONVERSION_FIGURES] === 0
    );
  }
}
