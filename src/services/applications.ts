import Joi from 'joi';
import { currency } from '@/core/money/currency';
import { type ApplicationFields, applicationSchema, proposedCode } from '@/core/partners/schema';
import { check } from '@/core/schema/problems';
import type { PartnerTerms } from '@/store/books/partner_terms';
import type { PartnerRow } from '@/store/books/partners';
import { type Actor, audit, requireRight } from './actor';
import { createChannel } from './channels';
import { readPartner, setPartnerState } from './partners';
import { checked } from './programs';
import { conflict, invalidField } from './refusal';
import { type Stores, programOf } from './stores';

/** What the public form shows; undefined when the program takes no applications. */
export function openForm(
  stores: Stores,
  programId: number,
): { name: string; terms: PartnerTerms | undefined } | undefined {
  const program = stores.books.programs.byId(programId);
  if (!program?.takesApplications) return undefined;
  return { name: program.name, terms: stores.books.partnerTerms.latest(programId) };
}

/**
 * Takes an application in. There is no account yet, so nobody acts; the audit names the applicant. A second one with
 * the same address while the first waits changes nothing, and is answered alike: the form tells nobody who is here.
 */
export function apply(stores: Stores, programId: number, input: unknown): void {
  const form = openForm(stores, programId);
  if (!form) throw conflict('This program takes no applications at the moment.');
  const fields = checked(check(applicationSchema, input));
  if (fields.termsVersion !== (form.terms?.version ?? 0))
    throw invalidField(
      'accepted',
      'The terms have changed since this form was opened. Read them again, then accept them.',
    );
  if (stores.books.partners.applied(programId, fields.email)) return;
  const { currency: own } = programOf(stores, programId);
  stores.books.inTransaction(() => {
    const now = stores.now();
    const referrer = fields.referrer === '' ? undefined : stores.books.partners.byCode(programId, fields.referrer);
    const id = stores.books.partners.insert({
      programId,
      code: freeCode(stores, programId, proposedCode(fields.name)),
      ...{ name: fields.name, kind: fields.kind, email: fields.email, country: fields.country },
      payoutCurrency: currency(own),
      ownMinimum: null,
      notes: '',
      state: 'applied',
      groupId: null,
      referrerId: referrer?.id ?? null,
      application: fields,
      termsVersion: form.terms?.version ?? null,
      termsAcceptedAt: form.terms ? now : null,
      createdAt: now,
    });
    stores.books.audit.insert({
      ...{ time: now, programId, actor: fields.name, action: 'applied', object: `partner ${id}` },
      detail: form.terms ? `accepted the terms, version ${form.terms.version}` : '',
    });
  });
}

function freeCode(stores: Stores, programId: number, proposed: string): string {
  let code = proposed;
  for (let n = 2; stores.books.partners.byCode(programId, code); n++) code = `${proposed.slice(0, 14)}-${n}`;
  return code;
}

/** Approves an applicant, and gives the first channel what the application told of it. */
export function approveApplicant(stores: Stores, actor: Actor, id: number): PartnerRow {
  requireRight(stores, actor, 'manage_partners', `partner ${id}`);
  return stores.books.inTransaction(() => {
    const partner = setPartnerState(stores, actor, id, 'active');
    const told: ApplicationFields | null = partner.application;
    if (told && stores.books.partners.channels(id).length === 0)
      createChannel(stores, actor, id, {
        code: 'MAIN',
        name: new URL(told.address).hostname.replace(/^www\./, ''),
        kind: told.channelKind,
        address: told.address,
        sourceId: null,
      });
    return readPartner(stores, actor, id);
  });
}

export const publishTermsSchema = Joi.object<{ text: string }>({
  text: Joi.string().trim().min(40).max(50_000).required().label('Terms'),
});

/** A new version of what partners accept. Those who accepted an earlier one keep it until they are asked again. */
export function publishTerms(stores: Stores, actor: Actor, input: unknown): PartnerTerms {
  requireRight(stores, actor, 'manage_setup', 'partner terms');
  const { text } = checked(check(publishTermsSchema, input));
  const standing = stores.books.partnerTerms.latest(actor.programId);
  if (standing?.text === text)
    throw invalidField('text', `This is version ${standing.version} as it stands: nothing differs.`);
  stores.books.inTransaction(() => {
    stores.books.partnerTerms.publish(actor.programId, text, actor.userId, stores.now());
    audit(stores, actor, 'published', 'partner terms', `version ${(standing?.version ?? 0) + 1}`);
  });
  const published = stores.books.partnerTerms.latest(actor.programId);
  if (!published) throw new Error('The terms were not stored.');
  return published;
}

export const listTerms = (stores: Stores, actor: Actor): PartnerTerms[] =>
  stores.books.partnerTerms.all(actor.programId);
