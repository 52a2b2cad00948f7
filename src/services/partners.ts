import { isValidIBAN } from 'ibantools';
import { currency } from '@/core/money/currency';
import { money } from '@/core/money/money';
import { amountText } from '@/core/money/text';
import {
  type PartnerFields,
  type PartnerState,
  channelSchema,
  partnerMayBecome,
  partnerSchema,
  payoutDetailsSchema,
} from '@/core/partners/schema';
import { check } from '@/core/schema/problems';
import type { ChannelRow, PartnerRow } from '@/store/books/partners';
import type { Page, Paging } from '@/store/database';
import { type Actor, audit, requireOwn, requireRight } from './actor';
import { changes, checked, minorOf } from './programs';
import { conflict, invalidField } from './refusal';
import { deriveKey, seal, unseal } from './secrets';
import { type Stores, programOf } from './stores';

const owned = (partner: PartnerRow | undefined) => partner && { ...partner, partnerId: partner.id };

export function readPartner(stores: Stores, actor: Actor, id: number): PartnerRow {
  return requireOwn(stores, actor, owned(stores.books.partners.byId(id)), `partner ${id}`);
}

export interface PartnerSearch extends Paging {
  state?: PartnerState | null;
  text?: string;
}

export const listPartners = (
  stores: Stores,
  actor: Actor,
  { state = null, text = '', ...paging }: PartnerSearch,
): Page<PartnerRow> =>
  stores.books.partners.list({ programId: actor.programId, partnerId: actor.partnerId, state, text }, paging);

const row = (stores: Stores, actor: Actor, input: unknown) => {
  const { currency: own } = programOf(stores, actor.programId);
  const fields = checked(check(partnerSchema(own), input));
  const ownMinimum = fields.ownMinimum === '' ? null : minorOf(fields.ownMinimum, own, 'ownMinimum');
  return { ...fields, ownMinimum, payoutCurrency: currency(fields.payoutCurrency) };
};

/** Takes a partner in as an applicant; approval is a step of its own. */
export function createPartner(stores: Stores, actor: Actor, input: unknown): PartnerRow {
  requireRight(stores, actor, 'manage_partners', 'partner');
  const fields = row(stores, actor, input);
  const standing = stores.books.partners.byCode(actor.programId, fields.code);
  if (standing)
    throw invalidField('code', `${fields.code} is the code of ${standing.name}. Codes are permanent: choose another.`);
  const id = stores.books.inTransaction(() => {
    const created = stores.books.partners.insert({
      ...fields,
      programId: actor.programId,
      state: 'applied',
      createdAt: stores.now(),
    });
    audit(stores, actor, 'created', `partner ${created}`, fields.name);
    return created;
  });
  return readPartner(stores, actor, id);
}

/** Everything but the code, which is permanent because it stands in links already out. */
export function updatePartner(stores: Stores, actor: Actor, id: number, input: unknown): PartnerRow {
  requireRight(stores, actor, 'manage_partners', `partner ${id}`);
  const before = readPartner(stores, actor, id);
  const fields = row(stores, actor, input);
  if (fields.code !== before.code)
    throw invalidField('code', `The code ${before.code} is permanent: it stands in links already out.`);
  stores.books.inTransaction(() => {
    stores.books.partners.update({ ...fields, id });
    audit(
      stores,
      actor,
      'changed',
      `partner ${id}`,
      changes(partnerFields(stores, before), partnerFields(stores, { ...before, ...fields })),
    );
  });
  return readPartner(stores, actor, id);
}

export function setPartnerState(
  stores: Stores,
  actor: Actor,
  id: number,
  state: PartnerState,
  reason = '',
): PartnerRow {
  requireRight(stores, actor, 'manage_partners', `partner ${id}`);
  const { state: before, name } = readPartner(stores, actor, id);
  if (!partnerMayBecome(before, state)) throw conflict(`${name} is ${before} and cannot become ${state}.`);
  if ((state === 'refused' || state === 'closed') && reason.trim().length < 3)
    throw invalidField('reason', `Say why ${name} is ${state}.`);
  stores.books.inTransaction(() => {
    stores.books.partners.setState(id, state, stores.now());
    audit(stores, actor, state === 'active' ? 'approved' : state, `partner ${id}`, reason);
  });
  return readPartner(stores, actor, id);
}

