import type { Currency } from '../money/currency';

/** Amounts are positive when they come to an account and negative when they leave it. */
export const ACCOUNTS = [
  'program_expense',
  'partner_pending',
  'partner_approved',
  'partner_in_payout',
  'program_bank',
] as const;
export type Account = (typeof ACCOUNTS)[number];

export const ENTRY_KINDS = [
  'earned',
  'adjusted',
  'approved',
  'rejected',
  'reversed',
  'fee',
  'put_into_run',
  'paid',
  'returned',
  'run_abandoned',
  'correction',
] as const;
export type EntryKind = (typeof ENTRY_KINDS)[number];

/** A movement of one amount between two accounts: the only kind of transaction there is. */
export interface Movement {
  readonly kind: EntryKind;
  readonly partnerId: number;
  readonly currency: Currency;
  readonly from: Account;
  readonly to: Account;
  /** Minor units; negative moves the other way. */
  readonly amount: number;
}

export interface Entry {
  readonly account: Account;
  readonly partnerId: number;
  readonly currency: Currency;
  readonly amount: number;
}

/** The two entries of a movement. They sum to zero by construction. */
export const entriesOf = ({ partnerId, currency, from, to, amount }: Movement): [Entry, Entry] => [
  { account: from, partnerId, currency, amount: amount === 0 ? 0 : -amount },
  { account: to, partnerId, currency, amount },
];

/** Where a commission's money lies: pending until it is approved, then approved, in a run, or gone to the bank. */
export type CommissionState = 'needs_rate' | 'pending' | 'approved' | 'in_payout' | 'paid' | 'rejected' | 'reversed';

const FLOWS: Record<Exclude<EntryKind, 'adjusted' | 'reversed' | 'fee'>, readonly [Account, Account]> = {
  earned: ['program_expense', 'partner_pending'],
  approved: ['partner_pending', 'partner_approved'],
  rejected: ['partner_pending', 'program_expense'],
  put_into_run: ['partner_approved', 'partner_in_payout'],
  paid: ['partner_in_payout', 'program_bank'],
  returned: ['program_bank', 'partner_approved'],
  run_abandoned: ['partner_in_payout', 'partner_approved'],
  correction: ['program_expense', 'partner_approved'],
};

/**
 * The movement for a fact. Adjustments, reversals and fees of a commission that still waits touch what is pending; of
 * any other, what is approved: money in a run or already paid is set off in the next run, never pulled back.
 */
export function movement(
  kind: EntryKind,
  about: { partnerId: number; currency: Currency; amount: number; state?: CommissionState },
): Movement {
  const { partnerId, currency, amount } = about;
  if (kind === 'adjusted' || kind === 'reversed' || kind === 'fee') {
    const own = about.state === 'pending' || about.state === 'needs_rate' ? 'partner_pending' : 'partner_approved';
    const [from, to]: [Account, Account] = kind === 'adjusted' ? ['program_expense', own] : [own, 'program_expense'];
    return { kind, partnerId, currency, amount, from, to };
  }
  const [from, to] = FLOWS[kind];
  return { kind, partnerId, currency, amount, from, to };
}

const NEXT: Record<CommissionState, readonly CommissionState[]> = {
  needs_rate: ['pending', 'rejected'],
  pending: ['approved', 'rejected', 'reversed'],
  approved: ['in_payout', 'reversed'],
  in_payout: ['paid', 'approved', 'reversed'],
  paid: ['reversed', 'approved'],
  rejected: [],
  reversed: [],
};

export const mayBecome = (from: CommissionState, to: CommissionState): boolean => NEXT[from].includes(to);

/** Why a step is not possible, in words for the person who asked for it. */
export const stepProblem = (from: CommissionState, to: CommissionState): string | undefined =>
  mayBecome(from, to)
    ? undefined
    : `A commission that is ${from.replace('_', ' ')} cannot become ${to.replace('_', ' ')}.`;
