import type { LinkKind, LinkParts } from '@/core/links/parts';
import type { Labels, Utm } from '@/core/links/schema';
import type { LandingPage } from '@/core/offers/schema';
import type { Statement } from 'better-sqlite3';
import type { Db, Page, Paging } from '../database';

export interface LinkRow {
  id: number;
  programId: number;
  code: string;
  alias: string | null;
  kind: LinkKind;
  partnerId: number;
  channelId: number;
  offerId: number;
  sourceId: number | null;
  /** As it was issued. */
  parts: LinkParts;
  /** Name of the offer's landing page, for links without a page of their own. */
  landing: string;
  /** Where it leads now; empty for the landing page. */
  destination: string;
  labels: Labels;
  utm: Utm;
  utmForm: 'short' | 'long';
  state: 'live' | 'paused';
  createdAt: number;
  partnerName: string;
  partnerCode: string;
  channelName: string;
  channelCode: string;
  offerName: string;
  offerCode: string;
}
/** What the edge needs to send a visitor on. */
export interface RouteRow {
  linkId: number;
  programId: number;
  code: string;
  kind: LinkKind;
  partnerId: number;
  channelId: number;
  offerId: number;
  linkState: string;
  partnerState: string;
  offerState: string;
  partnerCode: string;
  channelCode: string;
  offerCode: string;
  startsOn: string;
  endsOn: string;
  timeZone: string;
  landing: string;
  landingPages: LandingPage[];
  landingHosts: string[];
  trackingOrigin: string;
  otherOrigins: string[];
  appended: string;
  parts: LinkParts;
  destination: string;
  utm: Utm;
  utmForm: 'short' | 'long';
  offerFallback: string;
  programFallback: string;
  privacy: 'whole' | 'cut' | 'hash';
  sourceId: number | null;
  hideReferrer: number;
  uniqueHours: number;
  floodMost: number;
}
export interface LinkFilter {
  programId: number;
  partnerId: number | null;
  channelId: number | null;
  offerId: number | null;
  /** Part of a code, alias, page or label; empty for all. */
  text: string;
}
export interface DestinationChange {
  time: number;
  actor: string;
  destination: string;
  landing: string;
  reason: string;
}
/** What was in the first link of the same identity, for what is issued many at once. */
export interface Standing {
  id: number;
  code: string;
}
/** Links that lead to one page, by whether they follow when it is changed. */
export interface DestinationRow {
  offerId: number;
  offerName: string;
  destination: string;
  landing: string;
  links: number;
  /** Links without a redirect: they carry the page in themselves. */
  fixed: number;
  checkedAt: number | null;
  status: number | null;
  problem: string | null;
  failingSince: number | null;
}

type Stored = Omit<LinkRow, 'parts' | 'labels' | 'utm'> & { parts: string; labels: string; utm: string };
type StoredRoute = Omit<RouteRow, 'parts' | 'utm' | 'landingPages' | 'landingHosts' | 'otherOrigins'> &
  Record<'parts' | 'utm' | 'landingPages' | 'landingHosts' | 'otherOrigins', string>;
export type NewLink = Omit<
  LinkRow,
  | 'id'
  | 'state'
  | 'createdAt'
  | 'partnerName'
  | 'partnerCode'
  | 'channelName'
  | 'channelCode'
  | 'offerName'
  | 'offerCode'
> & {
  identity: string;
  createdBy: number;
  now: number;
};

const SELECT = `SELECT l.id, l.program_id AS programId, l.code, l.alias, l.kind, l.partner_id AS partnerId, l.channel_id AS channelId,
    l.offer_id AS offerId, l.source_id AS sourceId, l.parts, l.landing, l.destination, l.labels, l.utm, l.utm_form AS utmForm, l.state,
    l.created_at AS createdAt, p.name AS partnerName, p.code AS partnerCode, c.name AS channelName, c.code AS channelCode, o.name AS offerName, o.code AS offerCode
  FROM links l JOIN partners p ON p.id = l.partner_id JOIN channels c ON c.id = l.channel_id JOIN offers o ON o.id = l.offer_id`;
