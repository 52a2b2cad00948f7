import { type ChannelFields, channelSchema } from '@/core/partners/schema';
import { check } from '@/core/schema/problems';
import type { ChannelListRow, ChannelRow } from '@/store/books/partners';
import type { Page, Paging } from '@/store/database';
import { type Actor, audit, requireOwn, requireRight } from './actor';
import { readPartner } from './partners';
import { changes, checked } from './programs';
import { invalidField } from './refusal';
import type { Stores } from './stores';

export function readChannel(stores: Stores, actor: Actor, id: number): ChannelRow & { programId: number } {
  const channel = stores.books.partners.channel(id);
  const partner = channel && stores.books.partners.byId(channel.partnerId);
  return requireOwn(stores, actor, channel && partner && { ...channel, programId: partner.programId }, `channel ${id}`);
}

export const listChannels = (stores: Stores, actor: Actor, partnerId: number): ChannelRow[] =>
  stores.books.partners.channels(readPartner(stores, actor, partnerId).id);

/** Channels of all partners in reach, searched by name and code. */
export const findChannels = (
  stores: Stores,
  actor: Actor,
  { partnerId = null, text = '' }: { partnerId?: number | null; text?: string },
  paging: Paging,
): Page<ChannelListRow> =>
  stores.books.partners.findChannels(
    { programId: actor.programId, partnerId: actor.partnerId ?? partnerId, text },
    paging,
  );

function fieldsOf(stores: Stores, actor: Actor, input: unknown): ChannelFields {
  const fields = checked(check(channelSchema, input));
  const source = fields.sourceId === null ? undefined : stores.books.sources.byId(fields.sourceId);
  if (fields.sourceId !== null && source?.programId !== actor.programId)
    throw invalidField('sourceId', 'This source is not set up here.');
  return fields;
}

export function createChannel(stores: Stores, actor: Actor, partnerId: number, input: unknown): ChannelRow {
  requireRight(stores, actor, 'manage_partners', `partner ${partnerId}`);
  readPartner(stores, actor, partnerId);
  const fields = fieldsOf(stores, actor, input);
  if (stores.books.partners.channelByCode(partnerId, fields.code))
    throw invalidField(
      'code',
      `This partner has a channel ${fields.code} already. Codes are unique within the partner.`,
    );
  const id = stores.books.inTransaction(() => {
    const created = stores.books.partners.insertChannel({ ...fields, partnerId, now: stores.now() });
    audit(stores, actor, 'created', `channel ${created}`, fields.name);
    return created;
  });
  return readChannel(stores, actor, id);
}

export function updateChannel(stores: Stores, actor: Actor, id: number, input: unknown): ChannelRow {
  requireRight(stores, actor, 'manage_partners', `channel ${id}`);
  const before = readChannel(stores, actor, id);
  const fields = fieldsOf(stores, actor, input);
  if (fields.code !== before.code)
    throw invalidField('code', `The code ${before.code} is permanent: reports count by it.`);
  stores.books.inTransaction(() => {
    stores.books.partners.updateChannel({ ...fields, id });
    audit(stores, actor, 'changed', `channel ${id}`, changes(before, { ...before, ...fields }));
  });
  return readChannel(stores, actor, id);
}
