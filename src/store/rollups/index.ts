import { dataVersion, type Db, openForReading, openForWriting, type Page, type Paging } from '../database';
import { positionStore } from '../books/positions';
import { type ScopeFilter, inScope } from '../books/scope';

export interface LoggedClick {
  seq: number;
  clickId: string;
  time: number;
  day: string;
  programId: number;
  linkId: number;
  partnerId: number;
  channelId: number;
  offerId: number;
  isUnique: number;
  setAside: string | null;
  flags: string;
  sub1: string | null;
  sub2: string | null;
  sub3: string | null;
  sub4: string | null;
  sub5: string | null;
  device: string;
  os: string;
  browser: string;
}
export interface ClickFigures {
  counted: number;
  uniques: number;
  setAside: number;
}
export type ClickShelf = 'counted' | 'set_aside' | 'all';

const COLUMNS = `x.seq, x.click_id AS clickId, x.time, x.day, x.program_id AS programId, x.link_id AS linkId, x.partner_id AS partnerId,
  x.channel_id AS channelId, x.offer_id AS offerId, x.is_unique AS isUnique, x.set_aside AS setAside, x.flags, x.sub1, x.sub2, x.sub3, x.sub4,
  x.sub5, x.device, x.os, x.browser`;
const SHELF = `(:shelf = 'all' OR (x.set_aside IS NOT NULL) = (:shelf = 'set_aside'))`;
const SUMS =
  'coalesce(sum(d.counted), 0) AS counted, coalesce(sum(d.uniques), 0) AS uniques, coalesce(sum(d.set_aside), 0) AS setAside';

function reading(db: Db) {
  type Filter = ScopeFilter & { shelf: ClickShelf };
  const list = db.prepare<Filter & Paging, LoggedClick>(
    `SELECT ${COLUMNS} FROM click_log x WHERE ${inScope('x')} AND ${SHELF} ORDER BY x.day DESC, x.seq DESC LIMIT :limit OFFSET :offset`,
  );
  const figures = db.prepare<ScopeFilter, ClickFigures>(`SELECT ${SUMS} FROM daily_clicks d WHERE ${inScope('d')}`);
  const byLink = db.prepare<ScopeFilter & { ids: string }, ClickFigures & { linkId: number }>(
    `SELECT d.link_id AS linkId, ${SUMS} FROM daily_clicks d WHERE d.link_id IN (SELECT value FROM json_each(:ids)) AND ${inScope('d')} GROUP BY d.link_id`,
  );
  const newestOfChannel = db.prepare<[number, number], { clickId: string }>(
    'SELECT click_id AS clickId FROM click_log WHERE channel_id = ? AND offer_id = ? AND set_aside IS NULL ORDER BY seq DESC LIMIT 1',
  );
  const reasons = db.prepare<ScopeFilter, { reason: string; count: number }>(
    `SELECT x.set_aside AS reason, count(*) AS count FROM click_log x WHERE x.set_aside IS NOT NULL AND ${inScope('x')} GROUP BY 1 ORDER BY 2 DESC`,
  );
  const daily = db.prepare<[], ClickFigures & { day: string; linkId: number }>(
    'SELECT day, link_id AS linkId, counted, uniques, set_aside AS setAside FROM daily_clicks ORDER BY day, link_id',
  );
  const total = (figures: ClickFigures | undefined, shelf: ClickShelf): number => {
    const { counted = 0, setAside = 0 } = figures ?? {};
    return shelf === 'counted' ? counted : shelf === 'set_aside' ? setAside : counted + setAside;
  };
  return {
    db,
    version: dataVersion(db),
    positions: positionStore(db),
    list: (scope: ScopeFilter, shelf: ClickShelf, paging: Paging): Page<LoggedClick> => ({
      rows: list.all({ ...scope, shelf, ...paging }),
      total: total(figures.get(scope), shelf),
    }),
    figures: (scope: ScopeFilter): ClickFigures => figures.get(scope) ?? { counted: 0, uniques: 0, setAside: 0 },
    byLink: (scope: ScopeFilter, ids: readonly number[]) => byLink.all({ ...scope, ids: JSON.stringify(ids) }),
    newestOfChannel: (channelId: number, offerId: number) => newestOfChannel.get(channelId, offerId)?.clickId,
    setAsideReasons: (scope: ScopeFilter) => reasons.all(scope),
    daily: () => daily.all(),
  };
}

function writing(db: Db) {
  const insert = db.prepare<LoggedClick>(
    `INSERT INTO click_log (seq, click_id, time, day, program_id, link_id, partner_id, channel_id, offer_id, is_unique, set_aside, flags, sub1, sub2,
       sub3, sub4, sub5, device, os, browser)
     VALUES (:seq, :clickId, :time, :day, :programId, :linkId, :partnerId, :channelId, :offerId, :isUnique, :setAside, :flags, :sub1, :sub2,
       :sub3, :sub4, :sub5, :device, :os, :browser)`,
  );
  const addDaily = db.prepare<LoggedClick & { counted: number; uniques: number; aside: number }>(
    `INSERT INTO daily_clicks (program_id, day, partner_id, channel_id, offer_id, link_id, counted, uniques, set_aside)
     VALUES (:programId, :day, :partnerId, :channelId, :offerId, :linkId, :counted, :uniques, :aside)
     ON CONFLICT (program_id, day, partner_id, channel_id, offer_id, link_id)
     DO UPDATE SET counted = counted + excluded.counted, uniques = uniques + excluded.uniques, set_aside = set_aside + excluded.set_aside`,
  );
  return {
    ...reading(db),
    add(click: LoggedClick): void {
      insert.run(click);
      const counted = click.setAside === null ? 1 : 0;
      addDaily.run({ ...click, counted, uniques: counted && click.isUnique, aside: 1 - counted });
    },
    inTransaction: <T>(work: () => T): T => db.transaction(work).immediate(),
  };
}

export type RollupReader = ReturnType<typeof reading>;
export type RollupWriter = ReturnType<typeof writing>;
export const openRollupsForWriting = (file: string): RollupWriter => writing(openForWriting(file, 'rollups'));
export const openRollupsForReading = (file: string): RollupReader => reading(openForReading(file));
