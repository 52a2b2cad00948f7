import { isbot } from 'isbot';
import type { LandingReport } from '@/core/clicks/hit';
import { firstLanguage, machineOf } from '@/core/clicks/machine';
import { type SetAsideReason, setAsideReason } from '@/core/clicks/set_aside';
import { hostCovers } from '@/core/links/destination';
import { type Arrival, readQuery } from '@/core/links/parts';
import type { ClickValues } from '@/core/placeholders/names';
import { unfilledSlots } from '@/core/placeholders/unfilled';
import type { Visitor } from '@/core/routing/conditions';
import { chooseDestination, isLive } from '@/core/routing/route';
import { bucketOf } from '@/core/routing/weights';
import { wallClock } from '@/core/time/zones';
import type { ClickRow } from '@/store/traffic';
import type { CapBook } from './caps';
import type { IdSource } from './ids';
import type { ListBook } from './list_book';
import type { KnownLink } from './route_book';
import { type FloodWatch, type RecentVisitors, dailyVisitor, keptAddress } from './visitors';

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
  /** The request's own headers tell of a proxy. */
  readonly proxied: boolean;
}

export interface ClickAnswer {
  readonly location: string;
  /** A new first-party visitor ID to set, when the visitor brought none. */
  readonly newVisitor: string | undefined;
  readonly click: ClickRow;
  /** The day on which it counts for the offer's caps; undefined when it was not let through. */
  readonly through: string | undefined;
}

/** What the edge remembers and draws from while it answers. */
export interface ClickSources {
  readonly recent: RecentVisitors;
  readonly floods: FloodWatch;
  readonly caps: CapBook;
  readonly lists: ListBook;
  readonly ids: IdSource;
  /** Key for visitor hashes. */
  readonly key: Buffer;
  countryOf(address: string): string;
}

export const VISITOR_COOKIE = 'bv';
const HOUR_MS = 3_600_000;
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

/** Who this is, and whether the visit counts. A class, so that a click makes one object and no functions. */
class Visit implements Visitor {
  readonly bucket: number;
  /** What was asked for and has to be kept, because the address alone will not tell it later. */
  askedCountry: string | null = null;

  constructor(
    readonly id: string,
    readonly newVisitor: string | undefined,
    readonly setAside: SetAsideReason | undefined,
    private readonly hit: Hit,
    private readonly countryOf: (address: string) => string,
  ) {
    this.bucket = bucketOf(id);
  }

  /** All IDs by which the visitor is known from now on. */
  get ids(): readonly string[] {
    return this.newVisitor === undefined ? [this.id] : [this.id, this.newVisitor];
  }
  country(): string {
    return (this.askedCountry ??= this.countryOf(this.hit.client));
  }
  device(): string {
    return machineOf(this.hit.agent).device;
  }
  os(): string {
    return machineOf(this.hit.agent).os;
  }
  language(): string {
    return firstLanguage(this.hit.language);
  }
}

/**
 * A visitor without a cookie is known by the day's hash. The ID it is given begins with the same 32 bits, by which
 * pages are dealt out: with the cookie or without, it sees the same page.
 */
function visit(hit: Hit, { row, route }: KnownLink, sources: ClickSources, time: number): Visit {
  const own = readVisitor(hit.cookie);
  const id = own ?? dailyVisitor(sources.key, time, hit.client, hit.agent);
  const newVisitor = own === undefined ? id.slice(0, 8) + sources.ids.visitor().slice(8) : undefined;
  const setAside = setAsideReason({
    method: hit.method,
    purpose: hit.purpose,
    bot: isBot(hit.agent),
    listed: sources.lists.isListed(row.programId, hit.client),
    flood: row.floodMost > 0 && sources.floods.note(hit.client, row.linkId, time) > row.floodMost,
    live: isLive(route.settings, time),
  });
  const who = new Visit(id, newVisitor, setAside, hit, sources.countryOf);
  if (row.privacy === 'hash') who.country();
  return who;
}

const isFirst = ({ setAside, ids }: Visit, { row }: KnownLink, { recent }: ClickSources, time: number): boolean =>
  setAside === undefined && recent.note(ids, row.offerId, time, row.uniqueHours * HOUR_MS);

