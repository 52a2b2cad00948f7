/** State of a partner's payout details: who is paid, where to, and whether somebody has checked it. */
export type DetailsState = 'missing' | 'unchecked' | 'checked';

export const OUT_REASONS = [
  'nothing_due',
  'negative',
  'below_minimum',
  'details_missing',
  'details_unchecked',
  'on_hold',
  'needs_rate',
] as const;
export type OutReason = (typeof OUT_REASONS)[number];

export interface Candidate {
  /** Approved up to the cut-off, negative entries set off; minor units of the program. */
  readonly balance: number;
  readonly programMinimum: number;
  /** A partner may set a higher minimum, never a lower one. */
  readonly ownMinimum: number | null;
  readonly details: DetailsState;
  readonly onHold: boolean;
  /** False when the payout currency has no stored rate for the run's day. */
  readonly convertible: boolean;
}

export type Decision = { readonly in: true } | { readonly in: false; readonly reason: OutReason };

/** Whether a partner is paid in this run; the first reason found is the one to mend first. */
export function decidePayout(candidate: Candidate): Decision {
  const out = (reason: OutReason): Decision => ({ in: false, reason });
  if (candidate.balance === 0) return out('nothing_due');
  if (candidate.balance < 0) return out('negative');
  if (candidate.onHold) return out('on_hold');
  if (candidate.details === 'missing') return out('details_missing');
  if (candidate.details === 'unchecked') return out('details_unchecked');
  if (candidate.balance < Math.max(candidate.programMinimum, candidate.ownMinimum ?? 0)) return out('below_minimum');
  if (!candidate.convertible) return out('needs_rate');
  return { in: true };
}

export type RunState = 'drafted' | 'approved' | 'exported' | 'settled' | 'abandoned';

const NEXT: Record<RunState, readonly RunState[]> = {
  drafted: ['approved', 'abandoned'],
  approved: ['exported', 'abandoned'],
  exported: ['settled'],
  settled: [],
  abandoned: [],
};

export const runMayBecome = (from: RunState, to: RunState): boolean => NEXT[from].includes(to);
