import Joi from 'joi';
import { movement } from '@/core/ledger/ledger';
import { convert, money } from '@/core/money/money';
import { type RunState, decidePayout, runMayBecome } from '@/core/payouts/decide';
import { dayField, reason as reasonField } from '@/core/schema/fields';
import { check } from '@/core/schema/problems';
import { type Day, addDays, day, startOfDay } from '@/core/time/days';
import type { ItemRow, RunRow } from '@/store/books/payouts';
import { type Actor, audit, may, requireOwn, requireRight } from './actor';
import { actorOf } from './sign_in';
import { checked } from './programs';
import { Refusal, conflict, invalidField } from './refusal';
import { type Stores, programOf, todayIn } from './stores';

export const readRun = (stores: Stores, actor: Actor, id: number): RunRow =>
  requireOwn(stores, actor, stores.books.payouts.run(id), `payout run ${id}`);
export const listRuns = (stores: Stores, actor: Actor): RunRow[] =>
  actor.partnerId === null ? stores.books.payouts.runs(actor.programId) : [];
export const listItems = (stores: Stores, actor: Actor, runId: number): ItemRow[] =>
  stores.books.payouts.items(readRun(stores, actor, runId).id);

export function readItem(stores: Stores, actor: Actor, runId: number, partnerId: number): ItemRow {
  const run = stores.books.payouts.run(runId);
  requireOwn(stores, actor, run && { programId: run.programId, partnerId }, `payout run ${runId}`);
  const item = stores.books.payouts.item(runId, partnerId);
  if (!item) throw new Refusal('not_found', 'This partner had no balance in this run.');
  return item;
}

const draftSchema = Joi.object<{ cutOff: string }>({ cutOff: dayField('Cut-off').required() });

/** Drafts a run: decides for every partner with a balance up to the cut-off, and sets the money of those who are in aside. */
export function draftRun(stores: Stores, actor: Actor, input: unknown): RunRow {
  requireRight(stores, actor, 'draft_payouts', 'payout run');
  const { cutOff } = checked(check(draftSchema, input));
  const program = programOf(stores, actor.programId);
  const today = todayIn(stores, program.id);
  if (cutOff > today) throw invalidField('cutOff', `The cut-off cannot lie after today (${today}).`);
  const open = stores.books.payouts.openRun(program.id);
  if (open) throw conflict(`Run ${open.number} is still ${open.state}. Settle or abandon it before drafting the next.`);
  const uptoEntry = stores.books.ledger.lastEntryBefore(startOfDay(addDays(day(cutOff), 1), program.timeZone));
  const runId = stores.books.inTransaction(() => {
    const id = stores.books.payouts.insertRun({
      programId: program.id,
      cutOff,
      uptoEntry,
      draftedBy: actor.userId,
      now: stores.now(),
    });
    for (const unpaid of stores.books.ledger.unpaid(program.id, uptoEntry))
      if (unpaid.amount !== 0) putIntoRun(stores, actor, { id, uptoEntry, day: today }, unpaid);
    audit(stores, actor, 'drafted', `payout run ${id}`, `cut-off ${cutOff}`);
    return id;
  });
  return readRun(stores, actor, runId);
}

function putIntoRun(
  stores: Stores,
  actor: Actor,
  run: { id: number; uptoEntry: number; day: Day },
  unpaid: { partnerId: number; from: number; amount: number },
): void {
  const { books } = stores;
  const program = programOf(stores, actor.programId);
  const partner = books.partners.byId(unpaid.partnerId);
  if (!partner) throw new Error(`Partner ${unpaid.partnerId} has ledger entries and is not in the books.`);
  const own = partner.payoutCurrency === program.currency;
  const exchange = own ? undefined : books.terms.exchangeRate(program.currency, partner.payoutCurrency, run.day);
  const decision = decidePayout({
    balance: unpaid.amount,
    programMinimum: program.minimumPayout,
    ownMinimum: partner.ownMinimum,
    details: partner.details,
    onHold: partner.onHold !== null,
    convertible: own || exchange !== undefined,
  });
  const amount = money(unpaid.amount, program.currency);
  const payoutAmount = own
    ? amount.minor
    : exchange
      ? convert(amount, partner.payoutCurrency, exchange.rate).minor
      : null;
  books.payouts.insertItem({
    runId: run.id,
    partnerId: partner.id,
    outReason: decision.in ? null : decision.reason,
    fromEntry: unpaid.from,
    amount: amount.minor,
    currency: program.currency,
    payoutAmount,
    payoutCurrency: partner.payoutCurrency,
    rate: exchange?.rate ?? null,
    rateDay: exchange?.day ?? null,
    state: decision.in ? 'open' : 'out',
  });
  if (!decision.in) return;
  postItem(
    stores,
    actor,
    run.id,
    { partnerId: partner.id, amount: amount.minor, currency: program.currency },
    'put_into_run',
  );
  books.commissions.joinRun({ runId: run.id, partnerId: partner.id, uptoEntry: run.uptoEntry });
}

type ItemMoney = Pick<ItemRow, 'partnerId' | 'amount' | 'currency'>;

