import Joi from 'joi';
import { type Cause, causeOf } from '@/core/attribution/cause';
import { conversionKey } from '@/core/conversions/repeat';
import type { Currency } from '@/core/money/currency';
import { check } from '@/core/schema/problems';
import { id, longText } from '@/core/schema/fields';
import type { ConversionListRow, ConversionRow } from '@/store/books/conversions';
import type { RepairRow } from '@/store/books/repairs';
import type { Page, Paging } from '@/store/database';
import { type Actor, audit, requireOwn, requireRight } from './actor';
import { readChannel } from './channels';
import { withdraw } from './earning';
import { belongsTo, findPartner, giveTo } from './matching';
import { readOffer } from './offers';
import { once } from './once';
import { readPartner } from './partners';
import { checked } from './programs';
import { conflict, invalidField } from './refusal';
import { type Scope, filterFor } from './scope';
import { type Stores } from './stores';

/** Conversions without a partner that have the same likely cause. */
export interface UnmatchedGroup extends Cause {
  readonly count: number;
  /** Minor units by currency. */
  readonly amounts: ReadonlyMap<Currency, number>;
  /** When the first and the last of them happened. */
  readonly since: number;
  readonly last: number;
  readonly ids: readonly number[];
}

type Gathered = UnmatchedGroup & { amounts: Map<Currency, number>; ids: number[] };

/** More are not looked at on one screen; the newest come first. */
const MOST = 20_000;

/** What waits for a partner in a scope, by likely cause, the largest group first. */
export function unmatchedGroups(stores: Stores, actor: Actor, scope: Scope): UnmatchedGroup[] {
  requireRight(stores, actor, 'look', 'unmatched conversions');
  const { books, traffic } = stores;
  const offerOf = once(books.offers.byId);
  const partnerOf = once(books.partners.byId);
  const groups = new Map<string, Gathered>();
  for (const row of books.conversions.unmatched(filterFor(actor, scope), MOST)) {
    const { reason, event, time, clickId, coupon, visitor, offerId } = row;
    const click = clickId === null || reason === 'unknown_click' ? undefined : traffic.click(clickId);
    const offer = offerId === null ? undefined : offerOf(offerId);
    const partner = click && partnerOf(click.partnerId)?.name;
    const cause = causeOf({
      ...{ reason, event, time, clickId, coupon, visitor },
      ...(offer && { offer }),
      ...(partner && { partner }),
      ...(click && { click }),
    });
    const known: Gathered = groups.get(cause.key) ?? {
      ...{ ...cause, count: 0, since: time, last: time },
      amounts: new Map<Currency, number>(),
      ids: [],
    };
    known.ids.push(row.id);
    known.amounts.set(row.currency, (known.amounts.get(row.currency) ?? 0) + row.amount);
    groups.set(cause.key, {
      ...known,
      count: known.count + 1,
      since: Math.min(known.since, time),
      last: Math.max(known.last, time),
    });
  }
  return [...groups.values()].sort((a, b) => b.count - a.count);
}

/** A page of what waits, of one cause or of all. */
export function listUnmatched(
  stores: Stores,
  actor: Actor,
  groups: readonly UnmatchedGroup[],
  cause: string | undefined,
  { limit, offset }: Paging,
): Page<ConversionListRow> {
  const ids = groups.filter(({ key }) => cause === undefined || key === cause).flatMap((group) => group.ids);
  ids.sort((a, b) => b - a);
  const rows = ids.slice(offset, offset + limit).flatMap((each) => stores.books.conversions.byId(each) ?? []);
  for (const row of rows) requireOwn(stores, actor, row, `conversion ${row.id}`);
  return { rows, total: ids.length };
}

interface Which {
  ids: number[];
  reason: string;
}
const which = {
  ids: Joi.array().items(Joi.number().integer().min(1)).min(1).max(MOST).required().label('Conversions').messages({
    'array.min': 'Choose at least one conversion.',
  }),
  reason: longText('Reason').min(3).max(300).required(),
};
const toPartner = Joi.object<Which & { partnerId: number; channelId: number; offerId: number }>({
  ...which,
  partnerId: id('Partner').required(),
  channelId: id('Channel').required(),
  offerId: id('Offer').required(),
});
const toClick = Joi.object<Which & { clickId: string }>({
  ...which,
  clickId: Joi.string().trim().max(100).required().label('Click ID'),
});
const dismissed = Joi.object<Which>(which);
export const REPAIR_SCHEMAS = { toPartner, toClick, dismissed };

/** The conversions that are meant, all of them still without a partner. */
function waiting(stores: Stores, actor: Actor, ids: readonly number[]): ConversionRow[] {
  return ids.map((each) => {
    const row = stores.books.conversions.plain(each);
    requireOwn(stores, { ...actor, partnerId: null }, row, `conversion ${each}`);
    if (!row || row.unmatched === null || row.state !== 'pending')
      throw conflict(`Conversion ${each} does not wait any more: somebody was quicker. Look again.`);
    return row;
  });
}

