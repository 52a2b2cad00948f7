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
  /** Tracking hosts beside the first, which new links bear. */
  otherOrigins: string[];
  uniqueHours: number;
  /** Clicks a minute from one address on one link; 0 is no limit. */
  floodMost: number;
  /** Counts how often the secret that signs postbacks was renewed. */
  signingVersion: number;
}
type Stored = Omit<ProgramRow, 'takesApplications' | 'otherOrigins'> & {
  takesApplications: number;
  otherOrigins: string;
};
const read = (row: Stored | undefined): ProgramRow | undefined =>
  row && {
    ...row,
    takesApplications: row.takesApplications === 1,
    otherOrigins: JSON.parse(row.otherOrigins),
  };
const stored = <T extends { takesApplications: boolean; otherOrigins: string[] }>(row: T) => ({
  ...row,
  takesApplications: row.takesApplications ? 1 : 0,
  otherOrigins: JSON.stringify(row.otherOrigins),
});

const COLUMNS = `id, name, currency, time_zone AS timeZone, country, tracking_origin AS trackingOrigin, fallback,
  minimum_payout AS minimumPayout, payout_day AS payoutDay, privacy, takes_applications AS takesApplications,
  other_origins AS otherOrigins, unique_hours AS uniqueHours, flood_most AS floodMost, signing_version AS signingVersion`;

export function programStore(db: Db) {
  const insert = db.prepare<Omit<Stored, 'id' | 'signingVersion'> & { postbackKeyHash: string; now: number }>(
    `INSERT INTO programs (name, currency, time_zone, country, tracking_origin, fallback, minimum_payout, payout_day, privacy, takes_applications, other_origins, unique_hours, flood_most, postback_key_hash, created_at)
     VALUES (:name, :currency, :timeZone, :country, :trackingOrigin, :fallback, :minimumPayout, :payoutDay, :privacy, :takesApplications, :otherOrigins, :uniqueHours, :floodMost, :postbackKeyHash, :now)`,
  );
  const update = db.prepare<Omit<Stored, 'currency' | 'signingVersion'>>(
    `UPDATE programs SET name = :name, time_zone = :timeZone, country = :country, tracking_origin = :trackingOrigin, fallback = :fallback,
       minimum_payout = :minimumPayout, payout_day = :payoutDay, privacy = :privacy, takes_applications = :takesApplications,
       other_origins = :otherOrigins, unique_hours = :uniqueHours, flood_most = :floodMost WHERE id = :id`,
  );
  const byId = db.prepare<[number], Stored>(`SELECT ${COLUMNS} FROM programs WHERE id = ?`);
  const byKeyHash = db.prepare<[string], Stored>(`SELECT ${COLUMNS} FROM programs WHERE postback_key_hash = ?`);
  const all = db.prepare<[], Stored>(`SELECT ${COLUMNS} FROM programs ORDER BY id`);
  const renewSigning = db.prepare<[number]>('UPDATE programs SET signing_version = signing_version + 1 WHERE id = ?');
  const setKey = db.prepare<[string, number]>('UPDATE programs SET postback_key_hash = ? WHERE id = ?');
  return {
    insert: (row: Omit<ProgramRow, 'id' | 'signingVersion'> & { postbackKeyHash: string; now: number }): number =>
      Number(insert.run(stored(row)).lastInsertRowid),
    update: (row: Omit<ProgramRow, 'currency' | 'signingVersion'>): void => void update.run(stored(row)),
    byId: (id: number) => read(byId.get(id)),
    byPostbackKeyHash: (hash: string) => read(byKeyHash.get(hash)),
    all: (): ProgramRow[] => all.all().flatMap((row) => read(row) ?? []),
    renewSigning: (id: number): void => void renewSigning.run(id),
    setPostbackKeyHash: (id: number, hash: string): void => void setKey.run(hash, id),
  };
}
