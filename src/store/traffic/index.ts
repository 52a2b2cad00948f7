import type { Statement } from 'better-sqlite3';
import { dataVersion, type Db, openForReading, openForWriting } from '../database';

export interface ClickRow {
  clickId: string;
  time: number;
  linkId: number;
  partnerId: number;
  channelId: number;
  offerId: number;
  programId: number;
  visitor: string;
  isUnique: 0 | 1;
  setAside: string | null;
  flags: string | null;
  /** How the destination was chosen, and the address the visitor was sent to. */
  via: string;
  address: string;
  /** The query as it arrived: sub-IDs, one-off values, cost and deep link are read from it. */
  query: string;
  referrer: string | null;
  agent: string | null;
  language: string | null;
  client: string | null;
  /** Only where the edge had to know it; else it is read from the address later. */
  country: string | null;
  /** The routing rule that took the visitor, and the landing page that was dealt. */
  rule: string | null;
  page: string | null;
}
export interface StoredClick extends ClickRow {
  seq: number;
}
/** A click as far as reports know it. */
export type RolledClick = Omit<StoredClick, 'clickId' | 'visitor' | 'address'>;
/** A click as far as conversions look at it. */
export type MatchableClick = Pick<
  ClickRow,
  'clickId' | 'programId' | 'offerId' | 'partnerId' | 'channelId' | 'linkId' | 'time' | 'setAside'
>;
/** A click as far as rules on addresses look at it. */
export type AddressedClick = Pick<ClickRow, 'time' | 'linkId' | 'partnerId' | 'clickId' | 'client'>;
export interface PostbackRow {
  receiptId: string;
  time: number;
  programId: number;
  method: string;
  contentType: string | null;
  query: string;
  body: string;
  client: string | null;
  via: 'server' | 'tag' | 'pixel';
  about: 'conversion' | 'call';
}
/** The page tag saw a visitor come with a click. */
export interface VisitRow {
  visitor: string;
  clickId: string;
  time: number;
}
/** A telephone number that a visit is shown, for as long as nobody else is. */
export interface LeaseRow {
  numberId: number;
  clickId: string;
  fromTime: number;
  uptoTime: number;
}
export interface StoredPostback extends PostbackRow {
  seq: number;
}

const CLICK = `SELECT seq, click_id AS clickId, time, link_id AS linkId, partner_id AS partnerId, channel_id AS channelId, offer_id AS offerId,
  program_id AS programId, visitor, is_unique AS isUnique, set_aside AS setAside, flags, via, address, query, referrer, agent, language, client,
  country, rule, page FROM clicks`;
const POSTBACK = `SELECT seq, receipt_id AS receiptId, time, program_id AS programId, method, content_type AS contentType, query, body, client, via, about FROM postbacks`;

const TO_MATCH = `c.click_id AS clickId, c.program_id AS programId, c.offer_id AS offerId, c.partner_id AS partnerId, c.channel_id AS channelId,
  c.link_id AS linkId, c.time, c.set_aside AS setAside`;
const LEASE =
  'SELECT number_id AS numberId, click_id AS clickId, from_time AS fromTime, upto_time AS uptoTime FROM number_leases';