export function partnerFields(stores: Stores, partner: PartnerRow): PartnerFields {
  const { code, name, kind, email, country, payoutCurrency, notes, ownMinimum } = partner;
  const own = programOf(stores, partner.programId).currency;
  return {
    code,
    name,
    kind,
    email,
    country,
    payoutCurrency,
    notes,
    ownMinimum: ownMinimum === null ? '' : amountText(money(ownMinimum, own)),
  };
}

// Channels

export function readChannel(stores: Stores, actor: Actor, id: number): ChannelRow & { programId: number } {
  const channel = stores.books.partners.channel(id);
  const partner = channel && stores.books.partners.byId(channel.partnerId);
  return requireOwn(stores, actor, channel && partner && { ...channel, programId: partner.programId }, `channel ${id}`);
}

export const listChannels = (stores: Stores, actor: Actor, partnerId?: number): ChannelRow[] =>
  partnerId === undefined
    ? stores.books.partners.channelsOfProgram(actor.programId, actor.partnerId)
    : stores.books.partners.channels(readPartner(stores, actor, partnerId).id);

export function createChannel(stores: Stores, actor: Actor, partnerId: number, input: unknown): ChannelRow {
  requireRight(stores, actor, 'manage_partners', `partner ${partnerId}`);
  readPartner(stores, actor, partnerId);
  const fields = checked(check(channelSchema, input));
  if (stores.books.partners.channels(partnerId).some(({ code }) => code === fields.code))
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
  const fields = checked(check(channelSchema, input));
  if (fields.code !== before.code)
    throw invalidField('code', `The code ${before.code} is permanent: reports count by it.`);
  stores.books.inTransaction(() => {
    stores.books.partners.updateChannel({ ...fields, id });
    audit(stores, actor, 'changed', `channel ${id}`, changes(before, { ...before, ...fields }));
  });
  return readChannel(stores, actor, id);
}

// Payout details

/** Keeps where a partner is paid, sealed; they must be checked by finance before a payout includes the partner. */
export function putPayoutDetails(stores: Stores, actor: Actor, partnerId: number, input: unknown): PartnerRow {
  requireRight(stores, actor, 'manage_payout_details', `partner ${partnerId}`);
  readPartner(stores, actor, partnerId);
  const details = checked(check(payoutDetailsSchema(isValidIBAN), input));
  const sealed = seal(deriveKey(stores.secret, 'payout details'), JSON.stringify(details));
  const mask = `${details.holder.charAt(0)}… · ${details.account.slice(0, 4)}…${details.account.slice(-4)}`;
  stores.books.inTransaction(() => {
    stores.books.partners.putDetails({ partnerId, sealed, mask, now: stores.now() });
    audit(stores, actor, 'changed', `payout details of partner ${partnerId}`, mask);
  });
  return readPartner(stores, actor, partnerId);
}

export function markDetailsChecked(stores: Stores, actor: Actor, partnerId: number): PartnerRow {
  requireRight(stores, actor, 'manage_payout_details', `partner ${partnerId}`);
  const partner = readPartner(stores, actor, partnerId);
  if (partner.details === 'missing') throw conflict(`${partner.name} has no payout details to check yet.`);
  stores.books.inTransaction(() => {
    stores.books.partners.markDetailsChecked(partnerId);
    audit(stores, actor, 'checked', `payout details of partner ${partnerId}`);
  });
  return readPartner(stores, actor, partnerId);
}

/** The full details, for a payment file. Every view is audited. */
export function revealPayoutDetails(
  stores: Stores,
  actor: Actor,
  partnerId: number,
): { holder: string; account: string } {
  requireRight(stores, actor, 'manage_payout_details', `payout details of partner ${partnerId}`);
  readPartner(stores, actor, partnerId);
  const sealed = stores.books.partners.sealedDetails(partnerId);
  if (!sealed) throw conflict('This partner has no payout details.');
  audit(stores, actor, 'viewed', `payout details of partner ${partnerId}`);
  return JSON.parse(unseal(deriveKey(stores.secret, 'payout details'), sealed));
}
