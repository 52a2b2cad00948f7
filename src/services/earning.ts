import { payableOn } from '@/core/commissions/hold';
import { type Rating, type RatingInput, type Volume, rateConversion } from '@/core/commissions/rate';
import type { RateSheet } from '@/core/commissions/sheet';
import { type CommissionState, movement, stepProblem } from '@/core/ledger/ledger';
import { type Day, day, dayOf, monthOf } from '@/core/time/days';
import type { CommissionRow } from '@/store/books/commissions';
import type { ConversionRow } from '@/store/books/conversions';
import type { OfferRow } from '@/store/books/offers';
import { conflict } from './refusal';
import { type Stores, programOf } from './stores';

/** A conversion that has its partner. */
export type MatchedConversion = ConversionRow & { partnerId: number; channelId: number; offerId: number };
export const isMatched = (conversion: ConversionRow): conversion is MatchedConversion =>
  conversion.partnerId !== null && conversion.channelId !== null && conversion.offerId !== null;

function payable(offer: OfferRow, conversion: ConversionRow): Day | undefined {
  const own = offer.events.find(({ event }) => event === conversion.event)?.hold;
  const completed = conversion.completed === null ? undefined : day(conversion.completed);
  return payableOn(own ?? offer.hold, day(conversion.day), completed);
}

function offerOf(stores: Stores, conversion: MatchedConversion): OfferRow {
  const offer = stores.books.offers.byId(conversion.offerId);
  if (!offer) throw new Error(`Offer ${conversion.offerId} of conversion ${conversion.id} is not in the books.`);
  return offer;
}

/** Everything the amount of this conversion depends on, as it stands now. */
function ratingInput(stores: Stores, conversion: MatchedConversion, sheet: RateSheet): RatingInput {
  const { terms } = stores.books;
  const { programId, offerId, event, partnerId, channelId, figures, facts } = conversion;
  const program = programOf(stores, programId).currency;
  const volumes: Record<string, Volume> = {};
  for (const { id, pay } of sheet.rows)
    if (pay.kind === 'bands') volumes[id] = terms.volume(partnerId, id, monthOf(day(conversion.day)));
  const exchange =
    figures.currency === program ? undefined : terms.exchangeRate(figures.currency, program, day(conversion.day));
  return { offerId, event, partnerId, channelId, ...facts, figures, program, volumes, ...(exchange && { exchange }) };
}

function addVolumes(
  stores: Stores,
  conversion: MatchedConversion,
  rating: Rating,
  first: boolean,
  before?: Rating,
): void {
  if (rating.kind !== 'rated') return;
  for (const { row, pay, base } of rating.explanation.paid) {
    if (pay.kind !== 'bands') continue;
    const counted =
      before?.kind === 'rated' ? (before.explanation.paid.find((paid) => paid.row === row)?.base ?? 0) : 0;
    stores.books.terms.addVolume(conversion.partnerId, row, monthOf(day(conversion.day)), {
      count: first ? 1 : 0,
      base: base - counted,
    });
  }
}

/**
 * Rates a matched conversion and books what it earned.
 * @param withdrawn its commission from before, when it belonged to somebody else
 */
export function earn(stores: Stores, conversion: MatchedConversion, actor: string, withdrawn?: CommissionRow): void {
  const { books } = stores;
  const offer = offerOf(stores, conversion);
  if (!offer.events.some(({ event, payable }) => event === conversion.event && payable)) return;
  const version = books.terms.sheetInForce(conversion.programId, conversion.time);
  if (!version) {
    books.conversions.addHistory(conversion.id, {
      time: stores.now(),
      actor,
      what: 'not rated',
      detail: 'No rate sheet was in force at the time of the event.',
    });
    return;
  }
  const input = ratingInput(stores, conversion, version.sheet);
  const rating = rateConversion(version.sheet, input);
  const rated = rating.kind === 'rated';
  const { programId, id: conversionId, partnerId, channelId, offerId } = conversion;
  const amount = rated ? rating.amount.minor : 0;
  const row = {
    programId,
    conversionId,
    partnerId,
    channelId,
    offerId,
    currency: input.program,
    amount,
    state: rated ? ('pending' as const) : ('needs_rate' as const),
    day: conversion.day,
    payableOn: payable(offer, conversion) ?? null,
    createdAt: stores.now(),
  };
  const id = withdrawn?.id ?? books.commissions.insert(row);
  if (withdrawn) books.commissions.revive(withdrawn.id, row);
  const explanation = rated ? rating.explanation : null;
  books.commissions.insertRating({
    commissionId: id,
    sheetId: version.id,
    input,
    explanation,
    amount: rated ? amount : null,
    time: stores.now(),
  });
  post(stores, { programId, partnerId, currency: input.program, id }, 'earned', amount, actor);
  addVolumes(stores, conversion, rating, true);
}