function reading(db: Db) {
  const click = db.prepare<[string], StoredClick>(`${CLICK} WHERE click_id = ?`);
  const toMatch = db.prepare<[string], MatchableClick>(`SELECT ${TO_MATCH} FROM clicks c WHERE c.click_id = ?`);
  const ofVisitor = db.prepare<[string, number], MatchableClick>(
    `SELECT ${TO_MATCH} FROM visits v JOIN clicks c ON c.click_id = v.click_id WHERE v.visitor = ? ORDER BY c.time DESC, c.seq DESC LIMIT ?`,
  );
  const leases = db.prepare<[number, number], LeaseRow>(
    `${LEASE} WHERE number_id = ? AND from_time <= ? ORDER BY seq DESC LIMIT 20`,
  );
  const leasesSince = db.prepare<[number], LeaseRow>(`${LEASE} WHERE upto_time > ? ORDER BY seq`);
  const clicksAfter = db.prepare<[number, number], StoredClick>(`${CLICK} WHERE seq > ? ORDER BY seq LIMIT ?`);
  const toRoll = db.prepare<[number, number], RolledClick>(
    `SELECT seq, time, link_id AS linkId, partner_id AS partnerId, channel_id AS channelId, offer_id AS offerId, program_id AS programId,
       is_unique AS isUnique, set_aside AS setAside, flags, via, query, referrer, agent, language, client, country, rule, page
     FROM clicks WHERE seq > ? ORDER BY seq LIMIT ?`,
  );
  const addresses = db.prepare<[number, number], AddressedClick>(
    `SELECT time, link_id AS linkId, partner_id AS partnerId, click_id AS clickId, client FROM clicks
     WHERE seq >= ? AND program_id = ? AND set_aside IS NULL ORDER BY seq`,
  );
  const bySeq = db.prepare<[number], StoredClick>(`${CLICK} WHERE seq = ?`);
  const lately = db.prepare<[], Pick<StoredClick, 'visitor' | 'offerId' | 'time' | 'setAside' | 'via'>>(
    'SELECT visitor, offer_id AS offerId, time, set_aside AS setAside, via FROM clicks ORDER BY seq DESC',
  );
  const postback = db.prepare<[string], StoredPostback>(`${POSTBACK} WHERE receipt_id = ?`);
  const newestOf = db.prepare<[number], Pick<StoredClick, 'clickId' | 'offerId' | 'setAside'>>(
    'SELECT click_id AS clickId, offer_id AS offerId, set_aside AS setAside FROM clicks WHERE program_id = ? ORDER BY seq DESC LIMIT 5000',
  );
  const newestPostbacks = db.prepare<[number, number], StoredPostback>(
    `${POSTBACK} WHERE program_id = ? ORDER BY seq DESC LIMIT ?`,
  );
  const postbacksAfter = db.prepare<[number, number], StoredPostback>(`${POSTBACK} WHERE seq > ? ORDER BY seq LIMIT ?`);
  const offerDays = db.prepare<[number], { day: string; count: number }>(
    'SELECT day, clicks AS count FROM offer_days WHERE offer_id = ?',
  );
  const ends = db.prepare<[], { clicks: number; postbacks: number; unknownCodes: number }>(
    `SELECT (SELECT coalesce(max(seq), 0) FROM clicks) AS clicks, (SELECT coalesce(max(seq), 0) FROM postbacks) AS postbacks,
       (SELECT coalesce(sum(hits), 0) FROM unknown_codes) AS unknownCodes`,
  );
  return {
    db,
    version: dataVersion(db),
    click: (clickId: string) => click.get(clickId),
    /** The same, without what is only looked at. */
    clickToMatch: (clickId: string) => toMatch.get(clickId),
    /** What the page tag saw a visitor come with: the newest, oldest of them first. */
    clicksOfVisitor: (visitor: string, most: number) => ofVisitor.all(visitor, most).reverse(),
    /** Who a number was shown to at a time or before, newest first. */
    leasesOf: (numberId: number, time: number) => leases.all(numberId, time),
    /** Leases that end after a time. */
    leasesSince: (time: number) => leasesSince.all(time),
    clickBySeq: (seq: number) => bySeq.get(seq),
    clicksAfter: (seq: number, limit: number) => clicksAfter.all(seq, limit),
    /** The same, without what reports do not have: IDs of click and visitor, and the address. */
    clicksToRoll: (seq: number, limit: number) => toRoll.all(seq, limit),
    /** Newest first, as long as the reader wants: for the edge's memory of recent visitors. */
    newestClicks: () => lately.iterate(),
    /** Clicks let through to an offer's pages, by day. */
    offerDays: (offerId: number) => offerDays.all(offerId),
    /** Counted clicks of a program from a number on, as far as rules on addresses look at them. */
    addressesFrom: (seq: number, programId: number) => addresses.iterate(seq, programId),
    postback: (receiptId: string) => postback.get(receiptId),
    /** A program's newest clicks, newest first. */
    newestOf: (programId: number) => newestOf.iterate(programId),
    /** Newest first. */
    newestPostbacks: (programId: number, limit: number) => newestPostbacks.all(programId, limit),
    postbacksAfter: (seq: number, limit: number) => postbacksAfter.all(seq, limit),
    ends: () => ends.get() ?? { clicks: 0, postbacks: 0, unknownCodes: 0 },
  };
}

const CLICK_COLUMNS =
  'click_id, time, link_id, partner_id, channel_id, offer_id, program_id, visitor, is_unique, set_aside, flags, via, address, query, referrer, agent, language, client, country, rule, page';
const CLICK_WIDTH = CLICK_COLUMNS.split(',').length;
/** Rows behind one another, each in the order of the columns: a list of lists would cost more to hand to a thread. */
type ClickValues = (string | number | null)[];
export function pushClick(values: ClickValues, c: ClickRow): void {
  const { clickId, time, linkId, partnerId, channelId, offerId, programId, visitor, isUnique } = c;
  const { setAside, flags, via, address, query, referrer, agent, language, client, country, rule, page } = c;
  // prettier-ignore
  values.push(clickId, time, linkId, partnerId, channelId, offerId, programId, visitor, isUnique, setAside, flags, via, address, query, referrer, agent, language, client, country, rule, page);
}

