import { isbot } from 'isbot';
import type { LandingReport } from '@/core/clicks/hit';
import { type SetAsideReason, setAsideReason } from '@/core/clicks/set_aside';
import { hostCovers } from '@/core/links/destination';
import { type Arrival, readQuery } from '@/core/links/parts';
import type { ClickValues } from '@/core/placeholders/names';
import { unfilledSlots } from '@/core/placeholders/unfilled';
import { chooseDestination, isLive } from '@/core/routing/route';
import type { ClickRow } from '@/store/traffic';
import type { IdSource } from './ids';
import type { KnownLink } from './route_book';
import { type RecentVisitors, dailyVisitor, keptAddress } from './visitors';

/** A request for a link, as far as it matters. */
export interface Hit {
  readonly method: string;
  /** Query without "?". */
  readonly query: string;
  readonly cookie: string | undefined;
  readonly agent: string;
  readonly referrer: string | undefined;
  readonly language: string | undefined;
  /** Sec-Purpose, Purpose and X-Moz joined; empty when none was sent. */
  readonly purpose: string;
  /** Address of the visitor. */
  readonly client: string;
}

export interface ClickAnswer {
  readonly location: string;
  /** A new first-party visitor ID to set, when the visitor brought none. */
  readonly newVisitor: string | undefined;
  readonly click: ClickRow;
}

/** What the edge remembers and draws from while it answers. */
export interface ClickSources {
  readonly recent: RecentVisitors;
  readonly ids: IdSource;
  /** Key for visitor hashes. */
  readonly key: Buffer;
}

export const VISITOR_COOKIE = 'bv';
const readVisitor = (cookie: string | undefined): string | undefined =>
  cookie === undefined ? undefined : /(?:^|;\s*)bv=([0-9a-f]{32})(?:;|$)/.exec(cookie)?.[1];

const bots = new Map<string, boolean>();
function isBot(agent: string): boolean {
  let bot = bots.get(agent);
  if (bot === undefined) {
    if (bots.size >= 5000) bots.clear();
    bot = agent === '' || isbot(agent);
    bots.set(agent, bot);
  }
  return bot;
}

const cut = (text: string | undefined, most: number): string | null =>
  text === undefined ? null : text.slice(0, most);

interface Visit {
  readonly visitor: string;
  readonly newVisitor: string | undefined;
  readonly setAside: SetAsideReason | undefined;
  readonly unique: boolean;
}

/**
 * Who this is, whether the visit counts, and whether it is the visitor's first on the offer within the window. A
 * visitor without a cookie is known by the day's hash; its new cookie is noted along with it, so that the next click
 * is a repeat by either.
 */
function visit(hit: Hit, { row, route }: KnownLink, { recent, ids, key }: ClickSources, time: number): Visit {
  const own = readVisitor(hit.cookie);
  const newVisitor = own === undefined ? ids.visitor() : undefined;
  const visitor = own ?? dailyVisitor(key, time, hit.client, hit.agent);
  const live = isLive(route.settings, time);
  const setAside = setAsideReason({ method: hit.method, purpose: hit.purpose, bot: isBot(hit.agent), live });
  const unique =
    setAside === undefined &&
    recent.note(newVisitor === undefined ? [visitor] : [visitor, newVisitor], row.offerId, time);
  return { visitor, newVisitor, setAside, unique };
}

const joinFlags = (flags: readonly string[]): string | null => flags.filter((flag) => flag !== '').join(' ') || null;
const unfilledFlag = (slots: Arrival['slots']): string => {
  const unfilled = unfilledSlots(slots);
  return unfilled.length > 0 ? `unfilled:${unfilled.join(',')}` : '';
};

/** From a request to its answer and the click to store. No I/O: the caller makes the click durable, then sends the visitor on. */
export function answerClick(hit: Hit, link: KnownLink, sources: ClickSources, time: number): ClickAnswer {
  const { row } = link;
  const arrival = readQuery(hit.query, link.names);
  const clickId = sources.ids.ulid(time);
  const { visitor, newVisitor, setAside, unique } = visit(hit, link, sources, time);
  // Filled into the object that was just read: a copy for each click would cost more than the rest of the answer.
  const values = Object.assign<ClickValues, ClickValues, ClickValues>(arrival.slots, link.codes, { click_id: clickId });
  const choice = chooseDestination(link.route, values, arrival.to, time);
  return {
    location: choice.address,
    newVisitor,
    click: {
      clickId,
      time,
      linkId: row.linkId,
      partnerId: row.partnerId,
      channelId: row.channelId,
      offerId: row.offerId,
      programId: row.programId,
      visitor,
      isUnique: unique ? 1 : 0,
      setAside: setAside ?? null,
      flags: joinFlags([choice.toRefused === undefined ? '' : 'to_refused', unfilledFlag(arrival.slots)]),
      via: choice.via,
      address: choice.address,
      query: hit.query,
      referrer: cut(hit.referrer, 1000),
      agent: cut(hit.agent, 500),
      language: cut(hit.language, 100),
      client: keptAddress(row.privacy, hit.client, sources.key),
    },
  };
}

/**
 * The click of a landing without a redirect. Its ID was drawn by the page tag, its values stand in the query of the
 * page. A page on a host that is not one of the offer's is flagged: somebody else put the tag there.
 */
export function landingClick(
  report: LandingReport,
  hit: Hit,
  link: KnownLink,
  sources: ClickSources,
  time: number,
): ClickRow {
  const { row, route } = link;
  const page = new URL(report.page);
  const query = page.search.slice(1);
  const { slots } = readQuery(query, link.names);
  const { visitor, setAside, unique } = visit({ ...hit, cookie: undefined }, link, sources, time);
  const foreign = !route.settings.landingHosts.some((pattern) => hostCovers(pattern, page));
  return {
    clickId: report.id,
    time,
    linkId: row.linkId,
    partnerId: row.partnerId,
    channelId: row.channelId,
    offerId: row.offerId,
    programId: row.programId,
    visitor,
    isUnique: unique ? 1 : 0,
    setAside: setAside ?? null,
    flags: joinFlags([foreign ? 'foreign_page' : '', unfilledFlag(slots)]),
    via: 'page',
    address: page.href.slice(0, 4000),
    query,
    referrer: cut(report.referrer, 1000),
    agent: cut(hit.agent, 500),
    language: cut(hit.language, 100),
    client: keptAddress(row.privacy, hit.client, sources.key),
  };
}
