import type { LinkParts } from '@/core/links/parts';
import type { Db, Page, Paging } from '../database';

export interface LinkRow {
  id: number;
  programId: number;
  code: string;
  partnerId: number;
  channelId: number;
  offerId: number;
  parts: LinkParts;
  state: 'live' | 'paused';
  createdAt: number;
  partnerName: string;
  channelName: string;
  offerName: string;
}
/** What the edge needs to send a visitor on. */
export interface RouteRow {
  linkId: number;
  programId: number;
  partnerId: number;
  channelId: number;
  offerId: number;
  linkState: string;
  partnerState: string;
  offerState: string;
  partnerCode: string;
  channelCode: string;
  offerCode: string;
  landingPage: string;
  landingHosts: string;
  appended: string;
  offerFallback: string;
  programFallback: string;
  privacy: 'whole' | 'cut' | 'hash';
}
export interface LinkFilter {
  programId: number;
  partnerId: number | null;
  channelId: number | null;
  offerId: number | null;
}
type Stored = Omit<LinkRow, 'parts'> & { parts: string };

const SELECT = `SELECT l.id, l.program_id AS programId, l.code, l.partner_id AS partnerId, l.channel_id AS channelId, l.offer_id AS offerId,
    l.parts, l.state, l.created_at AS createdAt, p.name AS partnerName, c.name AS channelName, o.name AS offerName
  FROM links l JOIN partners p ON p.id = l.partner_id JOIN channels c ON c.id = l.channel_id JOIN offers o ON o.id = l.offer_id`;
const WHERE = `WHERE l.program_id = :programId AND (:partnerId IS NULL OR l.partner_id = :partnerId)
  AND (:channelId IS NULL OR l.channel_id = :channelId) AND (:offerId IS NULL OR l.offer_id = :offerId)`;
const read = (row: Stored): LinkRow => ({ ...row, parts: JSON.parse(row.parts) });

export function linkStore(db: Db) {
  type New = Pick<LinkRow, 'programId' | 'code' | 'partnerId' | 'channelId' | 'offerId' | 'parts'> & {
    createdBy: number;
    now: number;
  };
  const insert = db.prepare(
    `INSERT INTO links (program_id, code, partner_id, channel_id, offer_id, parts, state, created_by, created_at)
     VALUES (:programId, :code, :partnerId, :channelId, :offerId, :parts, 'live', :createdBy, :now)`,
  );
  const setState = db.prepare<[string, number]>('UPDATE links SET state = ? WHERE id = ?');
  const byId = db.prepare<[number], Stored>(`${SELECT} WHERE l.id = ?`);
  const byCode = db.prepare<[string], Stored>(`${SELECT} WHERE l.code = ?`);
  const list = db.prepare<LinkFilter & Paging, Stored>(
    `${SELECT} ${WHERE} ORDER BY l.id DESC LIMIT :limit OFFSET :offset`,
  );
  const count = db.prepare<LinkFilter, { total: number }>(`SELECT count(*) AS total FROM links l ${WHERE}`);
  const route = db.prepare<[string], RouteRow>(
    `SELECT l.id AS linkId, l.program_id AS programId, l.partner_id AS partnerId, l.channel_id AS channelId, l.offer_id AS offerId,
       l.state AS linkState, p.state AS partnerState, o.state AS offerState, p.code AS partnerCode, c.code AS channelCode, o.code AS offerCode,
       o.landing_page AS landingPage, o.landing_hosts AS landingHosts, o.appended, o.fallback AS offerFallback,
       g.fallback AS programFallback, g.privacy
     FROM links l JOIN partners p ON p.id = l.partner_id JOIN channels c ON c.id = l.channel_id JOIN offers o ON o.id = l.offer_id
       JOIN programs g ON g.id = l.program_id WHERE l.code = ?`,
  );
  return {
    insert: (row: New): number => Number(insert.run({ ...row, parts: JSON.stringify(row.parts) }).lastInsertRowid),
    setState: (id: number, state: 'live' | 'paused'): void => void setState.run(state, id),
    byId: (id: number): LinkRow | undefined => {
      const row = byId.get(id);
      return row && read(row);
    },
    byCode: (code: string): LinkRow | undefined => {
      const row = byCode.get(code);
      return row && read(row);
    },
    list: (filter: LinkFilter, paging: Paging): Page<LinkRow> => ({
      rows: list.all({ ...filter, ...paging }).map(read),
      total: count.get(filter)?.total ?? 0,
    }),
    route: (code: string) => route.get(code),
  };
}