function postItem(
  stores: Stores,
  actor: Actor,
  runId: number,
  item: ItemMoney,
  kind: 'put_into_run' | 'paid' | 'returned' | 'run_abandoned',
  reason = '',
): void {
  const { partnerId, amount, currency } = item;
  const about = { programId: actor.programId, time: stores.now(), actor: actor.name, reason, runId };
  stores.books.ledger.post(movement(kind, { partnerId, amount, currency }), about);
}

function step(stores: Stores, actor: Actor, id: number, to: RunState): RunRow {
  const run = readRun(stores, actor, id);
  if (!runMayBecome(run.state, to)) throw conflict(`Run ${run.number} is ${run.state} and cannot become ${to}.`);
  return run;
}

const openItems = (stores: Stores, runId: number): ItemRow[] =>
  stores.books.payouts.items(runId).filter(({ state }) => state === 'open');

/** A second person approves, where there is one with the right to. */
export function approveRun(stores: Stores, actor: Actor, id: number): RunRow {
  requireRight(stores, actor, 'approve_payouts', `payout run ${id}`);
  const run = step(stores, actor, id, 'approved');
  const others = stores.books.users
    .ofProgram(actor.programId)
    .filter((user) => user.id !== run.draftedBy && may(actorOf(user), 'approve_payouts'));
  if (run.draftedBy === actor.userId && others.length > 0)
    throw new Refusal(
      'forbidden',
      `You drafted run ${run.number}. A second person approves it: ${others.map(({ name }) => name).join(' or ')}.`,
    );
  if (run.partners === 0)
    throw conflict(`Run ${run.number} pays nobody. Abandon it, or mend why the partners are out and draft again.`);
  stores.books.inTransaction(() => {
    stores.books.payouts.setApproved(id, actor.userId, stores.now());
    audit(stores, actor, 'approved', `payout run ${id}`);
  });
  return readRun(stores, actor, id);
}

/** Marks that the payment file was taken; from here on the run cannot be abandoned. */
export function exportRun(stores: Stores, actor: Actor, id: number): RunRow {
  requireRight(stores, actor, 'draft_payouts', `payout run ${id}`);
  const run = readRun(stores, actor, id);
  if (run.state === 'exported' || run.state === 'settled') return run;
  step(stores, actor, id, 'exported');
  stores.books.inTransaction(() => {
    stores.books.payouts.setState(id, 'exported');
    audit(stores, actor, 'exported', `payout run ${id}`);
  });
  return readRun(stores, actor, id);
}

/** The bank has paid: the money of every partner in the run leaves. */
export function settleRun(stores: Stores, actor: Actor, id: number): RunRow {
  requireRight(stores, actor, 'draft_payouts', `payout run ${id}`);
  step(stores, actor, id, 'settled');
  const { books } = stores;
  books.inTransaction(() => {
    for (const item of openItems(stores, id)) {
      postItem(stores, actor, id, item, 'paid');
      books.payouts.setItem(item.id, 'paid');
      books.commissions.moveRun(id, item.partnerId, 'paid', true);
    }
    books.payouts.setSettled(id, stores.now());
    audit(stores, actor, 'settled', `payout run ${id}`);
  });
  return readRun(stores, actor, id);
}

/** Gives the money of a run that was not exported yet back to the partners' approved balances. */
export function abandonRun(stores: Stores, actor: Actor, id: number, input: unknown): RunRow {
  requireRight(stores, actor, 'draft_payouts', `payout run ${id}`);
  step(stores, actor, id, 'abandoned');
  const { reason } = checked(check(Joi.object<{ reason: string }>({ reason: reasonField }), input));
  const { books } = stores;
  books.inTransaction(() => {
    for (const item of openItems(stores, id)) {
      postItem(stores, actor, id, item, 'run_abandoned', reason);
      books.payouts.setItem(item.id, 'abandoned');
      books.commissions.moveRun(id, item.partnerId, 'approved', false);
    }
    books.payouts.setState(id, 'abandoned');
    audit(stores, actor, 'abandoned', `payout run ${id}`, reason);
  });
  return readRun(stores, actor, id);
}

/** A payment came back: the amount is the partner's again, and the details are put on hold until they are mended. */
export function returnPayment(stores: Stores, actor: Actor, id: number, partnerId: number, input: unknown): ItemRow {
  requireRight(stores, actor, 'draft_payouts', `payout run ${id}`);
  const { reason } = checked(check(Joi.object<{ reason: string }>({ reason: reasonField }), input));
  const item = readItem(stores, actor, id, partnerId);
  if (item.state !== 'paid')
    throw conflict(`The payment to ${item.partnerName} is ${item.state}; only a paid one can come back.`);
  const { books } = stores;
  books.inTransaction(() => {
    postItem(stores, actor, id, item, 'returned', reason);
    books.payouts.setItem(item.id, 'returned', reason);
    books.commissions.moveRun(id, partnerId, 'approved', true);
    books.partners.setHold(partnerId, `Payment returned: ${reason}`);
    audit(stores, actor, 'returned', `payment of run ${id} to partner ${partnerId}`, reason);
  });
  return readItem(stores, actor, id, partnerId);
}