/** What narrows a list, by the part of the filter that asks for it: only what is asked for, so that an index serves it. */
const NARROWED = {
  partnerId: 'AND l.partner_id = :partnerId',
  channelId: 'AND l.channel_id = :channelId',
  offerId: 'AND l.offer_id = :offerId',
  text: 'AND instr(l.find, :text)',
} as const;
function whereOf(filter: LinkFilter): string {
  const asked = (Object.keys(NARROWED) as (keyof typeof NARROWED)[]).filter(
    (name) => filter[name] !== null && filter[name] !== '',
  );
  // The sign keeps the planner from walking the whole program where something narrower is asked for.
  const program = filter.partnerId === null && filter.channelId === null ? 'l.program_id' : '+l.program_id';
  return [`WHERE ${program} = :programId`, ...asked.map((name) => NARROWED[name])].join(' ');
}
const ROUTE = `SELECT l.id AS linkId, l.program_id AS programId, l.code, l.kind, l.partner_id AS partnerId, l.channel_id AS channelId,
    l.offer_id AS offerId, l.state AS linkState, p.state AS partnerState, o.state AS offerState, p.code AS partnerCode, c.code AS channelCode,
    o.code AS offerCode, o.starts_on AS startsOn, o.ends_on AS endsOn, g.time_zone AS timeZone, l.landing, o.landing_pages AS landingPages,
    o.landing_hosts AS landingHosts, g.tracking_origin AS trackingOrigin, g.other_origins AS otherOrigins, o.appended, l.parts, l.destination, l.utm, l.utm_form AS utmForm, o.fallback AS offerFallback,
    g.fallback AS programFallback, g.privacy, l.source_id AS sourceId, o.hide_referrer AS hideReferrer, g.unique_hours AS uniqueHours,
    g.flood_most AS floodMost
  FROM links l JOIN partners p ON p.id = l.partner_id JOIN channels c ON c.id = l.channel_id JOIN offers o ON o.id = l.offer_id
    JOIN programs g ON g.id = l.program_id`;
const read = (row: Stored): LinkRow => ({
  ...row,
  parts: JSON.parse(row.parts),
  labels: JSON.parse(row.labels),
  utm: JSON.parse(row.utm),
});
const readRoute = (row: StoredRoute): RouteRow => ({
  ...row,
  parts: JSON.parse(row.parts),
  utm: JSON.parse(row.utm),
  landingPages: JSON.parse(row.landingPages),
  landingHosts: JSON.parse(row.landingHosts),
  otherOrigins: JSON.parse(row.otherOrigins),
});

