import { positionStore } from '../books/positions';
import { type ScopeFilter, inScope } from '../books/scope';
import { dataVersion, type Db, openForReading, openForWriting } from '../database';
import { REBUILDS, clickColumns, clickWriter } from './clicks';
import { conversionColumns, conversionWriter } from './conversions';

export interface ClickFigures {
  counted: number;
  uniques: number;
  setAside: number;
}
/** Whose clicks of a day are counted together. */
export interface DailyKey {
  programId: number;
  day: string;
  partnerId: number;
  channelId: number;
  offerId: number;
  linkId: number;
}

/** In the order in which they are emptied: what refers to another before it. */
const TABLES = [
  ...(['block_values', 'block_columns', 'click_blocks', 'recent_clicks', 'daily_clicks', 'conversion_facts'] as const),
  ...(['conversion_blocks', 'conversion_block_columns', 'positions'] as const),
];
const SUMS =
  'coalesce(sum(d.counted), 0) AS counted, coalesce(sum(d.uniques), 0) AS uniques, coalesce(sum(d.set_aside), 0) AS setAside';

function reading(db: Db) {
  const figures = db.prepare<ScopeFilter, ClickFigures>(`SELECT ${SUMS} FROM daily_clicks d WHERE ${inScope('d')}`);
  const byLink = db.prepare<ScopeFilter & { ids: string }, ClickFigures & { linkId: number }>(
    `SELECT d.link_id AS linkId, ${SUMS} FROM daily_clicks d WHERE d.link_id IN (SELECT value FROM json_each(:ids)) AND ${inScope('d')} GROUP BY d.link_id`,
  );
  const daily = db.prepare<[], ClickFigures & { day: string; linkId: number }>(
    'SELECT day, link_id AS linkId, counted, uniques, set_aside AS setAside FROM daily_clicks ORDER BY day, link_id',
  );
  const positions = positionStore(db);
  return {
    db,
    version: dataVersion(db),
    positions,
    clicks: clickColumns(db),
    conversions: conversionColumns(db),
    figures: (scope: ScopeFilter): ClickFigures => figures.get(scope) ?? { counted: 0, uniques: 0, setAside: 0 },
    byLink: (scope: ScopeFilter, ids: readonly number[]) => byLink.all({ ...scope, ids: JSON.stringify(ids) }),
    daily: () => daily.all(),
    /** Everything read by `work` is of one moment. */
    atOnce: <T>(work: () => T): T => db.transaction(work).deferred(),
  };
}

function writing(db: Db) {
  const addDaily = db.prepare<DailyKey & ClickFigures>(
    `INSERT INTO daily_clicks (program_id, day, partner_id, channel_id, offer_id, link_id, counted, uniques, set_aside)
     VALUES (:programId, :day, :partnerId, :channelId, :offerId, :linkId, :counted, :uniques, :setAside)
     ON CONFLICT (program_id, day, partner_id, channel_id, offer_id, link_id)
     DO UPDATE SET counted = counted + excluded.counted, uniques = uniques + excluded.uniques, set_aside = set_aside + excluded.set_aside`,
  );
  const writeClicks = clickWriter(db);
  const read = reading(db);
  return {
    ...read,
    writeClicks,
    writeConversions: conversionWriter(db),
    addDaily: (row: DailyKey & ClickFigures): void => void addDaily.run(row),
    inTransaction<T>(work: () => T): T {
      try {
        return db.transaction(work).immediate();
      } catch (error) {
        writeClicks.forget();
        throw error;
      }
    },
    /** Everything in here becomes what is in another file of the same schema, in one transaction. */
    replaceBy(file: string): void {
      db.prepare('ATTACH ? AS fresh').run(file);
      try {
        db.transaction(() => {
          const rebuilds = read.positions.get(REBUILDS) + 1;
          for (const table of TABLES) {
            db.exec(`DELETE FROM main.${table}`);
            db.exec(`INSERT INTO main.${table} SELECT * FROM fresh.${table}`);
          }
          read.positions.set(REBUILDS, rebuilds);
        }).immediate();
      } finally {
        db.exec('DETACH fresh');
        writeClicks.forget();
      }
    },
  };
}

export type RollupReader = ReturnType<typeof reading>;
export type RollupWriter = ReturnType<typeof writing>;
export const openRollupsForWriting = (file: string): RollupWriter => writing(openForWriting(file, 'rollups'));
export const openRollupsForReading = (file: string): RollupReader => reading(openForReading(file));
