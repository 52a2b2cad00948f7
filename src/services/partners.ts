import { isValidIBAN } from 'ibantools';
import { currency } from '@/core/money/currency';
import { money } from '@/core/money/money';
import { amountText } from '@/core/money/text';
import {
  type PartnerFields,
  type PartnerState,
  partnerMayBecome,
  partnerSchema,
  payoutDetailsSchema,
} from '@/core/partners/schema';
import { check } from '@/core/schema/problems';
import type { GroupRow, PartnerRow } from '@/store/books/partners';
import type { Page, Paging } from '@/store/database';
import { type Actor, audit, requireOwn, requireRight } from './actor';
import { changes, checked, minorOf } from './programs';
import { conflict, invalidField } from './refusal';
import { deriveKey, seal, unseal } from './secrets';
import { type Stores, programOf } from './stores';

const owned = (partner: PartnerRow | undefined) => partner && { ...partner, partnerId: partner.id };

export function readPartner(stores: Stores, actor: Actor, id: number): PartnerRow {
  const partner = requireOwn(stores, actor, owned(stores.books.partners.byId(id)), `partner ${id}`);
  // Notes are the program's own.
  return actor.partnerId === null ? partner : { ...partner, notes: '' };
}

export interface PartnerSearch extends Paging {
  state?: PartnerState | null;
  group?: number | null;
  text?: string;
}

export const listPartners = (
  stores: Stores,
  actor: Actor,
  { state = null, group = null, text = '', limit, offset }: PartnerSearch,
): Page<PartnerRow> =>
  stores.books.partners.list(
    { programId: actor.programId, partnerId: actor.partnerId, state, groupId: group, text },
    { limit, offset },
  );

export const listGroups = (stores: Stores, actor: Actor): GroupRow[] =>
  actor.partnerId === null ? stores.books.partners.groups(actor.programId) : [];

const row = (stores: Stores, actor: Actor, input: unknown) => {
  const { currency: own } = programOf(stores, actor.programId);
  const fields = checked(check(partnerSchema(own), input));
  const { group, referrer, ...rest } = fields;
  const ownMinimum = fields.ownMinimum === '' ? null : minorOf(fields.ownMinimum, own, 'ownMinimum');
  const referrerId = referrer === '' ? null : referrerNamed(stores, actor, referrer);
  return { ...rest, group, referrerId, ownMinimum, payoutCurrency: currency(fields.payoutCurrency) };
};

function referrerNamed(stores: Stores, actor: Actor, code: string): number {
  const referrer = stores.books.partners.byCode(actor.programId, code);
  if (!referrer) throw invalidField('referrer', `${code} is not the code of a partner here.`);
  return referrer.id;
}

/** Groups are made by naming them. Called within a transaction. */
const groupOf = (stores: Stores, actor: Actor, name: string): number | null =>
  name === '' ? null : stores.books.partners.groupNamed(actor.programId, name);

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
      groupId: groupOf(stores, actor, fields.group),
      programId: actor.programId,
      state: 'applied',
      application: null,
      termsVersion: null,
      termsAcceptedAt: null,
      createdAt: stores.now(),
    });
    audit(stores, actor, 'created', `partner ${created}`, fields.name);
    return created;
  });
  return readPartner(stores, actor, id);
}

/** Everything; the code only while the partner is an applicant, because later it stands in links already out. */
export function updatePartner(stores: Stores, actor: Actor, id: number, input: unknown): PartnerRow {
  requireRight(stores, actor, 'manage_partners', `partner ${id}`);
  const before = readPartner(stores, actor, id);
  const fields = row(stores, actor, input);
  if (fields.code !== before.code) refuseCode(stores, actor, before, fields.code);
  if (fields.referrerId === id) throw invalidField('referrer', `${before.name} cannot have referred itself.`);
  stores.books.inTransaction(() => {
    stores.books.partners.update({ ...fields, id, groupId: groupOf(stores, actor, fields.group) });
    const after = readPartner(stores, actor, id);
    const changed = changes(partnerFields(stores, before), partnerFields(stores, after));
    audit(stores, actor, 'changed', `partner ${id}`, changed);
  });
  return readPartner(stores, actor, id);
}

function refuseCode(stores: Stores, actor: Actor, before: PartnerRow, code: string): void {
  if (before.state !== 'applied')
    throw invalidField('code', `The code ${before.code} is permanent: it stands in links already out.`);
  const standing = stores.books.partners.byCode(actor.programId, code);
  if (standing) throw invalidField('code', `${code} is the code of ${standing.name}. Choose another.`);
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
    stores.books.partners.setState(id, state, reason.trim(), stores.now());
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
    group: partner.group ?? '',
    referrer: partner.referrerCode ?? '',
    ownMinimum: ownMinimum === null ? '' : amountText(money(ownMinimum, own)),
  };
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
