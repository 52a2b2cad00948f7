import { refundedPart } from '@/core/commissions/refund';
import { type Refund, type Standing, standingOf } from '@/core/conversions/standing';
import type { CommissionRow } from '@/store/books/commissions';
import type { ConversionRow } from '@/store/books/conversions';
import { chargeFee, decide, giveBack, isMatched, programDay, reRate, reopen, takeBack } from './earning';
import { type Stores } from './stores';

/**
 * Brings a conversion and what it earned to where everything that was said of it leaves them. What is booked already
 * is only ever moved by the difference, so that the books end the same in whatever order the reports came.
 * @param why for the history, when something changes
 * @returns whether the conversion itself changed
 */
export function settle(stores: Stores, conversionId: number, actor: string, why: string): boolean {
  const { conversions, commissions } = stores.books;
  const known = conversions.plain(conversionId);
  const standing = standingOf(conversions.reports(conversionId));
  if (!known || !standing) return false;
  const commission = commissions.byConversion(conversionId);
  const { rejected, refund } = standing;
  const notWhole = !refund.whole && !rejected;
  if (commission?.state === 'reversed' && (notWhole || (rejected && commission.reversedFrom === 'pending')))
    reopen(stores, commission, actor);
  const changed = bringUp(stores, known, standing, actor, why);
  settleDecisions(stores, conversionId, standing, actor);
  return changed;
}

function bringUp(stores: Stores, known: ConversionRow, standing: Standing, actor: string, why: string): boolean {
  const { conversions } = stores.books;
  const { time, figures, completed, facts, custom, by, receiptId } = standing;
  const stood = { ...known, by: known.reportedBy };
  const same = Object.entries({ time, figures, completed, facts, custom, by, receiptId }).every(
    ([name, value]) => JSON.stringify(stood[name as keyof typeof stood]) === JSON.stringify(value),
  );
  if (same) return false;
  const day = time === known.time ? known.day : programDay(stores, known.programId, time);
  conversions.bringUp(known.id, { time, day, figures, completed, facts, custom, reportedBy: by, receiptId });
  conversions.addHistory(known.id, { time: stores.now(), actor, what: 'changed', detail: why });
  const now = conversions.plain(known.id);
  if (now && isMatched(now)) reRate(stores, now, actor, why, known);
  return true;
}

/** What the merchant decided, as far as it is not booked yet. */
export function settleDecisions(stores: Stores, conversionId: number, known?: Standing, actor = 'Brivet'): void {
  const { conversions, commissions } = stores.books;
  const standing = known ?? standingOf(conversions.reports(conversionId));
  if (!standing) return;
  const commission = commissions.byConversion(conversionId);
  if (!commission) return noteState(stores, conversionId, standing, actor);
  chargeFee(stores, commission, standing.fees - commission.fees, actor);
  if (commission.state === 'rejected' || commission.state === 'reversed') return;
  const unsure = commission.state === 'needs_rate';
  if (standing.rejected && (unsure || commission.state === 'pending'))
    return decide(stores, commission, 'rejected', actor, 'Rejected by the merchant.');
  if (standing.refund.whole && unsure)
    return decide(stores, commission, 'rejected', actor, 'Refunded before it could be rated.');
  if (unsure) return;
  if (standing.rejected) return refund(stores, commission, { ...standing.refund, whole: true }, actor);
  refund(stores, commission, standing.refund, actor);
}

/** Where nothing was earned, the state alone is told. */
function noteState(
  stores: Stores,
  conversionId: number,
  { rejected, refund: { whole } }: Standing,
  actor: string,
): void {
  const { conversions } = stores.books;
  const is = conversions.plain(conversionId)?.state;
  const to = rejected ? 'rejected' : whole ? 'reversed' : 'pending';
  if (is === undefined || is === to || is === 'rejected') return;
  conversions.setState(conversionId, to);
  conversions.addHistory(conversionId, { time: stores.now(), actor, what: to, detail: '' });
}

function refund(stores: Stores, commission: CommissionRow, refund: Refund, actor: string): void {
  const { explanation } = stores.books.commissions.latestRating(commission.id) ?? {};
  if (!explanation) return;
  const { amount, reversed, refunded } = commission;
  const asked = refund.whole ? amount : refundedPart(amount, explanation, refund);
  // What was taken back by hand is not taken again; an amount that shrank has less to be refunded than was taken.
  const owed = Math.max(0, Math.min(asked, amount - (reversed - refunded)));
  const more = owed - refunded;
  if (more < 0) giveBack(stores, commission, -more, actor);
  const now = more < 0 ? { ...commission, reversed: reversed + more, refunded: owed } : commission;
  const why = refund.whole ? 'Refunded by the merchant.' : refundWords(refund);
  if (refund.whole || more > 0) takeBack(stores, now, Math.max(0, more), actor, why, { whole: refund.whole });
}

function refundWords({ amount, items }: Refund): string {
  const units = Object.entries(items).map(([sku, count]) => `${count} × ${sku}`);
  return `Partly refunded: ${[...(amount > 0 ? [`${amount} minor units`] : []), ...units].join(', ')}.`;
}
