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

/** Repeats, uniques, clicks set aside and cost of a group stand in this order. */
export const [REPEAT, UNIQUE, ASIDE, COST] = [0, 1, 2, 3] as const;
/** Conversions, approved, decided and commission of a group stand in this order. */
export const [CONVERSIONS, APPROVED, DECIDED, COMMISSION] = [0, 1, 2, 3] as const;
/** Figures of a group in either table. */
export const FIGURES = 4;
export type SumsOf = 'clicks' | 'conversions';

/** The sums of groups, those of clicks apart from those of conversions: FIGURES a group. */
export class SumTable {
  constructor(
    readonly clicks: Float64Array,
    readonly conversions: Float64Array,
  ) {}

  /** @param into where the sums are written, for those who read many groups and keep none */
  read(group: number, into: Sums = { ...NO_SUMS }): Sums {
    const at = group * FIGURES;
    into.uniques = this.clicks[at + UNIQUE] ?? 0;
    into.clicks = (this.clicks[at + REPEAT] ?? 0) + into.uniques;
    into.setAside = this.clicks[at + ASIDE] ?? 0;
    into.cost = this.clicks[at + COST] ?? 0;
    into.conversions = this.conversions[at + CONVERSIONS] ?? 0;
    into.approved = this.conversions[at + APPROVED] ?? 0;
    into.decided = this.conversions[at + DECIDED] ?? 0;
    into.commission = this.conversions[at + COMMISSION] ?? 0;
    return into;
  }

  /** The groups that something was counted of, in order. */
  counted(): Int32Array {
    const groups = this.clicks.length / FIGURES;
    const counted = new Int32Array(groups);
    let count = 0;
    for (let group = 0; group < groups; group++) if (!this.isEmpty(group)) counted[count++] = group;
    return counted.slice(0, count);
  }

  /** The sums of all groups. */
  total(): Sums {
    const all = new SumTable(new Float64Array(FIGURES), new Float64Array(FIGURES));
    for (let at = 0; at < this.clicks.length; at++) {
      const figure = at % FIGURES;
      all.clicks[figure] = (all.clicks[figure] as number) + (this.clicks[at] as number);
      all.conversions[figure] = (all.conversions[figure] as number) + (this.conversions[at] as number);
    }
    return all.read(0);
  }

  private isEmpty(group: number): boolean {
    const at = group * FIGURES;
    return (
      this.clicks[at + REPEAT] === 0 &&
      this.clicks[at + UNIQUE] === 0 &&
      this.clicks[at + ASIDE] === 0 &&
      this.conversions[at + CONVERSIONS] === 0
    );
  }
}
