import { type OfferFields, offerSchema } from '@/core/offers/schema';
import { EMPTY_PLAN, pagesOf } from '@/core/routing/plan';
import { check } from '@/core/schema/problems';
import { hostCovers } from '@/core/links/destination';
import type { OfferRow } from '@/store/books/offers';
import { type Actor, audit, requireOwn, requireRight } from './actor';
import { matchAgain } from './matching';
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
  for (const [i, { address }] of fields.landingPages.entries()) {
    const page = new URL(address.replace(/\{[^}]*\}/g, ''));
    if (!fields.landingHosts.some((host) => hostCovers(host, page)))
      throw invalidField(
        `landingPages.${i}.address`,
        `${page.host} is not among the landing hosts below. Add it there, or choose another page.`,
      );
  }
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

/** A copy to be changed: paused, with a code of its own and the same routing. */
export function duplicateOffer(stores: Stores, actor: Actor, id: number): OfferRow {
  const { id: _, programId: __, ...fields } = readOffer(stores, actor, id);
  const taken = (code: string): boolean => stores.books.offers.byCode(actor.programId, code) !== undefined;
  let n = 2;
  while (taken(`${fields.code.slice(0, 16)}-${n}`)) n += 1;
  const code = `${fields.code.slice(0, 16)}-${n}`;
  const name = `${fields.name.slice(0, 110)} (copy)`;
  const plan = stores.books.routing.planOf(id);
  return stores.books.inTransaction(() => {
    const copy = createOffer(stores, actor, { ...fields, code, name, state: 'paused' });
    const reason = `copied from ${fields.name}`;
    if (plan)
      stores.books.routing.insertPlan({
        ...{ offerId: copy.id, version: 1, plan: plan.plan, actor: actor.name, reason, time: stores.now() },
      });
    return copy;
  });
}

export function updateOffer(stores: Stores, actor: Actor, id: number, input: unknown): OfferRow {
  requireRight(stores, actor, 'manage_setup', `offer ${id}`);
  const before = readOffer(stores, actor, id);
  const fields = fieldsOf(input);
  if (fields.code !== before.code)
    throw invalidField('code', `The code ${before.code} is permanent: it stands in reports and addresses.`);
  const planned = pagesOf(stores.books.routing.planOf(id)?.plan ?? EMPTY_PLAN);
  const missed = [...planned].find((name) => !fields.landingPages.some((page) => page.name === name));
  if (missed !== undefined)
    throw invalidField('landingPages', `Routing leads to “${missed}”. Take it out of the routing of this offer first.`);
  const gone = before.landingPages.filter(({ name }) => !fields.landingPages.some((page) => page.name === name));
  const used = gone.find(({ name }) => stores.books.links.leadingTo(actor.programId, id, '', name).length > 0);
  if (used)
    throw invalidField(
      'landingPages',
      `Links lead to “${used.name}”. Lead them elsewhere first, under Links, Destinations.`,
    );
  stores.books.inTransaction(() => {
    stores.books.offers.update(id, fields);
    audit(stores, actor, 'changed', `offer ${id}`, changes(before, fields));
    // What waited for an event of this offer, or for more days, finds its partner now.
    if (fields.events.some(({ event }) => !before.events.some((each) => each.event === event)))
      matchAgain(
        stores,
        actor.programId,
        { reason: 'offer_mismatch', offerId: id },
        `an event was added to ${fields.name}`,
      );
    if (fields.clickWindowDays > before.clickWindowDays)
      matchAgain(
        stores,
        actor.programId,
        { reason: 'outside_window', offerId: id },
        `the click window of ${fields.name} is longer`,
      );
  });
  return readOffer(stores, actor, id);
}
