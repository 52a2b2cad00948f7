import Joi from 'joi';
import { oneOf, reason as reasonField, reasonWhere } from '@/core/schema/fields';
import { check } from '@/core/schema/problems';
import type { CommissionListRow, CommissionShelf, StateSum } from '@/store/books/commissions';
import type { Page, Paging } from '@/store/database';
import { type Actor, audit, requireOwn, requireRight } from './actor';
import { readConversion } from './conversions';
import { decide, isMatched, reRate, takeBack } from './earning';
import { settleDecisions } from './settling';
import { checked, minorOf } from './programs';
import { conflict, invalidField } from './refusal';
import { type Scope, filterFor } from './scope';
import { type Stores, todayIn } from './stores';

export const readCommission = (stores: Stores, actor: Actor, id: number): CommissionListRow =>
  requireOwn(stores, actor, stores.books.commissions.byId(id), `commission ${id}`);

export const listCommissions = (
  stores: Stores,
  actor: Actor,
  scope: Scope,
  shelf: CommissionShelf,
  paging: Paging,
): Page<CommissionListRow> =>
  stores.books.commissions.list({ ...filterFor(actor, scope), shelf, today: todayIn(stores, actor.programId) }, paging);

export const commissionSums = (stores: Stores, actor: Actor, scope: Scope): StateSum[] =>
  stores.books.commissions.sums(filterFor(actor, scope), todayIn(stores, actor.programId));

/** Approves commissions that are due. All or nothing; one that is not due is named. @returns how many */
export function approveCommissions(stores: Stores, actor: Actor, ids: readonly number[]): number {
  requireRight(stores, actor, 'decide_commissions', 'commissions');
  if (ids.length === 0) throw invalidField('ids', 'Choose at least one commission.');
  const today = todayIn(stores, actor.programId);
  for (const id of ids) readCommission(stores, actor, id);
  // Read again in the transaction that decides: the worker may take one back at any moment.
  return stores.books.inTransaction(() => {
    const commissions = [...new Set(ids)].map((id) => readCommission(stores, actor, id));
    for (const { id, state, payableOn, partnerName } of commissions) {
      if (state !== 'pending')
        throw conflict(`Commission ${id} of ${partnerName} is ${state.replace('_', ' ')}, so it cannot be approved.`);
      if (payableOn === null || payableOn > today)
        throw conflict(
          `Commission ${id} of ${partnerName} is not due before ${payableOn ?? 'its completion is known'}.`,
        );
    }
    for (const commission of commissions) decide(stores, commission, 'approved', actor.name);
    audit(stores, actor, 'approved', `${commissions.length} commissions`, commissions.map(({ id }) => id).join(' '));
    return commissions.length;
  });
}

const dueIn = (stores: Stores, actor: Actor, scope: Scope) => ({
  ...filterFor(actor, scope),
  shelf: 'due' as const,
  today: todayIn(stores, actor.programId),
});

/** What would be approved of a scope with one stroke, and how many stay in review. Amounts in minor units. */
export const dueToApprove = (
  stores: Stores,
  actor: Actor,
  scope: Scope,
): { count: number; amount: number; inReview: number } =>
  stores.books.commissions.clearSums(dueIn(stores, actor, scope));

/** Approves all that is due in a scope, but for what is in review. @returns how many, and how many stay in review */
export function approveDue(stores: Stores, actor: Actor, scope: Scope): { approved: number; inReview: number } {
  const { count, inReview } = dueToApprove(stores, actor, scope);
  if (count === 0 && inReview > 0)
    throw conflict(`All ${inReview} that are due are in review. Decide on them there, or one by one.`);
  const clear = stores.books.commissions.clearOfReview(dueIn(stores, actor, scope));
  return { approved: approveCommissions(stores, actor, clear), inReview };
}

export function rejectCommission(stores: Stores, actor: Actor, id: number, input: unknown): CommissionListRow {
  requireRight(stores, actor, 'decide_commissions', `commission ${id}`);
  const { reason } = checked(check(Joi.object<{ reason: string }>({ reason: reasonField }), input));
  readCommission(stores, actor, id);
  stores.books.inTransaction(() => {
    decide(stores, readCommission(stores, actor, id), 'rejected', actor.name, reason);
    audit(stores, actor, 'rejected', `commission ${id}`, reason);
  });
  return readCommission(stores, actor, id);
}

