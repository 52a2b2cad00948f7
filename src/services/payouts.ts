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
import { type Tick, untold } from './jobs/job';

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

const reasonSchema = Joi.object<{ reason: string }>({ reason: reasonField });
const draftSchema = Joi.object<{ cutOff: string }>({ cutOff: dayField('Cut-off').required() });

/**
 * Drafts a run: decides for every partner with a balance up to the cut-off, and sets the money of those who are in aside.
 * @param tick called with every partner
 */
export function draftRun(stores: Stores, actor: Actor, input: unknown, tick: Tick = untold): RunRow {
  requireRight(stores, actor, 'draft_payouts', 'payout run');
  const { cutOff } = checked(check(draftSchema, input));
  const program = programOf(stores, actor.programId);
  const today = todayIn(stores, program.id);
  if (cutOff > today) throw invalidField('cutOff', `The cut-off cannot lie after today (${today}).`);
  const { books } = stores;
  const runId = books.inTransaction(() => {
    const open = books.payouts.openRun(program.id);
    if (open)
      throw conflict(`Run ${open.number} is still ${open.state}. Settle or abandon it before drafting the next.`);
    const uptoEntry = books.ledger.lastEntryBefore(startOfDay(addDays(day(cutOff), 1), program.timeZone));
    const run = { programId: program.id, cutOff, uptoEntry, draftedBy: actor.userId, now: stores.now() };
    const id = books.payouts.insertRun(run);
    const owed = books.ledger.unpaid(program.id, uptoEntry).filter(({ amount }) => amount !== 0);
    for (const [i, unpaid] of owed.entries()) {
      tick(i, owed.length);
      putIntoRun(stores, actor, { id, day: today }, unpaid);
    }
    books.commissions.joinRun({ programId: program.id, runId: id, uptoEntry });
    tick(owed.length, owed.length);
    audit(stores, actor, 'drafted', `payout run ${id}`, `cut-off ${cutOff}`);
    return id;
  });
  return readRun(stores, actor, runId);
}

function putIntoRun(
  stores: Stores,
  actor: Actor,
  run: { id: number; day: Day },
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
  if (decision.in)
    postItem(
      stores,
      actor,
      run.id,
      { partnerId: partner.id, amount: amount.minor, currency: program.currency },
      'put_into_run',
    );
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

/**
 * A run that is about to become what follows. Read again in the transaction that writes it, because others may be at it
 * too; whose it is was asked before, so that a refusal leaves its audit line.
 */
function next(stores: Stores, actor: Actor, id: number, to: RunState): RunRow {
  const run = readRun(stores, actor, id);
  if (!runMayBecome(run.state, to)) throw conflict(`Run ${run.number} is ${run.state} and cannot become ${to}.`);
  return run;
}

/** A second person approves, where there is one with the right to. */
export function approveRun(stores: Stores, actor: Actor, id: number): RunRow {
  requireRight(stores, actor, 'approve_payouts', `payout run ${id}`);
  readRun(stores, actor, id);
  const { books } = stores;
  books.inTransaction(() => {
    const run = next(stores, actor, id, 'approved');
    const others = books.users
      .ofProgram(actor.programId)
      .filter((user) => user.id !== run.draftedBy && may(actorOf(user), 'approve_payouts'));
    if (run.draftedBy === actor.userId && others.length > 0)
      throw new Refusal(
        'forbidden',
        `You drafted run ${run.number}. A second person approves it: ${others.map(({ name }) => name).join(' or ')}.`,
      );
    if (run.partners === 0)
      throw conflict(`Run ${run.number} pays nobody. Abandon it, or mend why the partners are out and draft again.`);
    books.payouts.setApproved(id, actor.userId, stores.now());
    audit(stores, actor, 'approved', `payout run ${id}`);
  });
  return readRun(stores, actor, id);
}

/** Marks that the payment file was taken; from here on the run cannot be abandoned. */
export function exportRun(stores: Stores, actor: Actor, id: number): RunRow {
  requireRight(stores, actor, 'draft_payouts', `payout run ${id}`);
  readRun(stores, actor, id);
  const { books } = stores;
  books.inTransaction(() => {
    const { state } = readRun(stores, actor, id);
    if (state === 'exported' || state === 'settled') return;
    next(stores, actor, id, 'exported');
    books.payouts.setState(id, 'exported');
    audit(stores, actor, 'exported', `payout run ${id}`);
  });
  return readRun(stores, actor, id);
}

/** How a run ends: what becomes of the money of each partner in it. */
const ENDS = {
  settled: { money: 'paid', item: 'paid' },
  abandoned: { money: 'run_abandoned', item: 'abandoned' },
} as const;

function endRun(stores: Stores, actor: Actor, id: number, to: keyof typeof ENDS, reason: string, tick: Tick): RunRow {
  readRun(stores, actor, id);
  const { books } = stores;
  books.inTransaction(() => {
    next(stores, actor, id, to);
    const items = books.payouts.items(id).filter(({ state }) => state === 'open');
    for (const [i, item] of items.entries()) {
      tick(i, items.length);
      postItem(stores, actor, id, item, ENDS[to].money, reason);
      books.payouts.setItem(item.id, ENDS[to].item);
    }
    if (to === 'settled') {
      books.commissions.payRun(id);
      books.payouts.setSettled(id, stores.now());
    } else {
      books.commissions.leaveRun(id);
      books.payouts.setState(id, to);
    }
    tick(items.length, items.length);
    audit(stores, actor, to, `payout run ${id}`, reason);
  });
  return readRun(stores, actor, id);
}

/** The bank has paid: the money of every partner in the run leaves. */
export function settleRun(stores: Stores, actor: Actor, id: number, tick: Tick = untold): RunRow {
  requireRight(stores, actor, 'draft_payouts', `payout run ${id}`);
  return endRun(stores, actor, id, 'settled', '', tick);
}

/** Gives the money of a run that was not exported yet back to the partners' approved balances. */
export function abandonRun(stores: Stores, actor: Actor, id: number, input: unknown, tick: Tick = untold): RunRow {
  requireRight(stores, actor, 'draft_payouts', `payout run ${id}`);
  const { reason } = checked(check(reasonSchema, input));
  return endRun(stores, actor, id, 'abandoned', reason, tick);
}

/** A payment came back: the amount is the partner's again, and the details are put on hold until they are mended. */
export function returnPayment(stores: Stores, actor: Actor, id: number, partnerId: number, input: unknown): ItemRow {
  requireRight(stores, actor, 'draft_payouts', `payout run ${id}`);
  const { reason } = checked(check(reasonSchema, input));
  readItem(stores, actor, id, partnerId);
  const { books } = stores;
  books.inTransaction(() => {
    const item = readItem(stores, actor, id, partnerId);
    if (item.state !== 'paid')
      throw conflict(`The payment to ${item.partnerName} is ${item.state}; only a paid one can come back.`);
    postItem(stores, actor, id, item, 'returned', reason);
    books.payouts.setItem(item.id, 'returned', reason);
    books.commissions.returnPaid(id, partnerId);
    books.partners.setHold(partnerId, `Payment returned: ${reason}`);
    audit(stores, actor, 'returned', `payment of run ${id} to partner ${partnerId}`, reason);
  });
  return readItem(stores, actor, id, partnerId);
}
