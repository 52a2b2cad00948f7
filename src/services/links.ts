import { drawLinkCode } from '@/core/links/code';
import { checkDeepLink } from '@/core/links/destination';
import { type LinkParts, composeLink } from '@/core/links/parts';
import { linkSchema } from '@/core/links/schema';
import { check } from '@/core/schema/problems';
import type { LinkRow } from '@/store/books/links';
import type { Page, Paging } from '@/store/database';
import { type Actor, audit, requireOwn, requireRight } from './actor';
import { readOffer } from './offers';
import { readChannel, readPartner } from './partners';
import { checked } from './programs';
import { conflict, invalidField } from './refusal';
import { type Scope, filterFor } from './scope';
import { type Stores, programOf } from './stores';

export interface IssuedLink extends LinkRow {
  address: string;
}
export interface LinkListRow extends IssuedLink {
  clicks: number;
  uniques: number;
  conversions: number;
  /** Minor units of the program's currency. */
  commission: number;
}

const issued = (link: LinkRow): IssuedLink => ({ ...link, address: composeLink(link.parts) });

export const readLink = (stores: Stores, actor: Actor, id: number): IssuedLink =>
  issued(requireOwn(stores, actor, stores.books.links.byId(id), `link ${id}`));

/** Issues a link: a permanent code for this partner, channel and offer, and the address to hand out. */
export function issueLink(stores: Stores, actor: Actor, input: unknown): IssuedLink {
  requireRight(stores, actor, 'issue_links', 'link');
  const fields = checked(check(linkSchema, input));
  const partner = readPartner(stores, actor, fields.partnerId);
  const channel = readChannel(stores, actor, fields.channelId);
  const offer = readOffer(stores, actor, fields.offerId);
  if (channel.partnerId !== partner.id)
    throw invalidField('channelId', `${channel.name} is not a channel of ${partner.name}.`);
  if (partner.state !== 'active')
    throw conflict(`${partner.name} is ${partner.state}; links are issued to active partners only.`);
  if (fields.to !== '') {
    const deepLink = checkDeepLink(fields.to, offer.landingHosts);
    if (!deepLink.ok) throw invalidField('to', deepLink.reason);
  }
  const program = programOf(stores, actor.programId);
  const id = stores.books.inTransaction(() => {
    let code = drawLinkCode(stores.randomBytes);
    while (stores.books.links.byCode(code)) code = drawLinkCode(stores.randomBytes);
    const parts: LinkParts = {
      origin: program.trackingOrigin,
      code,
      slots: fields.slots,
      ...(fields.cost && { cost: fields.cost }),
      ...(fields.to !== '' && { to: fields.to }),
    };
    const created = stores.books.links.insert({
      programId: actor.programId,
      code,
      partnerId: partner.id,
      channelId: channel.id,
      offerId: offer.id,
      parts,
      createdBy: actor.userId,
      now: stores.now(),
    });
    audit(stores, actor, 'issued', `link ${created}`, code);
    return created;
  });
  return readLink(stores, actor, id);
}

export function setLinkState(stores: Stores, actor: Actor, id: number, state: 'live' | 'paused'): IssuedLink {
  requireRight(stores, actor, 'issue_links', `link ${id}`);
  readLink(stores, actor, id);
  stores.books.inTransaction(() => {
    stores.books.links.setState(id, state);
    audit(stores, actor, state === 'live' ? 'resumed' : 'paused', `link ${id}`);
  });
  return readLink(stores, actor, id);
}

/** The links of a scope with what they brought in its period. */
export function listLinks(stores: Stores, actor: Actor, scope: Scope, paging: Paging): Page<LinkListRow> {
  const filter = filterFor(actor, scope);
  const { programId, partnerId, channelId, offerId } = filter;
  const { rows, total } = stores.books.links.list({ programId, partnerId, channelId, offerId }, paging);
  const clicks = new Map(stores.rollups.byLink(filter).map((row) => [row.linkId, row]));
  const earnings = new Map(stores.books.figures.byLink(filter).map((row) => [row.linkId, row]));
  return {
    total,
    rows: rows.map((link) => ({
      ...issued(link),
      clicks: clicks.get(link.id)?.counted ?? 0,
      uniques: clicks.get(link.id)?.uniques ?? 0,
      conversions: earnings.get(link.id)?.conversions ?? 0,
      commission: earnings.get(link.id)?.commission ?? 0,
    })),
  };
}
