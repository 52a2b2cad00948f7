import { type OfferFields, offerSchema } from '@/core/offers/schema';
import { check } from '@/core/schema/problems';
import { hostCovers } from '@/core/links/destination';
import type { OfferRow } from '@/store/books/offers';
import { type Actor, audit, requireOwn, requireRight } from './actor';
import { changes, checked } from './programs';
import { invalidField } from './refusal';
import type { Stores } from './stores';

export function readOffer(stores: Stores, actor: Actor, id: number): OfferRow {
  // Offers belong to the program and are seen by all of its partners.
  return requireOwn(stores, { ...actor, partnerId: null }, stores.books.offers.byId(id), `offer ${id}`);
}

export const listOffers = (stores: Stores, actor: Actor): OfferRow[] => stores.books.offers.ofProgram(actor.programId);

function fieldsOf(input: unknown): OfferFields {
  const fields = checked(check(offerSchema, input));
  const page = new URL(fields.landingPage.replace(/\{[^}]*\}/g, ''));
  if (!fields.landingHosts.some((host) => hostCovers(host, page)))
    throw invalidField(
      'landingPage',
      `${page.host} is not among the landing hosts below. Add it there, or choose another page.`,
    );
  return fields;
}

export function createOffer(stores: Stores, actor: Actor, input: unknown): OfferRow {
  requireRight(stores, actor, 'manage_setup', 'offer');
  const fields = fieldsOf(input);
  const standing = stores.books.offers.byCode(actor.programId, fields.code);
  if (standing) throw invalidField('code', `${fields.code} is the code of the offer ${standing.name}. Choose another.`);
  const id = stores.books.inTransaction(() => {
    const created = stores.books.offers.insert(actor.programId, fields, stores.now());
    audit(stores, actor, 'created', `offer ${created}`, fields.name);
    return created;
  });
  return readOffer(stores, actor, id);
}

export function updateOffer(stores: Stores, actor: Actor, id: number, input: unknown): OfferRow {
  requireRight(stores, actor, 'manage_setup', `offer ${id}`);
  const before = readOffer(stores, actor, id);
  const fields = fieldsOf(input);
  if (fields.code !== before.code)
    throw invalidField('code', `The code ${before.code} is permanent: it stands in reports and addresses.`);
  stores.books.inTransaction(() => {
    stores.books.offers.update(id, fields);
    audit(stores, actor, 'changed', `offer ${id}`, changes(before, fields));
  });
  return readOffer(stores, actor, id);
}