export const reverseSchema = Joi.object<{ reason: string; amount: string }>({
  reason: reasonField,
  amount: Joi.string().trim().allow('').default('').label('Amount'),
});

/** Takes a commission back with a reason, wholly or by a decimal amount of the program's currency. */
export function reverseCommission(stores: Stores, actor: Actor, id: number, input: unknown): CommissionListRow {
  requireRight(stores, actor, 'decide_commissions', `commission ${id}`);
  const { reason, amount } = checked(check(reverseSchema, input));
  readCommission(stores, actor, id);
  stores.books.inTransaction(() => {
    const commission = readCommission(stores, actor, id);
    const minor = amount === '' ? undefined : minorOf(amount, commission.currency, 'amount');
    if (minor !== undefined && (minor <= 0 || minor > commission.amount - commission.reversed))
      throw invalidField(
        'amount',
        'An amount to take back lies above zero and is at most what is left of the commission.',
      );
    takeBack(stores, commission, minor, actor.name, reason);
    audit(stores, actor, 'reversed', `commission ${id}`, `${amount || 'wholly'}: ${reason}`);
  });
  return readCommission(stores, actor, id);
}

/** Rates what waited for a rate of exchange, and approves what is due where the offer approves by itself. */
export function runCommissionTimetable(stores: Stores, programId: number): void {
  const { books } = stores;
  const today = todayIn(stores, programId);
  const waiting = books.commissions.needingRate(programId);
  const due = books.commissions.dueByItself(programId, today);
  if (waiting.length + due.length === 0) return;
  const open = books.reviews.openIds(programId);
  books.inTransaction(() => {
    for (const { conversionId } of waiting) {
      const conversion = books.conversions.byId(conversionId);
      if (!conversion || !isMatched(conversion)) continue;
      reRate(stores, conversion, 'Brivet', 'A rate of exchange arrived.');
      settleDecisions(stores, conversion.id);
    }
    for (const id of due) {
      const commission = books.commissions.byId(id);
      // What is in review waits for a person.
      if (commission && !open.has(commission.conversionId))
        decide(stores, commission, 'approved', 'Brivet', 'The offer approves by itself.');
    }
  });
}

interface Decisions {
  ids: number[];
  way: 'approve' | 'reject' | 'reverse';
  reason: string;
}
export const decisionsSchema = Joi.object<Decisions>({
  ids: Joi.array().items(Joi.number().integer().min(1)).min(1).max(10_000).required().label('Conversions'),
  way: oneOf('Decision', 'approve', 'reject', 'reverse').required(),
  reason: reasonWhere('way', ['reject', 'reverse']),
});

/**
 * Decides on what many conversions earned, all or none; the first that cannot be decided so is named.
 * @returns how many, and what became of them in a word
 */
export function decideMany(stores: Stores, actor: Actor, input: unknown): { count: number; word: string } {
  requireRight(stores, actor, 'decide_commissions', 'commissions');
  const { ids, way, reason } = checked(check(decisionsSchema, input));
  const chosen = [...new Set(ids)].map((conversionId) => {
    const { id: known } = readConversion(stores, actor, conversionId);
    const commission = stores.books.commissions.byConversion(known);
    if (!commission) throw conflict(`Conversion ${conversionId} earned nothing, so there is nothing to decide.`);
    return commission.id;
  });
  stores.books.inTransaction(() => {
    if (way === 'approve') approveCommissions(stores, actor, chosen);
    else if (way === 'reject') for (const id of chosen) rejectCommission(stores, actor, id, { reason });
    else for (const id of chosen) reverseCommission(stores, actor, id, { reason, amount: '' });
  });
  return { count: chosen.length, word: { approve: 'approved', reject: 'rejected', reverse: 'reversed' }[way] };
}

/** What becomes payable in a month; null for what waits for its completion to be known. */
export interface CalendarMonth {
  readonly month: string | null;
  readonly count: number;
  /** Minor units of the program: waiting for its day, due and undecided, decided for, decided against. */
  readonly held: number;
  readonly due: number;
  readonly approved: number;
  readonly lost: number;
}
export const validationCalendar = (stores: Stores, actor: Actor, scope: Scope): CalendarMonth[] =>
  stores.books.commissions.calendar(filterFor(actor, scope), todayIn(stores, actor.programId));
