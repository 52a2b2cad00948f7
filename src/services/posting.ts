import { type Postback, readPostback } from '@/core/conversions/postback';
import { type RepeatPolicy, conversionKey } from '@/core/conversions/repeat';
import { type Report, type ReportedBy, fromPage } from '@/core/conversions/standing';
import { money } from '@/core/money/money';
import { showAmount } from '@/core/money/text';
import type { Outcome } from '@/core/conversions/outcomes';
import type { Checked } from '@/core/schema/problems';
import type { ConversionRow } from '@/store/books/conversions';
import type { OfferRow } from '@/store/books/offers';
import type { ProgramRow } from '@/store/books/programs';
import type { StoredPostback } from '@/store/traffic';
import { earn, isMatched, programDay } from './earning';
import { type Found, belongsTo, clickOf, findPartner, rematch } from './matching';
import { postbackFields } from './postbacks';
import { type ReadReport, readReport } from './report_reading';
import { sha256 } from './secrets';
import { settle } from './settling';
import { type Stores, programOf } from './stores';

/** Who did it, in histories and in the ledger, by how it was reported. */
const ACTORS: Record<ReportedBy, string> = {
  server: 'merchant’s postback',
  tag: 'page tag',
  pixel: 'page pixel',
  hand: 'by hand',
  file: 'file',
};

const NOT_YET = 'No conversion with this order or click is recorded here, so it has no status to be given.';

/** By what way something was said, and when. */
export interface Told {
  readonly receiptId: string;
  /** Of the receipt. */
  readonly time: number;
  readonly by: ReportedBy;
}

export interface Result {
  outcome: Outcome;
  detail?: string;
  conversionId?: number;
  matchKey?: string;
}

/**
 * Books one postback and notes what became of it. Runs inside the worker's transaction, which also moves the
 * worker's position, so that each postback has its effect exactly once.
 */
export function postPostback(stores: Stores, stored: StoredPostback): Outcome {
  const told = { receiptId: stored.receiptId, time: stored.time, by: stored.via };
  return takeReport(stores, programOf(stores, stored.programId), told, postbackFields(stored), stored.seq).outcome;
}

/**
 * Books what was said by any way, and notes what became of it. What was said before in the same words, by whatever
 * way but a page, is a retry.
 * @param seq of the postback in the traffic; 0 for what came by hand or file
 */
export function takeReport(
  stores: Stores,
  program: ProgramRow,
  told: Told,
  fields: Checked<Record<string, unknown>>,
  seq = 0,
): Result {
  return bookReport(stores, program, told, readReport(fields, told.by, program.currency), seq);
}

/** The same of a report that was read already. */
export function bookReport(stores: Stores, program: ProgramRow, told: Told, said: ReadReport, seq = 0): Result {
  const { conversions } = stores.books;
  const print = said.fingerprint ?? sha256(told.receiptId);
  const seen = conversions.outcomeByFingerprint(program.id, print);
  const result: Result = seen
    ? { outcome: 'retry', detail: `The same as ${seen.receiptId}.`, conversionId: seen.conversionId ?? undefined }
    : read(stores, program, told, said);
  conversions.insertOutcome({
    receiptId: told.receiptId,
    seq,
    programId: program.id,
    time: told.time,
    outcome: result.outcome,
    detail: result.detail ?? '',
    conversionId: result.conversionId ?? null,
    matchKey: result.matchKey ?? null,
    fingerprint: print,
  });
  if ((result.outcome === 'recorded' || result.outcome === 'unmatched') && result.conversionId !== undefined)
    applyWaiting(stores, program, result.conversionId);
  return result;
}

function read(stores: Stores, program: ProgramRow, told: Told, { parsed }: ReadReport): Result {
  if (!parsed.ok) return { outcome: 'refused', detail: parsed.problems.map(({ reason }) => reason).join(' ') };
  return parsed.value.test ? tried(stores, program, told, parsed.value) : book(stores, program, told, parsed.value);
}

/** What would have become of a test, found out by doing it and taking it back. */
function tried(stores: Stores, program: ProgramRow, told: Told, postback: Postback): Result {
  const { books } = stores;
  const detail = books.takingBack(() => {
    const { outcome, detail, conversionId } = book(stores, program, told, postback);
    if (outcome !== 'recorded' || conversionId === undefined) return `It would be ${outcome}. ${detail ?? ''}`.trim();
    const conversion = books.conversions.byId(conversionId);
    const earned =
      conversion?.commission == null
        ? 'and earn nothing'
        : `and earn ${showAmount(money(conversion.commission, program.currency))}`;
    return `It would be recorded for ${conversion?.partnerName}, ${conversion?.channelName}, ${earned}.`;
  });
  return { outcome: 'test', detail };
}

