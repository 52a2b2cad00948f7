import { type Postback, readPostback } from '@/core/conversions/postback';
import { repeatedFigures } from '@/core/conversions/repeat';
import { conversionKey } from '@/core/conversions/repeat';
import { divideRounded } from '@/core/money/money';
import type { ConversionRow, Outcome } from '@/store/books/conversions';
import type { ProgramRow } from '@/store/books/programs';
import type { StoredPostback } from '@/store/traffic';
import { decide, earn, isMatched, programDay, reRate, takeBack } from './earning';
import { type Found, belongsTo, findPartner } from './matching';
import { postbackFields } from './postbacks';
import { sha256 } from './secrets';
import { type Stores, programOf } from './stores';

/** Who did it, in histories and in the ledger, when a postback did. */
const MERCHANT = 'merchant’s postback';

interface Result {
  outcome: Outcome;
  detail?: string;
  conversionId?: number;
  matchKey?: string;
}

/** Without signature and key, which differ between sendings of the same report; a page's report is never the server's. */
function fingerprint(fields: Record<string, unknown>, via: StoredPostback['via']): string {
  const said = Object.entries(fields).filter(([name]) => !['key', 'sig', 'ts'].includes(name));
  return sha256(JSON.stringify([...said.sort(([a], [b]) => (a < b ? -1 : 1)), ...(via === 'server' ? [] : [via])]));
}

/**
 * Books one postback and notes what became of it. Runs inside the worker's transaction, which also moves the
 * worker's position, so that each postback has its effect exactly once.
 */
export function postPostback(stores: Stores, stored: StoredPostback): Outcome {
  const { conversions } = stores.books;
  const program = programOf(stores, stored.programId);
  const fields = postbackFields(stored);
  const print = fields.ok ? fingerprint(fields.value, stored.via) : sha256(stored.query + stored.body);
  const seen = conversions.outcomeByFingerprint(program.id, print);
  const result: Result = seen
    ? { outcome: 'retry', detail: `The same as ${seen.receiptId}.`, conversionId: seen.conversionId ?? undefined }
    : read(stores, program, stored, fields);
  conversions.insertOutcome({
    receiptId: stored.receiptId,
    seq: stored.seq,
    programId: program.id,
    time: stored.time,
    outcome: result.outcome,
    detail: result.detail ?? '',
    conversionId: result.conversionId ?? null,
    matchKey: result.matchKey ?? null,
    fingerprint: print,
  });
  if (result.outcome === 'recorded' && result.conversionId !== undefined)
    applyWaiting(stores, program, result.conversionId);
  return result.outcome;
}

function read(
  stores: Stores,
  program: ProgramRow,
  stored: StoredPostback,
  fields: ReturnType<typeof postbackFields>,
): Result {
  const parsed = fields.ok ? readPostback(fields.value, program.currency) : fields;
  if (!parsed.ok) return { outcome: 'refused', detail: parsed.problems.map(({ reason }) => reason).join(' ') };
  return book(stores, program, stored, parsed.value);
}

/** The conversion that a report speaks of, if it is known. */
function standing(
  stores: Stores,
  program: ProgramRow,
  postback: Postback,
  offerId: number | undefined,
): ConversionRow | undefined {
  const { conversions } = stores.books;
  const key = conversionKey(offerId ?? 0, postback.event, postback.order, postback.clickId);
  const byKey = key === undefined ? undefined : conversions.byKey(program.id, key);
  if (byKey || postback.order === undefined || postback.clickId !== undefined) return byKey;
  return conversions.byOrder(program.id, postback.order, postback.event);
}

/** What a status that came too early waits for; the offer is not known yet, so it is not part of the key. */
const waitingKey = (event: string, order: string | null | undefined, clickId: string | null | undefined): string =>
  conversionKey(0, event, order ?? undefined, clickId ?? undefined) ?? '';

