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

/** What was counted of one group, and then of another. */
class KindsAt implements Kinds {
  group = 0;
  private readonly amounts: Float64Array;

  constructor(private readonly counts: Counts) {
    this.amounts = amountsOf(counts.sums);
  }
  get first(): number {
    return this.counts.sums[4 * this.group] as number;
  }
  get second(): number {
    return this.counts.sums[4 * this.group + 1] as number;
  }
  get third(): number {
    return this.counts.thirds[this.group] as number;
  }
  get amount(): number {
    return this.amounts[2 * this.group + 1] as number;
  }
}

/** Clicks are repeated, unique or set aside; conversions are undecided, approved or declined. Worked out when asked for. */
class SumsOf implements Sums {
  constructor(
    private readonly click: Kinds,
    private readonly conversion: Kinds,
  ) {}
  get clicks(): number {
    return this.click.first + this.click.second;
  }
  get uniques(): number {
    return this.click.second;
  }
  get setAside(): number {
    return this.click.third;
  }
  get cost(): number {
    return this.click.amount;
  }
  get conversions(): number {
    return this.conversion.first + this.decided;
  }
  get approved(): number {
    return this.conversion.second;
  }
  get decided(): number {
    return this.conversion.second + this.conversion.third;
  }
  get commission(): number {
    return this.conversion.amount;
  }
  all(): Sums {
    const { clicks, uniques, setAside, cost, conversions, approved, decided, commission } = this;
    return { clicks, uniques, setAside, cost, conversions, approved, decided, commission };
  }
}

/** The sums of what was counted. */
export const sumsOf = (click: Kinds, conversion: Kinds): Sums => new SumsOf(click, conversion).all();

/** The sums of groups. */
export class SumTable {
  private readonly at: readonly [KindsAt, KindsAt];
  private readonly sums: SumsOf;

  /** @param conversions of as many groups as clicks */
  constructor(clicks: Counts, conversions: Counts) {
    this.at = [new KindsAt(clicks), new KindsAt(conversions)];
    this.sums = new SumsOf(...this.at);
  }

  /** Those of a group, until another one is asked for. */
  of(group: number): Sums {
    this.at[0].group = this.at[1].group = group;
    return this.sums;
  }
  /** Those of a group, to be kept. */
  read(group: number): Sums {
    this.of(group);
    return this.sums.all();
  }
}
