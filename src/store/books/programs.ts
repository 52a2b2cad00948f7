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
  takesApplications: boolean;
}
type Stored = Omit<ProgramRow, 'takesApplications'> & { takesApplications: number };
const read = (row: Stored | undefined): ProgramRow | undefined =>
  row && { ...row, takesApplications: row.takesApplications === 1 };
const stored = <T extends { takesApplications: boolean }>(row: T) => ({
  ...row,
  takesApplications: row.takesApplications ? 1 : 0,
});

const COLUMNS = `id, name, currency, time_zone AS timeZone, country, tracking_origin AS trackingOrigin, fallback,
  minimum_payout AS minimumPayout, payout_day AS payoutDay, privacy, takes_applications AS takesApplications`;

export function programStore(db: Db) {
  const insert = db.prepare<Omit<Stored, 'id'> & { postbackKeyHash: string; now: number }>(
    `INSERT INTO programs (name, currency, time_zone, country, tracking_origin, fallback, minimum_payout, payout_day, privacy, takes_applications, postback_key_hash, created_at)
     VALUES (:name, :currency, :timeZone, :country, :trackingOrigin, :fallback, :minimumPayout, :payoutDay, :privacy, :takesApplications, :postbackKeyHash, :now)`,
  );
  const update = db.prepare<Omit<Stored, 'currency'>>(
    `UPDATE programs SET name = :name, time_zone = :timeZone, country = :country, tracking_origin = :trackingOrigin, fallback = :fallback,
       minimum_payout = :minimumPayout, payout_day = :payoutDay, privacy = :privacy, takes_applications = :takesApplications WHERE id = :id`,
  );
  const byId = db.prepare<[number], Stored>(`SELECT ${COLUMNS} FROM programs WHERE id = ?`);
  const byKeyHash = db.prepare<[string], Stored>(`SELECT ${COLUMNS} FROM programs WHERE postback_key_hash = ?`);
  const all = db.prepare<[], Stored>(`SELECT ${COLUMNS} FROM programs ORDER BY id`);
  const setKey = db.prepare<[string, number]>('UPDATE programs SET postback_key_hash = ? WHERE id = ?');
  return {
    insert: (row: Omit<ProgramRow, 'id'> & { postbackKeyHash: string; now: number }): number =>
      Number(insert.run(stored(row)).lastInsertRowid),
    update: (row: Omit<ProgramRow, 'currency'>): void => void update.run(stored(row)),
    byId: (id: number) => read(byId.get(id)),
    byPostbackKeyHash: (hash: string) => read(byKeyHash.get(hash)),
    all: (): ProgramRow[] => all.all().flatMap((row) => read(row) ?? []),
    setPostbackKeyHash: (id: number, hash: string): void => void setKey.run(hash, id),
  };
}