function book(stores: Stores, program: ProgramRow, stored: StoredPostback, postback: Postback): Result {
  const time = postback.time ?? stored.time;
  const day = programDay(stores, program.id, time);
  const { clickId, coupon, event } = postback;
  const found = findPartner(stores, program.id, day, { clickId, coupon, event, time });
  const known = standing(stores, program, postback, found.offerId);
  const offer = found.offerId === undefined ? undefined : stores.books.offers.byId(found.offerId);
  if (stored.via !== 'server') {
    const takes = offer?.events.some(({ event, byTag }) => event === postback.event && byTag);
    if (!takes) {
      const detail = `Pages are not listened to for “${postback.event}”: allow it by tag in the offer, or report it by postback.`;
      return { outcome: 'refused', detail };
    }
    if (known?.reportedBy === 'server')
      return { outcome: 'ignored', conversionId: known.id, detail: 'The server’s own report stands.' };
  }
  const { status } = postback;
  if (known && known.reportedBy !== 'server' && stored.via === 'server' && !status)
    return takeOver(stores, known, postback, stored.receiptId);
  if (known && status) return applyStatus(stores, known, postback);
  const onlyStatus =
    status === 'rejected' ||
    status === 'reversed' ||
    (status && postback.clickId === undefined && postback.coupon === undefined);
  if (!known && onlyStatus) {
    const detail = 'No conversion with this order or click yet; it is applied when one comes.';
    return { outcome: 'waiting', detail, matchKey: waitingKey(postback.event, postback.order, postback.clickId) };
  }
  if (known) {
    const policy =
      stores.books.offers.byId(known.offerId ?? 0)?.events.find(({ event }) => event === postback.event)?.repeat ??
      'ignore';
    if (policy !== 'count') return repeat(stores, known, postback, policy);
  }
  const id = record(stores, program, stored, postback, { found, time, day, again: known !== undefined });
  const conversion = stores.books.conversions.plain(id);
  if (conversion && isMatched(conversion)) {
    const commission = earn(stores, conversion, MERCHANT);
    if (status === 'approved' && commission) noteApproved(stores, conversion);
    return { outcome: 'recorded', conversionId: id };
  }
  return { outcome: 'unmatched', conversionId: id, detail: conversion?.unmatched ?? '' };
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
  stored: StoredPostback,
  postback: Postback,
  { found, time, day, again }: Finding,
): number {
  const owner = belongsTo(found);
  const unmatched = 'reason' in found.match ? found.match.reason : undefined;
  const key = conversionKey(found.offerId ?? 0, postback.event, postback.order, postback.clickId);
  const { customer, renewal, callLength, figures } = postback;
  const id = stores.books.conversions.insert({
    programId: program.id,
    offerId: found.offerId ?? null,
    event: postback.event,
    orderRef: postback.order ?? null,
    clickId: postback.clickId ?? null,
    // A counted repeat has no key of its own: later reports of the same order mean the first.
    matchKey: again ? null : (key ?? null),
    linkId: owner ? owner.linkId : (found.click?.linkId ?? null),
    partnerId: owner?.partnerId ?? null,
    channelId: owner?.channelId ?? null,
    coupon: postback.coupon ?? null,
    matchedBy: owner?.matchedBy ?? null,
    time,
    recordedAt: stores.now(),
    day,
    currency: figures.currency,
    amount: figures.amount,
    figures,
    facts: {
      ...(customer && { customer }),
      ...(renewal !== undefined && { renewal }),
      ...(callLength !== undefined && { callLength }),
    },
    completed: postback.completed ?? null,
    custom: postback.custom,
    unmatched: unmatched ?? null,
    receiptId: stored.receiptId,
    reportedBy: stored.via,
  });
  stores.books.conversions.addHistory(id, {
    time: stores.now(),
    actor: stored.via === 'server' ? MERCHANT : `page ${stored.via}`,
    what: unmatched ? 'unmatched' : 'recorded',
    detail: unmatched ?? '',
  });
  return id;
}

/** The server's report takes the place of what a page had said, whatever the policy for repeats. */
function takeOver(stores: Stores, known: ConversionRow, postback: Postback, receiptId: string): Result {
  const detail = `in place of the report of the ${known.reportedBy}`;
  if (postback.figures.currency !== known.currency)
    return {
      outcome: 'refused',
      conversionId: known.id,
      detail: `The page reported it in ${known.currency}; another report cannot change the currency.`,
    };
  stores.books.conversions.takeOver(known.id, receiptId);
  change(stores, known, { figures: postback.figures, completed: postback.completed }, detail);
  return { outcome: 'changed', conversionId: known.id, detail };
}

