import { isbot } from 'isbot';
import { setAsideReason } from '@/core/clicks/set_aside';
import { readQuery } from '@/core/links/parts';
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

/**
 * From a request to its answer and the click to store. No I/O: the caller makes the click durable, then sends the
 * visitor on. A visitor without a cookie is known by the day's hash; its new cookie is noted along with it, so
 * that the next click is a repeat by either.
 */
export function answerClick(hit: Hit, link: KnownLink, { recent, ids, key }: ClickSources, time: number): ClickAnswer {
  const { row } = link;
  const arrival = readQuery(hit.query, link.names);
  const live = isLive(link.route.settings, time);
  const clickId = ids.ulid(time);
  const own = readVisitor(hit.cookie);
  const newVisitor = own === undefined ? ids.visitor() : undefined;
  const visitor = own ?? dailyVisitor(key, time, hit.client, hit.agent);
  const setAside = setAsideReason({ method: hit.method, purpose: hit.purpose, bot: isBot(hit.agent), live });
  const unique =
    setAside === undefined &&
    recent.note(newVisitor === undefined ? [visitor] : [visitor, newVisitor], row.offerId, time);
  const values = { ...link.codes, ...arrival.slots, click_id: clickId };
  const choice = chooseDestination(link.route, values, arrival.to, time);
  const unfilled = unfilledSlots(arrival.slots);
  const flags = [
    choice.toRefused === undefined ? '' : 'to_refused',
    unfilled.length > 0 ? `unfilled:${unfilled.join(',')}` : '',
  ];
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
      flags: flags.filter((flag) => flag !== '').join(' ') || null,
      via: choice.via,
      address: choice.address,
      query: hit.query,
      referrer: cut(hit.referrer, 1000),
      agent: cut(hit.agent, 500),
      language: cut(hit.language, 100),
      client: keptAddress(row.privacy, hit.client, key),
    },
  };
}