/** The conversion that a report speaks of, if it is known. */
function standing(stores: Stores, program: ProgramRow, postback: Postback, found: Found): ConversionRow | undefined {
  const { conversions } = stores.books;
  const key = keyOf(postback, found);
  const byKey = key === undefined ? undefined : conversions.byKey(program.id, key);
  if (byKey) return byKey;
  if (postback.order !== undefined)
    return postback.clickId === undefined ? conversions.byOrder(program.id, postback.order, postback.event) : undefined;
  // A status may name the click alone, of a conversion that was reported with its order.
  return postback.status !== undefined && postback.clickId !== undefined
    ? conversions.byClick(program.id, postback.clickId, postback.event)
    : undefined;
}

/** What makes it the same conversion as another report; a visitor's stands by the click that is credited. */
const keyOf = ({ event, order, clickId }: Postback, found: Found): string | undefined =>
  conversionKey(found.offerId ?? 0, event, order, clickId ?? clickOf(found, undefined) ?? undefined);

/** What a status that came too early waits for; the offer is not known yet, so it is not part of the key. */
const waitingKey = (event: string, order: string | null | undefined, clickId: string | null | undefined): string =>
  conversionKey(0, event, order ?? undefined, clickId ?? undefined) ?? '';

/** A report as it counts for what stands. */
function reportOf(
  postback: Postback,
  { receiptId, time, by }: { receiptId: string; time: number; by: ReportedBy },
  policy: RepeatPolicy,
): Report {
  const { status, figures, completed, custom, customer, renewal, callLength, fee } = postback;
  return {
    ...{ receiptId, by, policy, figures, custom, time: postback.time ?? time },
    facts: {
      ...(customer && { customer }),
      ...(renewal !== undefined && { renewal }),
      ...(callLength !== undefined && { callLength }),
    },
    ...(status && { status }),
    ...(completed && { completed }),
    ...(fee !== undefined && { fee }),
  };
}

const policyOf = (offer: OfferRow | undefined, event: string): RepeatPolicy =>
  offer?.events.find((each) => each.event === event)?.repeat ?? 'ignore';

/** Books what was said, by whatever way it came. */
function book(stores: Stores, program: ProgramRow, told: Told, postback: Postback): Result {
  const { books } = stores;
  const time = postback.time ?? told.time;
  const day = programDay(stores, program.id, time);
  const { clickId, coupon, event, status, visitor, order } = postback;
  const found = findPartner(stores, program.id, day, { clickId, coupon, visitor, order, event, time });
  const known = standing(stores, program, postback, found);
  const offer = found.offerId === undefined ? undefined : books.offers.byId(found.offerId);
  if (fromPage(told.by)) {
    if (!offer?.events.some((each) => each.event === event && each.byTag)) {
      const detail = `Pages are not listened to for “${event}”: allow it by tag in the offer, or report it by postback.`;
      return { outcome: 'refused', detail };
    }
    if (known && !fromPage(known.reportedBy))
      return { outcome: 'ignored', conversionId: known.id, detail: 'The server’s own report stands.' };
  }
  if (
    !known &&
    (status === 'rejected' ||
      status === 'reversed' ||
      (status && 'reason' in found.match && !clickId && !coupon && !visitor))
  ) {
    const detail = 'No conversion with this order or click yet; it is applied when one comes.';
    if (told.by === 'hand' || told.by === 'file') return { outcome: 'refused', detail: NOT_YET };
    return { outcome: 'waiting', detail, matchKey: waitingKey(event, postback.order, clickId) };
  }
  const policy = policyOf(known ? books.offers.byId(known.offerId ?? 0) : offer, event);
  const report = reportOf(postback, told, policy);
  const takesOver = known !== undefined && fromPage(known.reportedBy) && !fromPage(told.by);
  if (known && (status !== undefined || takesOver || policy !== 'count')) return hear(stores, known, report, takesOver);
  const conversion = record(stores, program, told, postback, { found, time, day, again: known !== undefined });
  const { id } = conversion;
  books.conversions.addReport(id, report);
  if (isMatched(conversion)) {
    earn(stores, conversion, ACTORS[told.by]);
    if (status === 'approved') noteApproved(stores, conversion, told.by);
    return { outcome: 'recorded', conversionId: id };
  }
  return { outcome: 'unmatched', conversionId: id, detail: conversion.unmatched ?? '' };
}