function repeat(
  stores: Stores,
  known: ConversionRow,
  postback: Postback,
  policy: 'ignore' | 'replace' | 'add',
): Result {
  const figures = repeatedFigures(policy, known.figures, postback.figures);
  if (!figures)
    return { outcome: 'ignored', conversionId: known.id, detail: 'The first report stands (repeat policy: ignore).' };
  if (figures.currency !== known.currency || (policy === 'add' && postback.figures.currency !== known.currency))
    return {
      outcome: 'refused',
      conversionId: known.id,
      detail: `The conversion is in ${known.currency}; a repeat cannot change the currency.`,
    };
  change(stores, known, { figures, completed: postback.completed }, `repeat policy: ${policy}`);
  return { outcome: 'changed', conversionId: known.id, detail: `repeat policy: ${policy}` };
}

function change(
  stores: Stores,
  known: ConversionRow,
  to: { figures?: ConversionRow['figures']; completed?: string },
  why: string,
): void {
  const { conversions } = stores.books;
  conversions.setFigures(known.id, to.figures ?? known.figures, to.completed ?? known.completed);
  conversions.addHistory(known.id, { time: stores.now(), actor: MERCHANT, what: 'changed', detail: why });
  const changed = conversions.plain(known.id);
  if (changed && isMatched(changed)) reRate(stores, changed, MERCHANT, why);
}

function noteApproved(stores: Stores, conversion: ConversionRow): void {
  // The merchant vouches for the sale; the commission still waits for its hold and its validation.
  stores.books.conversions.addHistory(conversion.id, {
    time: stores.now(),
    actor: MERCHANT,
    what: 'confirmed by the merchant',
    detail: '',
  });
}

function applyStatus(stores: Stores, known: ConversionRow, postback: Postback): Result {
  const result: Result = { outcome: 'status', conversionId: known.id, detail: postback.status };
  if (postback.completed && postback.completed !== known.completed)
    change(stores, known, { completed: postback.completed }, `completed on ${postback.completed}`);
  if (postback.status === 'approved') noteApproved(stores, known);
  if (postback.status !== 'rejected' && postback.status !== 'reversed') return result;
  const commission = stores.books.commissions.byConversion(known.id);
  if (!commission) {
    stores.books.conversions.setState(known.id, postback.status);
    stores.books.conversions.addHistory(known.id, {
      time: stores.now(),
      actor: MERCHANT,
      what: postback.status,
      detail: '',
    });
    return result;
  }
  if (commission.state === 'rejected' || commission.state === 'reversed')
    return { ...result, outcome: 'ignored', detail: `The commission is ${commission.state} already.` };
  if (postback.status === 'rejected' && (commission.state === 'pending' || commission.state === 'needs_rate')) {
    decide(stores, commission, 'rejected', MERCHANT, 'Rejected by the merchant.');
    return result;
  }
  const refund = postback.figures.amount;
  const partial = postback.status === 'reversed' && refund > 0 && refund < known.amount;
  // The same share of the commission as of the sale, rounded once.
  const share = partial
    ? Number(divideRounded(BigInt(commission.amount) * BigInt(refund), BigInt(known.amount)))
    : undefined;
  const left = commission.amount - commission.reversed;
  if (commission.state === 'needs_rate')
    decide(stores, commission, 'rejected', MERCHANT, 'Refunded before it could be rated.');
  else
    takeBack(
      stores,
      commission,
      share === undefined ? undefined : Math.min(share, left),
      MERCHANT,
      partial ? `Refund of ${refund} of ${known.amount} minor units.` : 'Refunded by the merchant.',
    );
  return result;
}

/** A status that came before its conversion is applied as soon as the conversion stands. */
function applyWaiting(stores: Stores, program: ProgramRow, conversionId: number): void {
  const { conversions } = stores.books;
  const conversion = conversions.plain(conversionId);
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
      if (parsed?.ok && current) applyStatus(stores, current, parsed.value);
      conversions.settleWaiting(conversionId, waiting.receiptId);
    }
}