/** Flags as one text, nearly always none. */
function joinFlags(...flags: [string, string, string, string]): string | null {
  let all = '';
  for (const flag of flags) if (flag !== '') all += all === '' ? flag : ` ${flag}`;
  return all === '' ? null : all;
}
const unfilledFlag = (slots: Arrival['slots']): string => {
  const unfilled = unfilledSlots(slots);
  return unfilled.length > 0 ? `unfilled:${unfilled.join(',')}` : '';
};
const proxyFlag = ({ client, proxied }: Hit, { row }: KnownLink, { lists }: ClickSources): string =>
  proxied || lists.isProxy(row.programId, client) ? 'proxy' : '';

/** What a redirect and a landing without one have in common. */
function clickRow(
  hit: Hit,
  { row }: KnownLink,
  who: Visit,
  { key }: ClickSources,
  own: Pick<
    ClickRow,
    'clickId' | 'time' | 'isUnique' | 'flags' | 'via' | 'address' | 'query' | 'referrer' | 'rule' | 'page'
  >,
): ClickRow {
  return {
    clickId: own.clickId,
    time: own.time,
    linkId: row.linkId,
    partnerId: row.partnerId,
    channelId: row.channelId,
    offerId: row.offerId,
    programId: row.programId,
    visitor: who.id,
    isUnique: own.isUnique,
    setAside: who.setAside ?? null,
    flags: own.flags,
    via: own.via,
    address: own.address,
    query: own.query,
    referrer: own.referrer,
    agent: cut(hit.agent, 500),
    language: cut(hit.language, 100),
    client: keptAddress(row.privacy, hit.client, key),
    country: who.askedCountry,
    rule: own.rule,
    page: own.page,
  };
}

/** From a request to its answer and the click to store. No I/O: the caller makes the click durable, then sends the visitor on. */
export function answerClick(hit: Hit, link: KnownLink, sources: ClickSources, time: number): ClickAnswer {
  const { row, route } = link;
  const { recent, caps } = sources;
  const arrival = readQuery(hit.query, link.names);
  const clickId = sources.ids.ulid(time);
  const who = visit(hit, link, sources, time);
  const { day } = wallClock(time, row.timeZone);
  const { plan } = route.settings.routing ?? {};
  const capped =
    plan !== undefined &&
    (caps.reached(row.offerId, plan.caps, day, time) ||
      (plan.visitorMost > 0 && recent.clicksOf(who.id, row.offerId, time) >= plan.visitorMost));
  // Filled into the object that was just read: a copy for each click would cost more than the rest of the answer.
  const values = Object.assign<ClickValues, ClickValues, ClickValues>(arrival.slots, link.codes, { click_id: clickId });
  if (link.asksCountry) Object.assign(values, { country: who.country() });
  if (link.asksDevice) Object.assign(values, { device: who.device() });
  const choice = chooseDestination(route, { values, to: arrival.to, now: time, visitor: who, capped });
  const through = who.setAside === undefined && choice.via !== 'overflow' && choice.via !== 'fallback';
  if (through) caps.note(row.offerId, day);
  if (through && plan && plan.visitorMost > 0) recent.notePress(who.ids, row.offerId, time);
  return {
    location: choice.address,
    newVisitor: who.newVisitor,
    through: through ? day : undefined,
    click: clickRow(hit, link, who, sources, {
      clickId,
      time,
      isUnique: isFirst(who, link, sources, time) ? 1 : 0,
      flags: joinFlags(
        choice.toRefused === undefined ? '' : 'to_refused',
        capped ? 'capped' : '',
        proxyFlag(hit, link, sources),
        unfilledFlag(arrival.slots),
      ),
      via: choice.via,
      address: choice.address,
      query: hit.query,
      referrer: cut(hit.referrer, 1000),
      rule: choice.rule ?? null,
      page: choice.page ?? null,
    }),
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
  const page = new URL(report.page);
  const query = page.search.slice(1);
  const who = visit({ ...hit, cookie: undefined }, link, sources, time);
  const foreign = !link.route.settings.landingHosts.some((pattern) => hostCovers(pattern, page));
  return clickRow(hit, link, who, sources, {
    clickId: report.id,
    time,
    isUnique: isFirst(who, link, sources, time) ? 1 : 0,
    flags: joinFlags(
      foreign ? 'foreign_page' : '',
      '',
      proxyFlag(hit, link, sources),
      unfilledFlag(readQuery(query, link.names).slots),
    ),
    via: 'page',
    address: page.href.slice(0, 4000),
    query,
    referrer: cut(report.referrer, 1000),
    rule: null,
    page: null,
  });
}