export function linkStore(db: Db) {
  const insert = db.prepare(
    `INSERT INTO links (program_id, code, alias, kind, partner_id, channel_id, offer_id, source_id, parts, landing, destination, labels, utm, utm_form,
       identity, state, created_by, created_at)
     VALUES (:programId, :code, :alias, :kind, :partnerId, :channelId, :offerId, :sourceId, :parts, :landing, :destination, :labels, :utm, :utmForm,
       :identity, 'live', :createdBy, :now)`,
  );
  const setState = db.prepare<[string, number]>('UPDATE links SET state = ? WHERE id = ?');
  const setAlias = db.prepare<[string, number]>('UPDATE links SET alias = ? WHERE id = ? AND alias IS NULL');
  const setLabels = db.prepare<[string, number]>('UPDATE links SET labels = ? WHERE id = ?');
  const setDestination = db.prepare<[string, string, number]>(
    'UPDATE links SET destination = ?, landing = ? WHERE id = ?',
  );
  const byId = db.prepare<[number], Stored>(`${SELECT} WHERE l.id = ?`);
  const byCode = db.prepare<[string], Stored>(`${SELECT} WHERE l.code = ?`);
  const byAlias = db.prepare<[string], Stored>(`${SELECT} WHERE l.alias = ?`);
  const prepared = new Map<string, Statement>();
  const prepare = <T>(sql: string): Statement<[object], T> => {
    const known = prepared.get(sql) ?? db.prepare(sql);
    prepared.set(sql, known);
    return known as Statement<[object], T>;
  };
  const count = (filter: LinkFilter): number =>
    prepare<{ total: number }>(`SELECT count(*) AS total FROM links l ${whereOf(filter)}`).get({
      ...filter,
      text: filter.text.toLowerCase(),
    })?.total ?? 0;
  const listAll = (filter: LinkFilter, paging: Paging): Page<LinkRow> => ({
    rows: prepare<Stored>(`${SELECT} ${whereOf(filter)} ORDER BY l.id DESC LIMIT :limit OFFSET :offset`)
      .all({ ...filter, ...paging })
      .map(read),
    total: count(filter),
  });
  const byIds = db.prepare<[string], Stored>(
    `${SELECT} WHERE l.id IN (SELECT value FROM json_each(?)) ORDER BY l.id DESC`,
  );
  /** The texts are walked once, in their own index; then only the page is read. */
  const find = (filter: LinkFilter, { limit, offset }: Paging): Page<LinkRow> => {
    const { partnerId, channelId, offerId } = filter;
    const indexed = partnerId === null && channelId === null && offerId === null ? 'INDEXED BY links_by_text' : '';
    const found = prepare<{ id: number }>(`SELECT l.id FROM links l ${indexed} ${whereOf(filter)}`)
      .all({ ...filter, text: filter.text.toLowerCase() })
      .map(({ id }) => id)
      .sort((x, y) => y - x);
    const page = found.slice(offset, offset + limit);
    return { rows: byIds.all(JSON.stringify(page)).map(read), total: found.length };
  };
  const routeByCode = db.prepare<[string], StoredRoute>(`${ROUTE} WHERE l.code = ?`);
  const routeByAlias = db.prepare<[string], StoredRoute>(`${ROUTE} WHERE l.alias = ?`);
  const standing = db.prepare<[number, string], Standing>(
    'SELECT id, code FROM links WHERE program_id = ? AND identity = ? ORDER BY id LIMIT 1',
  );
  const ofChannel = db.prepare<[number, number, string], Stored>(
    `${SELECT} WHERE l.channel_id = ? AND +l.offer_id = ? AND +l.destination = ? AND l.kind = 'referral' AND l.source_id IS NULL AND l.state = 'live' ORDER BY l.id LIMIT 1`,
  );

  const noteDestination = db.prepare<DestinationChange & { linkId: number }>(
    `INSERT INTO link_destinations (link_id, time, actor, destination, landing, reason)
     VALUES (:linkId, :time, :actor, :destination, :landing, :reason)`,
  );
  const destinationHistory = db.prepare<[number], DestinationChange>(
    'SELECT time, actor, destination, landing, reason FROM link_destinations WHERE link_id = ? ORDER BY id DESC',
  );
  const leadingTo = db.prepare<
    [number, number, string, string],
    { id: number; code: string; kind: LinkKind; partnerName: string }
  >(
    `SELECT l.id, l.code, l.kind, p.name AS partnerName FROM links l JOIN partners p ON p.id = l.partner_id
     WHERE l.program_id = ? AND l.offer_id = ? AND l.destination = ? AND l.landing = ? ORDER BY l.id`,
  );
  const destinations = db.prepare<{ programId: number; text: string; failing: number } & Paging, DestinationRow>(
    `SELECT d.*, o.name AS offerName, k.checked_at AS checkedAt, k.status, k.problem, k.failing_since AS failingSince
     FROM (SELECT program_id AS programId, offer_id AS offerId, destination, landing, count(*) AS links, sum(kind IN ('direct', 'manual')) AS fixed
       FROM links INDEXED BY links_by_destination WHERE program_id = :programId AND (:text = '' OR instr(lower(destination), :text)) GROUP BY offer_id, destination, landing) d
     JOIN offers o ON o.id = d.offerId
     LEFT JOIN destination_checks k ON k.program_id = d.programId
       AND k.address = CASE WHEN d.destination <> '' THEN d.destination ELSE ${"coalesce((SELECT json_extract(value, '$.address') FROM json_each(o.landing_pages) WHERE json_extract(value, '$.name') = d.landing), json_extract(o.landing_pages, '$[0].address'))"} END
     WHERE :failing = 0 OR k.failing_since IS NOT NULL
     ORDER BY k.failing_since IS NULL, d.links DESC, d.destination LIMIT :limit OFFSET :offset`,
  );
  const one = (row: Stored | undefined): LinkRow | undefined => row && read(row);
  return {
    insert: (row: NewLink): number =>
      Number(
        insert.run({
          ...row,
          parts: JSON.stringify(row.parts),
          labels: JSON.stringify(row.labels),
          utm: JSON.stringify(row.utm),
        }).lastInsertRowid,
      ),
    setState: (id: number, state: 'live' | 'paused'): void => void setState.run(state, id),
    /** @returns false when the link has an alias already */
    setAlias: (id: number, alias: string): boolean => setAlias.run(alias, id).changes === 1,
    setLabels: (id: number, labels: Labels): void => void setLabels.run(JSON.stringify(labels), id),
    setDestination(id: number, change: DestinationChange): void {
      setDestination.run(change.destination, change.landing, id);
      noteDestination.run({ ...change, linkId: id });
    },
    destinationHistory: (id: number) => destinationHistory.all(id),
    /** Links that lead to one page; an empty destination is the landing page of that name. */
    leadingTo: (programId: number, offerId: number, destination: string, landing: string) =>
      leadingTo.all(programId, offerId, destination, landing),
    destinations: (programId: number, text: string, failing: boolean, paging: Paging): DestinationRow[] =>
      destinations.all({ programId, text: text.toLowerCase(), failing: failing ? 1 : 0, ...paging }),
    byId: (id: number) => one(byId.get(id)),
    byCode: (code: string) => one(byCode.get(code)),
    byAlias: (alias: string) => one(byAlias.get(alias)),
    ofChannel: (channelId: number, offerId: number, destination: string) =>
      one(ofChannel.get(channelId, offerId, destination)),
    standing: (programId: number, identity: string) => standing.get(programId, identity),
    count,
    list: (filter: LinkFilter, paging: Paging): Page<LinkRow> => (filter.text === '' ? listAll : find)(filter, paging),
    route: (code: string): RouteRow | undefined => {
      const row = routeByCode.get(code);
      return row && readRoute(row);
    },
    routeByAlias: (alias: string): RouteRow | undefined => {
      const row = routeByAlias.get(alias);
      return row && readRoute(row);
    },
  };
}
