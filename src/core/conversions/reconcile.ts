import type { Figures } from '../commissions/base';
import { money } from '../money/money';
import { amountText } from '../money/text';
import type { PostbackState } from './postback';

/** What can be found of a line of a report, or of a conversion that none of its lines is about. */
export const FINDINGS = {
  differs: 'Differs',
  only_there: 'Only there',
  only_here: 'Only here',
  equal: 'Equal',
} as const;
export type Finding = keyof typeof FINDINGS;

/** One thing that is said differently, in words as both sides write it. */
export interface Difference {
  readonly field: string;
  readonly theirs: string;
  readonly ours: string;
}
/** A line of the report, as far as it names these. */
export interface TheirLine {
  readonly figures?: Figures;
  /** Fields of the money that the report names. */
  readonly named: readonly ('amount' | 'tax' | 'shipping' | 'discount')[];
  readonly status?: PostbackState;
  readonly completed?: string;
  readonly coupon?: string;
  readonly clickId?: string;
  /** Minor units of the program. */
  readonly commission?: number;
}
/** What is recorded here. */
export interface OurRecord {
  readonly figures: Figures;
  readonly state: PostbackState;
  readonly completed: string | null;
  readonly coupon: string | null;
  readonly clickId: string | null;
  readonly commission: number | null;
  readonly program: Figures['currency'];
}

const lost = (status: PostbackState): boolean => status === 'rejected' || status === 'reversed';
const text = (minor: number, currency: Figures['currency']): string => amountText(money(minor, currency));

/**
 * Field by field where a report says other than what is recorded; what it does not name is not compared. Approved
 * and pending are the same here: the merchant's word is no decision on the commission.
 */
export function differencesOf(theirs: TheirLine, ours: OurRecord): Difference[] {
  const found: Difference[] = [];
  const differ = (field: string, a: string, b: string): void => void found.push({ field, theirs: a, ours: b });
  const { figures } = theirs;
  if (figures) {
    if (figures.currency !== ours.figures.currency) differ('currency', figures.currency, ours.figures.currency);
    for (const field of theirs.named)
      if (figures[field] !== ours.figures[field] || figures.currency !== ours.figures.currency)
        differ(field, text(figures[field], figures.currency), text(ours.figures[field], ours.figures.currency));
  }
  if (theirs.status && lost(theirs.status) !== lost(ours.state)) differ('status', theirs.status, ours.state);
  if (theirs.completed && theirs.completed !== ours.completed)
    differ('completed', theirs.completed, ours.completed ?? '');
  if (theirs.clickId && ours.clickId && theirs.clickId !== ours.clickId)
    differ('click_id', theirs.clickId, ours.clickId);
  if (theirs.coupon && ours.coupon && theirs.coupon.toLowerCase() !== ours.coupon.toLowerCase())
    differ('code', theirs.coupon, ours.coupon);
  if (theirs.commission !== undefined && theirs.commission !== (ours.commission ?? 0))
    differ('commission', text(theirs.commission, ours.program), text(ours.commission ?? 0, ours.program));
  return found;
}

/** What the report can change here: which of a partner's clicks or coupons it was, and what was earned, it cannot. */
const TAKEN = new Set(['amount', 'tax', 'shipping', 'discount', 'status', 'completed']);

/** Why the report's word cannot be taken for a difference; undefined where it can. */
export function whyNotTaken({ field, theirs, ours }: Difference): string | undefined {
  if (field === 'status' && !lost(theirs as PostbackState))
    return `It is ${ours} here, which a report does not undo: record it anew by hand if it holds.`;
  if (TAKEN.has(field)) return undefined;
  if (field === 'commission')
    return 'Commission follows from the rate sheet: change the terms, or take it back by an amount.';
  return `“${field}” is not changed by a report.`;
}
