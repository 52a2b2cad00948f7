/** What is counted of each row: of three kinds which it is, and an amount. */
export interface Counting {
  readonly of: 'clicks' | 'conversions';
  /** The column whose value says which kind. */
  readonly kind: string;
  kindOf(value: string): 0 | 1 | 2;
  readonly amount: string;
  /** The kind whose amounts do not count. */
  readonly free?: 0 | 1 | 2;
}

/** Clicks: repeated, unique, set aside; their cost in millionths of the currency. `unique` is empty for those set aside. */
export const countClicks: Counting = {
  of: 'clicks',
  kind: 'unique',
  kindOf: (unique) => (unique === '' ? 2 : unique === 'unique' ? 1 : 0),
  amount: 'cost',
  free: 2,
};

/** The state of a commission as reports have it: they do not tell apart what is approved, in a run and paid. */
export const reportedState = (state: string): string =>
  state === 'in_payout' || state === 'paid' ? 'approved' : state;

/** Matched conversions: not decided on, approved, declined; their commission in minor units. */
export const countConversions: Counting = {
  of: 'conversions',
  kind: 'state',
  kindOf: (state) => (reportedState(state) === 'approved' ? 1 : ['rejected', 'reversed'].includes(state) ? 2 : 0),
  amount: 'commission',
};