/** What the edge makes durable in one commit. */
export interface Arrivals {
  clicks: ClickValues;
  landings: ClickValues;
  postbacks: PostbackRow[];
  visits: VisitRow[];
  leases: LeaseRow[];
  /** Requests for codes that do not exist, and the UTC day they are counted on. */
  unknownCodes: number;
  day: string;
  /** Clicks let through to each offer's pages, by day of its program. */
  through: { offerId: number; day: string; clicks: number }[];
}
export const noArrivals = (): Arrivals => ({
  ...{ clicks: [], landings: [], postbacks: [], visits: [], leases: [], unknownCodes: 0, day: '', through: [] },
});

/** Rows that one run of a statement takes: to run one costs a third of what a row costs. */
const ROWS_AT_ONCE = 8;

/** Inserts any number of rows. Bound by position, and one by one: names or lists would cost more than the row. */
function rowsInserter(db: Db, conflict = ''): (values: ClickValues) => void {
  const row = `(${CLICK_COLUMNS.replace(/\w+/g, '?')})`;
  const taking = (rows: number): { statement: Statement<ClickValues>; width: number } => ({
    statement: db.prepare<ClickValues>(
      `INSERT INTO clicks (${CLICK_COLUMNS}) VALUES ${Array<string>(rows).fill(row).join(', ')} ${conflict}`,
    ),
    width: rows * CLICK_WIDTH,
  });
  const sizes = [taking(ROWS_AT_ONCE), taking(1)];
  return (values) => {
    let at = 0;
    for (const { statement, width } of sizes)
      for (; at + width <= values.length; at += width) statement.run(...values.slice(at, at + width));
  };
}

function writing(db: Db) {
  const insertClicks = rowsInserter(db);
  // The page tag draws the IDs of landings itself: one that stands already, sent again or made up, changes nothing.
  const insertLandings = rowsInserter(db, 'ON CONFLICT (click_id) DO NOTHING');
  const insertPostback = db.prepare<PostbackRow>(
    `INSERT INTO postbacks (receipt_id, time, program_id, method, content_type, query, body, client, via, about)
     VALUES (:receiptId, :time, :programId, :method, :contentType, :query, :body, :client, :via, :about)`,
  );
  const insertVisit = db.prepare<VisitRow>(
    'INSERT INTO visits (visitor, click_id, time) VALUES (:visitor, :clickId, :time) ON CONFLICT DO NOTHING',
  );
  const insertLease = db.prepare<LeaseRow>(
    'INSERT INTO number_leases (number_id, click_id, from_time, upto_time) VALUES (:numberId, :clickId, :fromTime, :uptoTime)',
  );
  const countUnknown = db.prepare<[string, number]>(
    'INSERT INTO unknown_codes (day, hits) VALUES (?, ?) ON CONFLICT (day) DO UPDATE SET hits = hits + excluded.hits',
  );
  const countThrough = db.prepare<[number, string, number]>(
    'INSERT INTO offer_days (offer_id, day, clicks) VALUES (?, ?, ?) ON CONFLICT DO UPDATE SET clicks = clicks + excluded.clicks',
  );
  const begin = db.prepare('BEGIN IMMEDIATE');
  const commit = db.prepare('COMMIT');
  const rollback = db.prepare('ROLLBACK');
  /** @throws what the writes throw, with nothing written */
  function commitTogether(writes: () => void): void {
    begin.run();
    try {
      writes();
      commit.run();
    } catch (error) {
      if (db.inTransaction) rollback.run();
      throw error;
    }
  }
  function insertArrivals({ clicks, landings, postbacks, visits, leases, unknownCodes, day, through }: Arrivals): void {
    insertClicks(clicks);
    insertLandings(landings);
    for (const postback of postbacks) insertPostback.run(postback);
    for (const visit of visits) insertVisit.run(visit);
    for (const lease of leases) insertLease.run(lease);
    if (unknownCodes > 0) countUnknown.run(day, unknownCodes);
    for (const { offerId, day: of, clicks: count } of through) countThrough.run(offerId, of, count);
  }
  return {
    ...reading(db),
    insertClick: (click: ClickRow): void => {
      const values: ClickValues = [];
      pushClick(values, click);
      insertClicks(values);
    },
    insertPostback: (row: PostbackRow): void => void insertPostback.run(row),
    insertVisit: (row: VisitRow): void => void insertVisit.run(row),
    insertLease: (row: LeaseRow): void => void insertLease.run(row),
    commitTogether,
    /** One commit for all that arrived together. @throws when it could not be made durable */
    commitArrivals: (batches: readonly Arrivals[]): void => commitTogether(() => batches.forEach(insertArrivals)),
  };
}

export type TrafficReader = ReturnType<typeof reading>;
export type TrafficWriter = ReturnType<typeof writing>;
export const openTrafficForWriting = (file: string): TrafficWriter => writing(openForWriting(file, 'traffic'));
export const openTrafficForReading = (file: string): TrafficReader => reading(openForReading(file));
