import Joi from 'joi';
import { AddressSet, readRanges } from '@/core/clicks/addresses';
import { flag, line, oneOf } from '@/core/schema/fields';
import { check } from '@/core/schema/problems';
import type { AddressListRow } from '@/store/books/routing';
import { type Actor, audit, requireOwn, requireRight } from './actor';
import { checked } from './programs';
import { invalidField } from './refusal';
import type { Stores } from './stores';

export interface AddressListFields {
  name: string;
  effect: AddressListRow['effect'];
  on: boolean;
  /** The list as text; absent where the ranges stay what they are. */
  text?: string;
}
export const addressListSchema: Joi.ObjectSchema<AddressListFields> = Joi.object<AddressListFields>({
  name: line('Name', 80).required(),
  effect: oneOf('What it does', 'set_aside', 'proxy').required(),
  on: flag('In force').required(),
  text: Joi.string().max(20_000_000).label('Addresses'),
});

export function listAddressLists(stores: Stores, actor: Actor): AddressListRow[] {
  requireRight(stores, actor, 'manage_setup', 'address lists');
  return stores.books.routing.lists(actor.programId);
}

export const readAddressList = (stores: Stores, actor: Actor, id: number): AddressListRow =>
  requireOwn(stores, { ...actor, partnerId: null }, stores.books.routing.list(id), `address list ${id}`);

/** Lines named after the first one that is wrong, at most. */
const MOST_NAMED = 10;
function alsoWrong(lines: readonly number[]): string {
  if (lines.length === 0) return '';
  const named = lines.slice(0, MOST_NAMED).join(', ');
  const more = lines.length - MOST_NAMED;
  return ` ${lines.length === 1 ? 'So is line' : 'So are lines'} ${named}${more > 0 ? ` and ${more} more` : ''}.`;
}

/** The ranges of a text, or a refusal that names the lines that cannot be read. */
export function rangesOf(text: string): { set: AddressSet; count: number } {
  const { set, count, problems } = readRanges(text);
  const [first, ...others] = problems;
  if (first)
    throw invalidField('text', `Line ${first.line}: ${first.reason}${alsoWrong(others.map(({ line }) => line))}`);
  if (count === 0) throw invalidField('text', 'There is no address in it yet: one address or range a line.');
  return { set, count };
}

/** Adds a list, or changes one; in force on the edge with the next request. */
export function saveAddressList(stores: Stores, actor: Actor, id: number | undefined, input: unknown): AddressListRow {
  requireRight(stores, actor, 'manage_setup', 'address list');
  const { name, effect, on, text } = checked(check(addressListSchema, input));
  const { routing } = stores.books;
  const before = id === undefined ? undefined : readAddressList(stores, actor, id);
  const standing = routing.listByName(actor.programId, name);
  if (standing && standing.id !== id) throw invalidField('name', `There is a list ${standing.name} already.`);
  const kept = before && text === undefined ? routing.rangesOf(before.id) : undefined;
  const read = kept ? undefined : rangesOf(text ?? '');
  const row = {
    ...{ programId: actor.programId, name, effect, isOn: on ? 1 : 0, changedBy: actor.name, changedAt: stores.now() },
    ranges: read?.count ?? before?.ranges ?? 0,
    ...(kept ?? (read ?? rangesOf('')).set.stored()),
  };
  const saved = stores.books.inTransaction(() => {
    if (before) routing.updateList({ ...row, id: before.id });
    const written = before?.id ?? routing.insertList(row);
    const what = `${name}, ${row.ranges} ranges, ${effect.replace('_', ' ')}, ${on ? 'in force' : 'not in force'}`;
    audit(stores, actor, before ? 'changed' : 'added', `address list ${written}`, what);
    return written;
  });
  return readAddressList(stores, actor, saved);
}

/** Takes a list away. Clicks that it set aside stay so. */
export function removeAddressList(stores: Stores, actor: Actor, id: number): void {
  requireRight(stores, actor, 'manage_setup', `address list ${id}`);
  const { name } = readAddressList(stores, actor, id);
  stores.books.inTransaction(() => {
    stores.books.routing.removeList(id);
    audit(stores, actor, 'removed', `address list ${id}`, name);
  });
}