/** One more report of a conversion that is known. */
function hear(stores: Stores, known: ConversionRow, report: Report, takesOver: boolean): Result {
  const { figures, policy, status } = report;
  const result = { conversionId: known.id };
  if (figures.currency !== known.currency && (figures.amount > 0 || figures.items.length > 0))
    return {
      ...{ ...result, outcome: 'refused' },
      detail: `The conversion is in ${known.currency}; another report cannot change the currency.`,
    };
  stores.books.conversions.addReport(known.id, report);
  const actor = ACTORS[report.by];
  if (status) {
    settle(stores, known.id, actor, report.completed ? `completed on ${report.completed}` : status);
    matchAnew(stores, known);
    if (status === 'approved') noteApproved(stores, known, report.by);
    const none = figures.items.find(({ sku }) => !known.figures.items.some((item) => item.sku === sku));
    const detail = none ? `${status}; no item “${none.sku}” was reported with it yet` : status;
    return { ...result, outcome: 'status', detail };
  }
  const why = takesOver ? `in place of the report of the ${known.reportedBy}` : `repeat policy: ${policy}`;
  const changed = settle(stores, known.id, actor, why);
  matchAnew(stores, known);
  if (changed) return { ...result, outcome: 'changed', detail: why };
  const detail =
    policy === 'ignore' ? 'The first report stands (repeat policy: ignore).' : `Nothing else stands by it (${why}).`;
  return { ...result, outcome: 'ignored', detail };
}

/** An earlier report may have moved the event to where its click or coupon is valid. */
function matchAnew(stores: Stores, was: ConversionRow): void {
  if (was.unmatched === null) return;
  const now = stores.books.conversions.plain(was.id);
  if (now && now.unmatched !== null && now.time !== was.time && now.state === 'pending')
    rematch(stores, now, 'an earlier report came');
}

/** How a conversion was found to belong to somebody, or not. */
interface Finding {
  readonly found: Found;
  readonly time: number;
  readonly day: string;
  /** One more of a kind that is counted each time. */
  readonly again: boolean;
}

function record(
  stores: Stores,
  program: ProgramRow,
  told: Told,
  postback: Postback,
  { found, time, day, again }: Finding,
): ConversionRow {
  const owner = belongsTo(found);
  const unmatched = 'reason' in found.match ? found.match.reason : undefined;
  const key = keyOf(postback, found);
  const { figures, facts, completed = null, custom } = reportOf(postback, told, 'ignore');
  const row = {
    programId: program.id,
    offerId: found.offerId ?? null,
    event: postback.event,
    orderRef: postback.order ?? null,
    clickId: clickOf(found, postback.clickId),
    // A counted repeat has no key of its own: later reports of the same order mean the first.
    matchKey: again ? null : (key ?? null),
    linkId: owner ? owner.linkId : (found.click?.linkId ?? null),
    partnerId: owner?.partnerId ?? null,
    channelId: owner?.channelId ?? null,
    coupon: postback.coupon ?? null,
    visitor: postback.visitor ?? null,
    customerHash: postback.customerHash ?? null,
    cardHash: postback.cardHash ?? null,
    matchedBy: owner?.matchedBy ?? null,
    time,
    recordedAt: stores.now(),
    day,
    currency: figures.currency,
    amount: figures.amount,
    figures,
    facts,
    completed,
    custom,
    unmatched: unmatched ?? null,
    receiptId: told.receiptId,
    reportedBy: told.by,
  };
  const id = stores.books.conversions.insert(row);
  if (owner?.matchedBy === 'call' && found.call)
    stores.books.calls.settle(found.call.id, 'converted', found.call.detail, id);
  stores.books.conversions.addHistory(id, {
    time: stores.now(),
    actor: ACTORS[told.by],
    what: unmatched ? 'unmatched' : 'recorded',
    detail: unmatched ?? '',
  });
  return { ...row, id, state: 'pending' };
}

function noteApproved(stores: Stores, conversion: ConversionRow, by: ReportedBy): void {
  // The merchant vouches for the sale; the commission still waits for its hold and its validation.
  stores.books.conversions.addHistory(conversion.id, {
    time: stores.now(),
    actor: ACTORS[by],
    what: 'confirmed by the merchant',
    detail: '',
  });
}

/** A status that came before its conversion is applied as soon as the conversion stands. */
function applyWaiting(stores: Stores, program: ProgramRow, conversionId: number): void {
  const { conversions } = stores.books;
  // Mostly nothing waits, and a conversion need not be read again to find that out.
  const conversion = conversions.anyWaiting(program.id) ? conversions.plain(conversionId) : undefined;
  if (!conversion) return;
  const keys = [
    conversion.orderRef === null ? '' : waitingKey(conversion.event, conversion.orderRef, null),
    conversion.clickId === null ? '' : waitingKey(conversion.event, null, conversion.clickId),
  ];
  for (const key of keys.filter((each) => each !== ''))
    for (const waiting of conversions.waitingOutcomes(program.id, key)) {
      const stored = stores.traffic.postback(waiting.receiptId);
      const fields = stored && postbackFields(stored);
      const parsed = fields?.ok ? readPostback(fields.value, program.currency) : undefined;
      const current = conversions.plain(conversionId);
      if (stored && parsed?.ok && current)
        hear(stores, current, reportOf(parsed.value, { ...stored, by: stored.via }, 'ignore'), false);
      conversions.settleWaiting(conversionId, waiting.receiptId);
    }
}