/**
 * Rates again after the figures, the time, the completion or the rates of exchange changed; books only the difference.
 * @param before the conversion as it was rated the last time, when it changed
 */
export function reRate(
  stores: Stores,
  conversion: MatchedConversion,
  actor: string,
  reason: string,
  before: Pick<ConversionRow, 'time' | 'day'> = conversion,
): void {
  const { books } = stores;
  const commission = books.commissions.byConversion(conversion.id);
  const last = commission && books.commissions.latestRating(commission.id);
  const applied = last && books.terms.sheet(last.sheetId);
  if (!commission || !applied || commission.state === 'rejected' || commission.state === 'reversed') return;
  const inForce =
    before.time === conversion.time ? applied : books.terms.sheetInForce(conversion.programId, conversion.time);
  const { id: sheetId, sheet } = inForce ?? applied;
  const payableDay = payable(offerOf(stores, conversion), conversion) ?? null;
  const otherMonth = monthOf(day(before.day)) !== monthOf(day(conversion.day)) || sheetId !== last.sheetId;
  if (otherMonth) takeVolumes(stores, conversion, last.input, applied.sheet, before.day);
  // The volume that was reached before this conversion stays what it was, as long as its month is the same.
  const fresh = ratingInput(stores, conversion, sheet);
  const input = otherMonth ? fresh : { ...fresh, volumes: last.input.volumes };
  const rating = rateConversion(sheet, input);
  if (rating.kind !== 'rated') return;
  const amount = rating.amount.minor;
  if (commission.state === 'needs_rate') {
    books.commissions.setState(commission.id, 'pending');
    post(stores, commission, 'earned', amount, actor);
    addVolumes(stores, conversion, rating, true);
  } else {
    post(stores, commission, 'adjusted', amount - commission.amount, actor, { reason, state: commission.state });
    if (otherMonth) addVolumes(stores, conversion, rating, true);
    else addVolumes(stores, conversion, rating, false, rateConversion(sheet, last.input));
  }
  books.commissions.setAmount(commission.id, amount, conversion.day, payableDay);
  if (JSON.stringify(input) !== JSON.stringify(last.input))
    books.commissions.insertRating({
      commissionId: commission.id,
      sheetId,
      input,
      explanation: rating.explanation,
      amount,
      time: stores.now(),
    });
}

/** What a conversion had counted in a month it does not belong to any more. */
function takeVolumes(
  stores: Stores,
  { partnerId }: MatchedConversion,
  input: RatingInput,
  sheet: RateSheet,
  was: string,
): void {
  const rating = rateConversion(sheet, input);
  if (rating.kind !== 'rated') return;
  for (const { row, pay, base } of rating.explanation.paid)
    if (pay.kind === 'bands')
      stores.books.terms.addVolume(partnerId, row, monthOf(day(was)), { count: -1, base: -base });
}

type Bookable = Pick<CommissionRow, 'id' | 'programId' | 'partnerId' | 'currency'>;

export function post(
  stores: Stores,
  commission: Bookable,
  kind: Parameters<typeof movement>[0],
  amount: number,
  actor: string,
  more: { reason?: string; state?: CommissionState } = {},
): void {
  const { id, programId, partnerId, currency } = commission;
  stores.books.ledger.post(movement(kind, { partnerId, currency, amount, state: more.state }), {
    programId,
    time: stores.now(),
    actor,
    reason: more.reason,
    commissionId: id,
  });
}

/** Moves a pending commission to 'approved' or 'rejected'. @throws Refusal when its state does not allow it */
export function decide(
  stores: Stores,
  commission: CommissionRow,
  to: 'approved' | 'rejected',
  actor: string,
  reason = '',
): void {
  const problem = stepProblem(commission.state, to);
  if (problem) throw conflict(problem);
  stores.books.commissions.setState(commission.id, to);
  post(stores, commission, to, commission.amount - commission.reversed, actor, { reason });
  const { conversions } = stores.books;
  conversions.setState(commission.conversionId, to);
  conversions.addHistory(commission.conversionId, {
    time: stores.now(),
    actor,
    what: `commission ${to}`,
    detail: reason,
  });
}

