import { composeLink } from '@/core/links/parts';
import type { Explanation } from '@/core/commissions/rate';
import type { SheetRow } from '@/core/commissions/sheet';
import type { CommissionListRow } from '@/store/books/commissions';
import type { CallRow } from '@/store/books/calls';
import type { ReviewRow } from '@/store/books/reviews';
import type { ConversionListRow, HistoryRow } from '@/store/books/conversions';
import type { OutcomeRow } from '@/store/books/outcomes';
import type { LedgerLine } from '@/store/books/ledger';
import type { ItemRow, RunRow } from '@/store/books/payouts';
import type { StoredPostback } from '@/store/traffic';
import type { Actor } from './actor';
import { type ClickDetail, readClick } from './clicks';
import { readCommission } from './commissions';
import { conversionHistory, readConversion } from './conversions';
import { reviewOf } from './reviews';
import { type IssuedLink, readLink } from './links';
import { readReceipt } from './receipts';
import { Refusal } from './refusal';
import type { Stores } from './stores';

/** The chain from payout to link; what a record has not reached yet, or never had, is absent. */
export interface Trace {
  readonly of: TraceKey;
  readonly payout?: { run: RunRow; item: ItemRow };
  readonly ledger?: LedgerLine[];
  readonly commission?: CommissionListRow;
  readonly explanation?: Explanation;
  /** The rows of the sheet that was applied, to name those that were looked at. */
  readonly sheetRows?: readonly SheetRow[];
  readonly ratings?: number;
  readonly conversion?: ConversionListRow;
  readonly history?: HistoryRow[];
  readonly call?: CallRow;
  readonly review?: ReviewRow;
  readonly postback?: StoredPostback;
  readonly outcome?: OutcomeRow;
  readonly click?: ClickDetail;
  readonly link?: IssuedLink & { short: string };
}

export const TRACE_KINDS = ['commission', 'conversion', 'click', 'link'] as const;
/** "commission:12", "click:01J…": what a trace starts from. */
export interface TraceKey {
  readonly kind: (typeof TRACE_KINDS)[number];
  readonly id: string;
}

export function parseTraceKey(text: string | undefined): TraceKey | undefined {
  const [kind, id = ''] = text?.split(':') ?? [];
  const known = TRACE_KINDS.find((each) => each === kind);
  return known && /^[0-9A-Z]{1,26}$/.test(id) ? { kind: known, id } : undefined;
}

/** Follows a record along the whole line. @throws Refusal 'not_found' for what is not the actor's to see */
export function trace(stores: Stores, actor: Actor, of: TraceKey): Trace {
  if (of.kind === 'link') return { of, link: link(stores, actor, Number(of.id)) };
  if (of.kind === 'click') {
    const click = readClick(stores, actor, of.id);
    const conversion = stores.books.conversions.firstOfClick(of.id);
    if (conversion) return { ...fromConversion(stores, actor, conversion), of };
    return { of, click, link: link(stores, actor, click.linkId) };
  }
  const conversionId =
    of.kind === 'conversion' ? Number(of.id) : readCommission(stores, actor, Number(of.id)).conversionId;
  return { ...fromConversion(stores, actor, conversionId), of };
}

function fromConversion(stores: Stores, actor: Actor, id: number): Omit<Trace, 'of'> {
  const { books, traffic } = stores;
  const conversion = readConversion(stores, actor, id);
  const commission =
    conversion.commissionId === null ? undefined : readCommission(stores, actor, conversion.commissionId);
  const ratings = commission ? books.commissions.ratings(commission.id) : [];
  const rating = ratings.at(-1);
  const run = commission?.runId ? books.payouts.run(commission.runId) : undefined;
  const item = run && commission && books.payouts.item(run.id, commission.partnerId);
  // What came by hand or from a file has no postback.
  const arrived = traffic.postback(conversion.receiptId) !== undefined;
  const receipt = arrived ? readReceipt(stores, { ...actor, partnerId: null }, conversion.receiptId) : undefined;
  const known = conversion.clickId !== null && traffic.click(conversion.clickId)?.programId === actor.programId;
  const click = known && conversion.clickId !== null ? readClick(stores, actor, conversion.clickId) : undefined;
  const review = reviewOf(stores, actor, id);
  const call =
    conversion.matchedBy === 'call' && conversion.orderRef !== null
      ? books.calls.byCallId(actor.programId, conversion.orderRef)
      : undefined;
  return {
    ...(run && item && { payout: { run, item } }),
    ...(commission && {
      commission,
      ledger: books.ledger.ofCommission(commission.id),
      ratings: ratings.length,
      ...(rating?.explanation && {
        explanation: rating.explanation,
        sheetRows: books.terms.sheet(rating.sheetId)?.sheet.rows,
      }),
    }),
    conversion,
    history: conversionHistory(stores, actor, id),
    ...(call && { call }),
    ...(review && { review }),
    ...(receipt && { postback: receipt.postback, ...(receipt.outcome && { outcome: receipt.outcome }) }),
    ...(click && { click, link: link(stores, actor, click.linkId) }),
  };
}

function link(stores: Stores, actor: Actor, id: number): IssuedLink & { short: string } {
  const issued = readLink(stores, actor, id);
  return { ...issued, short: composeLink({ ...issued.parts, kind: 'referral', values: {}, to: undefined }) };
}

/** A trace for a screen: a key that leads nowhere is no error there. */
export function traceIfAny(stores: Stores, actor: Actor, text: string | undefined): Trace | undefined {
  const key = parseTraceKey(text);
  if (!key) return undefined;
  try {
    return trace(stores, actor, key);
  } catch (error) {
    if (error instanceof Refusal) return undefined;
    throw error;
  }
}