function repair(
  stores: Stores,
  actor: Actor,
  what: string,
  { ids, reason }: Which,
  each: (row: ConversionRow) => void,
): RepairRow {
  const { books } = stores;
  return books.inTransaction(() => {
    const rows = waiting(stores, actor, ids);
    const now = stores.now();
    const repairId = books.repairs.insert({ programId: actor.programId, time: now, actor: actor.name, what, reason });
    for (const row of rows) {
      const { unmatched, clickId, offerId, linkId, matchedBy, state } = row;
      const matchKey = books.conversions.matchKey(row.id);
      books.repairs.addItem(repairId, row.id, { unmatched, clickId, offerId, linkId, matchedBy, state, matchKey });
      each(row);
    }
    audit(stores, actor, 'repaired', `${rows.length} unmatched conversions`, `${what}: ${reason}`);
    return readRepair(stores, actor, repairId);
  });
}

const keyOf = ({ event, orderRef }: ConversionRow, offerId: number, clickId: string | null): string | null =>
  conversionKey(offerId, event, orderRef ?? undefined, clickId ?? undefined) ?? null;

/** Gives conversions to a partner's channel. What each earns is rated as of its own time. */
export function giveToPartner(stores: Stores, actor: Actor, input: unknown): RepairRow {
  requireRight(stores, actor, 'manage_partners', 'unmatched conversions');
  const { partnerId, channelId, offerId, ...chosen } = checked(check(toPartner, input));
  const partner = readPartner(stores, actor, partnerId);
  const channel = readChannel(stores, actor, channelId);
  const offer = readOffer(stores, actor, offerId);
  if (channel.partnerId !== partner.id)
    throw invalidField('channelId', `${channel.name} is not a channel of ${partner.name}.`);
  return repair(stores, actor, `given to ${partner.name}, ${channel.name}`, chosen, (row) => {
    if (!offer.events.some(({ event }) => event === row.event))
      throw invalidField(
        'offerId',
        `“${row.event}” is no event of ${offer.name}. Add it there, or choose another offer.`,
      );
    const { clickId } = row;
    const to = { ...{ offerId, partnerId, channelId, clickId, linkId: null }, matchKey: keyOf(row, offerId, clickId) };
    giveTo(stores, row.id, { ...to, matchedBy: 'hand' }, actor.name, chosen.reason);
  });
}

/** Gives conversions to a click, whatever its age: the person who does it knows better than the window. */
export function giveToClick(stores: Stores, actor: Actor, input: unknown): RepairRow {
  requireRight(stores, actor, 'manage_partners', 'unmatched conversions');
  const { clickId, ...chosen } = checked(check(toClick, input));
  const click = stores.traffic.click(clickId);
  if (click?.programId !== actor.programId) throw invalidField('clickId', 'No click with this ID was recorded here.');
  return repair(stores, actor, `given to the click ${clickId}`, chosen, (row) => {
    const { time, event } = row;
    const found = findPartner(stores, actor.programId, row.day, { clickId, event, time });
    const by = belongsTo({ ...found, match: { by: 'click' } });
    if (!by) throw invalidField('clickId', 'This click belongs to nobody.');
    const to = { ...by, clickId, matchKey: keyOf(row, by.offerId, clickId), matchedBy: 'hand' as const };
    giveTo(stores, row.id, to, actor.name, chosen.reason);
  });
}

/** Says that conversions are nobody's: they leave the shelf, and earn nothing. */
export function dismissUnmatched(stores: Stores, actor: Actor, input: unknown): RepairRow {
  requireRight(stores, actor, 'manage_partners', 'unmatched conversions');
  const chosen = checked(check(dismissed, input));
  const { conversions } = stores.books;
  return repair(stores, actor, 'nobody’s', chosen, ({ id: conversionId }) => {
    conversions.setState(conversionId, 'rejected');
    const detail = chosen.reason;
    conversions.addHistory(conversionId, { time: stores.now(), actor: actor.name, what: 'nobody’s', detail });
  });
}

export const readRepair = (stores: Stores, actor: Actor, repairId: number): RepairRow =>
  requireOwn(stores, { ...actor, partnerId: null }, stores.books.repairs.byId(repairId), `repair ${repairId}`);

export function newestRepairs(stores: Stores, actor: Actor, limit: number): (RepairRow & { count: number })[] {
  requireRight(stores, actor, 'manage_partners', 'repairs');
  return stores.books.repairs.newest(actor.programId, limit);
}

/**
 * Takes a repair back: its conversions wait again, what they earned is withdrawn. Only while none of it was decided.
 * @returns how many wait again
 */
export function undoRepair(stores: Stores, actor: Actor, repairId: number): number {
  requireRight(stores, actor, 'manage_partners', `repair ${repairId}`);
  const { books } = stores;
  const { undoneAt, what } = readRepair(stores, actor, repairId);
  if (undoneAt !== null) throw conflict('This was taken back already.');
  return books.inTransaction(() => {
    const items = books.repairs.items(repairId);
    for (const { conversionId, before } of items) {
      const commission = books.commissions.byConversion(conversionId);
      if (commission && !['pending', 'needs_rate', 'rejected'].includes(commission.state))
        throw conflict(
          `The commission of conversion ${conversionId} is ${commission.state.replace('_', ' ')} by now. Reverse it instead.`,
        );
      if (commission) withdraw(stores, commission, actor.name, 'The assignment was taken back.');
      books.conversions.unmatch(conversionId, before);
      books.conversions.addHistory(conversionId, {
        time: stores.now(),
        actor: actor.name,
        what: 'taken back',
        detail: what,
      });
    }
    books.repairs.undo(repairId, stores.now());
    audit(stores, actor, 'took back', `repair ${repairId}`, what);
    return items.length;
  });
}