/**
 * Takes back a commission, wholly or by an amount.
 * @param amount minor units; absent takes back all that is left
 * @param refund when the merchant's refunds are the reason, which later reports may still change
 */
export function takeBack(
  stores: Stores,
  commission: CommissionRow,
  amount: number | undefined,
  actor: string,
  reason: string,
  refund?: { whole: boolean },
): void {
  const left = commission.amount - commission.reversed;
  const taken = amount ?? left;
  if (taken > left || taken < 0)
    throw conflict(`Only ${left} minor units are left of this commission, so ${taken} cannot be taken back.`);
  const whole = refund?.whole ?? taken === left;
  const problem = stepProblem(commission.state, 'reversed');
  if (problem) throw conflict(problem);
  post(stores, commission, 'reversed', taken, actor, { reason, state: commission.state });
  stores.books.commissions.addReversed(commission.id, taken, refund ? taken : 0);
  const { conversions } = stores.books;
  if (whole) {
    stores.books.commissions.setState(commission.id, 'reversed', refund ? commission.state : undefined);
    conversions.setState(commission.conversionId, 'reversed');
  }
  conversions.addHistory(commission.conversionId, {
    time: stores.now(),
    actor,
    what: whole ? 'reversed' : 'partly reversed',
    detail: reason,
  });
}

/** Books back a part of what refunds had taken: there was less to refund than it had seemed. */
export function giveBack(stores: Stores, commission: CommissionRow, amount: number, actor: string): void {
  const reason = 'Less was refunded than had been taken back.';
  post(stores, commission, 'reversed', -amount, actor, { reason, state: commission.state });
  stores.books.commissions.addReversed(commission.id, -amount, -amount);
  stores.books.conversions.addHistory(commission.conversionId, {
    ...{ time: stores.now(), actor, what: 'partly given back', detail: reason },
  });
}

/** Undoes a whole reversal by refunds, because a report of something sold before them came late. */
export function reopen(stores: Stores, commission: CommissionRow, actor: string): void {
  const { commissions, conversions, payouts } = stores.books;
  if (!commission.reversedFrom) return;
  const run = commission.runId === null ? undefined : payouts.run(commission.runId);
  const to = commission.reversedFrom === 'in_payout' && run?.state === 'settled' ? 'paid' : commission.reversedFrom;
  const reason = 'A report from before the refund came late.';
  post(stores, commission, 'reversed', -commission.refunded, actor, { reason, state: to });
  commissions.addReversed(commission.id, -commission.refunded, -commission.refunded);
  commissions.setState(commission.id, to);
  conversions.setState(commission.conversionId, to === 'pending' ? 'pending' : 'approved');
  conversions.addHistory(commission.conversionId, { time: stores.now(), actor, what: 'reopened', detail: reason });
}

/** Takes a commission that nobody decided on from its partner altogether: the conversion was not theirs. */
export function withdraw(stores: Stores, commission: CommissionRow, actor: string, reason: string): void {
  const { books } = stores;
  chargeFee(stores, commission, -commission.fees, actor);
  const conversion = books.conversions.plain(commission.conversionId);
  const last = books.commissions.latestRating(commission.id);
  const sheet = last && books.terms.sheet(last.sheetId)?.sheet;
  if (commission.state === 'rejected') return;
  if (conversion && isMatched(conversion) && last && sheet)
    takeVolumes(stores, conversion, last.input, sheet, commission.day);
  if (commission.state === 'pending')
    post(stores, commission, 'rejected', commission.amount - commission.reversed, actor, { reason });
  books.commissions.setState(commission.id, 'rejected');
}

/** Charges a partner with what a chargeback cost, or gives it back. */
export function chargeFee(stores: Stores, commission: CommissionRow, amount: number, actor: string): void {
  if (amount === 0) return;
  const reason = 'Fee of a chargeback.';
  post(stores, commission, 'fee', amount, actor, { reason, state: 'approved' });
  stores.books.commissions.addFees(commission.id, amount);
  stores.books.conversions.addHistory(commission.conversionId, {
    ...{ time: stores.now(), actor, what: amount > 0 ? 'fee charged' : 'fee given back', detail: reason },
  });
}

/** The day of an instant for a program. */
export const programDay = (stores: Stores, programId: number, time: number): Day =>
  dayOf(time, programOf(stores, programId).timeZone);
