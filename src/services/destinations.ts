import Joi from 'joi';
import { redirects } from '@/core/links/parts';
import { landingPageOf } from '@/core/offers/schema';
import { id, line } from '@/core/schema/fields';
import { check } from '@/core/schema/problems';
import type { DestinationRow } from '@/store/books/links';
import type { Paging } from '@/store/database';
import { type Actor, requireRight } from './actor';
import { type ChainHop, type ChainOptions, followChain } from './chain';
import { checkedDestination, leadElsewhere, newDestinationSchema } from './links';
import { readOffer } from './offers';
import { checked } from './programs';
import { conflict } from './refusal';
import type { Stores } from './stores';

export interface ListedDestination extends DestinationRow {
  /** The page itself: its own, or the landing page it names. */
  address: string;
}

/** Every page links lead to, the failing ones first. */
export function listDestinations(
  stores: Stores,
  actor: Actor,
  { text = '', failing = false }: { text?: string; failing?: boolean },
  { limit, offset }: Paging,
): { rows: ListedDestination[]; more: boolean } {
  requireRight(stores, actor, 'look', 'destinations');
  if (actor.partnerId !== null) return { rows: [], more: false };
  const rows = stores.books.links.destinations(actor.programId, text, failing, { limit: limit + 1, offset });
  const offers = new Map(stores.books.offers.ofProgram(actor.programId).map((offer) => [offer.id, offer]));
  return {
    rows: rows.slice(0, limit).map((row) => {
      const offer = offers.get(row.offerId);
      return { ...row, address: row.destination || (offer ? landingPageOf(offer, row.landing) : '') };
    }),
    more: rows.length > limit,
  };
}

export interface ChangeMany {
  offerId: number;
  /** Where the links lead now. */
  from: string;
  fromLanding: string;
  to: string;
  landing: string;
  reason: string;
}
export const changeManySchema = Joi.object<ChangeMany>({
  offerId: id('Offer').required(),
  from: Joi.string().trim().max(2000).allow('').required().label('Page'),
  fromLanding: line('Landing page', 80).allow('').default(''),
}).concat(newDestinationSchema as never);

/** Leads every link of one page elsewhere. Links without a redirect carry the page in themselves and are named. */
export function changeDestinations(
  stores: Stores,
  actor: Actor,
  input: unknown,
): { changed: number; cannot: string[] } {
  requireRight(stores, actor, 'issue_links', 'destinations');
  const { offerId, from, fromLanding, ...change } = checked(check(changeManySchema, input));
  readOffer(stores, actor, offerId);
  const target = checkedDestination(stores, actor, offerId, change);
  if (target.to === from && target.landing === fromLanding) throw conflict('They lead there already.');
  const all = stores.books.links
    .leadingTo(actor.programId, offerId, from, fromLanding)
    .filter(
      ({ id: linkId }) => actor.partnerId === null || stores.books.links.byId(linkId)?.partnerId === actor.partnerId,
    );
  const following = all.filter(({ kind }) => redirects(kind));
  stores.books.inTransaction(() => {
    for (const { id: linkId } of following) leadElsewhere(stores, actor, linkId, target);
  });
  return { changed: following.length, cannot: all.filter(({ kind }) => !redirects(kind)).map(({ code }) => code) };
}

/** Codes of the links of a page that cannot follow, with whose they are. */
export const fixedLinks = (stores: Stores, actor: Actor, offerId: number, destination: string, landing: string) =>
  stores.books.links.leadingTo(actor.programId, offerId, destination, landing).filter(({ kind }) => !redirects(kind));

/** Follows a page over the network for somebody who asks, and keeps what came of it. */
export async function checkPage(
  stores: Stores,
  actor: Actor,
  address: string,
  options: ChainOptions,
): Promise<ChainHop[]> {
  requireRight(stores, actor, 'issue_links', 'chain');
  return followChain(address, options);
}

const CHECK_EVERY_MS = 24 * 3_600_000;
const FAILING_EVERY_MS = 3_600_000;
const AT_ONCE = 5;

/**
 * Looks at pages that were not looked at for a day, a few at a time. Called on a timetable.
 * @returns how many were looked at
 */
export async function checkDestinations(stores: Stores, programId: number, options: ChainOptions): Promise<number> {
  const now = stores.now();
  const stale = stores.books.destinations.stale(programId, now - CHECK_EVERY_MS, AT_ONCE);
  const failing = stores.books.destinations
    .failing(programId)
    .filter(({ checkedAt }) => checkedAt < now - FAILING_EVERY_MS)
    .map(({ address }) => address)
    .slice(0, AT_ONCE);
  const addresses = [...new Set([...stale, ...failing])];
  await Promise.all(
    addresses.map(async (address) => {
      const last = (await followChain(address, options)).at(-1);
      const told = { status: last?.status ?? null, problem: last?.problem ?? '' };
      stores.books.destinations.put({ programId, address, now: stores.now(), ...told });
    }),
  );
  return addresses.length;
}
