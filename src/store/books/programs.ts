import type { Currency } from '@/core/money/currency';
import type { ProgramFields } from '@/core/programs/schema';
import type { Db } from '../database';

export interface ProgramRow {
  id: number;
  name: string;
  currency: Currency;
  timeZone: string;
  country: string;
  trackingOrigin: string;
  fallback: string;
  minimumPayout: number;
  payoutDay: number;
  privacy: ProgramFields['privacy'];
}

const COLUMNS = `id, name, currency, time_zone AS timeZone, country, tracking_origin AS trackingOrigin, fallback,
  minimum_payout AS minimumPayout, payout_day AS payoutDay, privacy`;

export function programStore(db: Db) {
  const insert = db.prepare<Omit<ProgramRow, 'id'> & { postbackKeyHash: string; now: number }>(
    `INSERT INTO programs (name, currency, time_zone, country, tracking_origin, fallback, minimum_payout, payout_day, privacy, postback_key_hash, created_at)
     VALUES (:name, :currency, :timeZone, :country, :trackingOrigin, :fallback, :minimumPayout, :payoutDay, :privacy, :postbackKeyHash, :now)`,
  );
  const update = db.prepare<Omit<ProgramRow, 'currency'>>(
    `UPDATE programs SET name = :name, time_zone = :timeZone, country = :country, tracking_origin = :trackingOrigin, fallback = :fallback,
       minimum_payout = :minimumPayout, payout_day = :payoutDay, privacy = :privacy WHERE id = :id`,
  );
  const byId = db.prepare<[number], ProgramRow>(`SELECT ${COLUMNS} FROM programs WHERE id = ?`);
  const byKeyHash = db.prepare<[string], ProgramRow>(`SELECT ${COLUMNS} FROM programs WHERE postback_key_hash = ?`);
  const all = db.prepare<[], ProgramRow>(`SELECT ${COLUMNS} FROM programs ORDER BY id`);
  const setKey = db.prepare<[string, number]>('UPDATE programs SET postback_key_hash = ? WHERE id = ?');
  return {
    insert: (row: Omit<ProgramRow, 'id'> & { postbackKeyHash: string; now: number }): number =>
      Number(insert.run(row).lastInsertRowid),
    update: (row: Omit<ProgramRow, 'currency'>): void => void update.run(row),
    byId: (id: number) => byId.get(id),
    byPostbackKeyHash: (hash: string) => byKeyHash.get(hash),
    all: () => all.all(),
    setPostbackKeyHash: (id: number, hash: string): void => void setKey.run(hash, id),
  };
}
