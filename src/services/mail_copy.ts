import Papa from 'papaparse';
import { type MailCopy, type MailValues, mailCopySchema, mergeMail } from '@/core/mail/merge';
import { checkDeepLink } from '@/core/links/destination';
import { composeLink } from '@/core/links/parts';
import type { LinkFields } from '@/core/links/schema';
import { check } from '@/core/schema/problems';
import type { MailChannel, MailCopyRow } from '@/store/books/mail';
import { type Actor, audit, requireOwn, requireRight } from './actor';
import { type LinkTarget, issueContext, issueProblems, storeLink } from './links';
import { readOffer } from './offers';
import { changes, checked } from './programs';
import { invalid, invalidField } from './refusal';
import { defused } from './statements';
import type { Stores } from './stores';

/** One partner's copy: with the link, or without one while none was issued. */
export interface MergedMail extends MailChannel {
  link: string | null;
  subject: string;
  text: string;
}

export const readMailCopy = (stores: Stores, actor: Actor, id: number): MailCopyRow =>
  requireOwn(stores, actor, stores.books.mail.byId(id), `mail copy ${id}`);

export const listMailCopies = (stores: Stores, actor: Actor): MailCopyRow[] =>
  actor.partnerId === null ? stores.books.mail.all(actor.programId) : [];

function fieldsOf(stores: Stores, actor: Actor, input: unknown, own?: number): MailCopy {
  const fields = checked(check(mailCopySchema, input));
  const offer = readOffer(stores, actor, fields.offerId);
  const page = fields.to === '' ? undefined : checkDeepLink(fields.to, offer.landingHosts);
  if (page && !page.ok) throw invalidField('to', page.reason);
  const standing = stores.books.mail.byName(actor.programId, fields.name);
  if (standing && standing.id !== own) throw invalidField('name', `There is mail copy named ${fields.name} already.`);
  return fields;
}

export function createMailCopy(stores: Stores, actor: Actor, input: unknown): MailCopyRow {
  requireRight(stores, actor, 'manage_partners', 'mail copy');
  const fields = fieldsOf(stores, actor, input);
  const id = stores.books.inTransaction(() => {
    const created = stores.books.mail.insert({ ...fields, programId: actor.programId, now: stores.now() });
    audit(stores, actor, 'created', `mail copy ${created}`, fields.name);
    return created;
  });
  return readMailCopy(stores, actor, id);
}

export function updateMailCopy(stores: Stores, actor: Actor, id: number, input: unknown): MailCopyRow {
  requireRight(stores, actor, 'manage_partners', `mail copy ${id}`);
  const before = readMailCopy(stores, actor, id);
  const fields = fieldsOf(stores, actor, input, id);
  stores.books.inTransaction(() => {
    stores.books.mail.update({ ...fields, id, now: stores.now() });
    audit(stores, actor, 'changed', `mail copy ${id}`, changes({ ...before, text: '' }, { ...fields, text: '' }));
  });
  return readMailCopy(stores, actor, id);
}

export function removeMailCopy(stores: Stores, actor: Actor, id: number): void {
  requireRight(stores, actor, 'manage_partners', `mail copy ${id}`);
  const { name } = readMailCopy(stores, actor, id);
  stores.books.inTransaction(() => {
    stores.books.mail.remove(id);
    audit(stores, actor, 'removed', `mail copy ${id}`, name);
  });
}

function merge(stores: Stores, copy: MailCopy, offerName: string, channel: MailChannel): MergedMail {
  const link = stores.books.links.ofChannel(channel.channelId, copy.offerId, copy.to);
  const address = link ? composeLink({ ...link.parts, code: link.alias ?? link.code }) : null;
  const values: MailValues = {
    partner_name: channel.partnerName,
    partner_code: channel.partnerCode,
    channel_name: channel.channelName,
    channel_code: channel.channelCode,
    offer_name: offerName,
    link: address ?? '[no link yet]',
  };
  return { ...channel, link: address, subject: mergeMail(copy.subject, values), text: mergeMail(copy.text, values) };
}

/** Every active partner's copy, by name. A newsletter channel comes before any other. */
export function mergedMail(stores: Stores, actor: Actor, copy: MailCopy): MergedMail[] {
  requireRight(stores, actor, 'manage_partners', 'mail copy');
  const { name } = readOffer(stores, actor, copy.offerId);
  return stores.books.mail
    .channels(actor.programId, actor.partnerId)
    .map((channel) => merge(stores, copy, name, channel));
}

/** One partner's copy; without a partner the first by name. Undefined when the partner has no channel. */
export function previewMail(
  stores: Stores,
  actor: Actor,
  copy: MailCopy,
  partnerId: number | null,
): { mail: MergedMail | undefined; missing: number } {
  requireRight(stores, actor, 'manage_partners', 'mail copy');
  const { name } = readOffer(stores, actor, copy.offerId);
  const { mail, links } = stores.books;
  const [channel] = mail.channels(actor.programId, partnerId, 1);
  const missing = mail
    .channels(actor.programId, null)
    .filter(({ channelId }) => !links.ofChannel(channelId, copy.offerId, copy.to)).length;
  return { mail: channel && merge(stores, copy, name, channel), missing };
}

/** Issues a link to every partner whose copy has none yet. @returns how many were issued */
export function issueForMail(stores: Stores, actor: Actor, id: number): number {
  requireRight(stores, actor, 'issue_links', `mail copy ${id}`);
  const copy = readMailCopy(stores, actor, id);
  const context = issueContext(stores, actor);
  const offer = readOffer(stores, actor, copy.offerId);
  return stores.books.inTransaction(() => {
    const missing = mergedMail(stores, actor, copy).filter(({ link }) => link === null);
    for (const { partnerId, partnerName, partnerCode, channelId, channelName, channelCode } of missing) {
      const target: LinkTarget = {
        partner: { id: partnerId, name: partnerName, code: partnerCode, state: 'active' },
        channel: { id: channelId, name: channelName, code: channelCode, partnerId },
        offer,
      };
      const fields: LinkFields = {
        ...{ kind: 'referral', partnerId, channelId, offerId: offer.id, landing: '', to: copy.to, values: {} },
        ...{ alias: '', labels: { campaign: copy.name }, utm: {}, utmForm: 'short' },
      };
      const problems = issueProblems(context, target, fields);
      if (problems.length > 0) throw invalid(problems);
      storeLink(stores, actor, context, target, fields);
    }
    audit(stores, actor, 'issued', `mail copy ${id}`, `${missing.length} links`);
    return missing.length;
  });
}

/** All copies as a file for a mail program: address, subject, text. Those without a link are left out. */
export function exportMail(stores: Stores, actor: Actor, id: number): { name: string; content: string } {
  const copy = readMailCopy(stores, actor, id);
  const rows = mergedMail(stores, actor, copy)
    .filter(({ link }) => link !== null)
    .map(({ partnerName, partnerCode, email, channelName, link, subject, text }) => ({
      partner: defused(partnerName),
      code: partnerCode,
      email: defused(email),
      channel: defused(channelName),
      link: link ?? '',
      subject: defused(subject),
      text: defused(text),
    }));
  return {
    name: `${copy.name.toLowerCase().replace(/[^a-z0-9]+/g, '-')}.csv`,
    content: `${Papa.unparse(rows, { newline: '\r\n' })}\r\n`,
  };
}
