import type { RateSheet } from '@/core/commissions/sheet';
import type { Volume } from '@/core/commissions/rate';
import type { Exchange } from '@/core/commissions/base';
import type { Day } from '@/core/time/days';
import type { Db } from '../database';

export interface SheetVersion {
  id: number;
  inForceFrom: number;
  createdAt: number;
  sheet: RateSheet;
}
interface Stored {
  id: number;
  version: number;
  inForceFrom: number;
  createdAt: number;
  rows: string;
}
const COLUMNS = 'id, version, in_force_from AS inForceFrom, created_at AS createdAt, rows';

/** Rate sheets, exchange rates and the volumes that banded rows need. */
export function termStore(db: Db) {
  const insert = db.prepare(
    `INSERT INTO rate_sheets (program_id, version, in_force_from, rows, created_by, created_at)
     SELECT :programId, coalesce(max(version), 0) + 1, :inForceFrom, :rows, :createdBy, :now FROM rate_sheets WHERE program_id = :programId`,
  );
  const inForce = db.prepare<[number, number], Stored>(
    `SELECT ${COLUMNS} FROM rate_sheets WHERE program_id = ? AND in_force_from <= ? ORDER BY in_force_from DESC, version DESC LIMIT 1`,
  );
  const byId = db.prepare<[number], Stored>(`SELECT ${COLUMNS} FROM rate_sheets WHERE id = ?`);
  const versions = db.prepare<[number], Stored>(
    `SELECT ${COLUMNS} FROM rate_sheets WHERE program_id = ? ORDER BY version DESC`,
  );
  // A sheet never changes once stored, so each is read and parsed once.
  const known = new Map<number, SheetVersion>();
  const read = (row: Stored | undefined): SheetVersion | undefined => {
    if (!row) return undefined;
    let version = known.get(row.id);
    if (!version) {
      const { id, inForceFrom, createdAt } = row;
      version = { id, inForceFrom, createdAt, sheet: { version: row.version, rows: JSON.parse(row.rows) } };
      known.set(id, version);
    }
    return version;
  };
  const putRate = db.prepare<[string, string, string, number]>(
    `INSERT INTO exchange_rates (from_currency, to_currency, day, rate) VALUES (?, ?, ?, ?)
     ON CONFLICT (from_currency, to_currency, day) DO NOTHING`,
  );
  const rate = db.prepare<[string, string, string], Exchange>(
    'SELECT rate, day FROM exchange_rates WHERE from_currency = ? AND to_currency = ? AND day <= ? ORDER BY day DESC LIMIT 1',
  );
  const volume = db.prepare<[number, string, string], Volume>(
    'SELECT count, base FROM volumes WHERE partner_id = ? AND row_id = ? AND month = ?',
  );
  const addVolume = db.prepare<[number, string, string, number, number]>(
    `INSERT INTO volumes (partner_id, row_id, month, count, base) VALUES (?, ?, ?, ?, ?)
     ON CONFLICT (partner_id, row_id, month) DO UPDATE SET count = count + excluded.count, base = base + excluded.base`,
  );
  return {
    insertSheet: (row: {
      programId: number;
      inForceFrom: number;
      rows: RateSheet['rows'];
      createdBy: number;
      now: number;
    }): number => Number(insert.run({ ...row, rows: JSON.stringify(row.rows) }).lastInsertRowid),
    sheetInForce: (programId: number, time: number) => read(inForce.get(programId, time)),
    sheet: (id: number) => known.get(id) ?? read(byId.get(id)),
    sheets: (programId: number): SheetVersion[] => versions.all(programId).flatMap((row) => read(row) ?? []),
    /** A rate once stored for a day stands; a later day may bring another. */
    putExchangeRate: (from: string, to: string, day: Day, value: number): void =>
      void putRate.run(from, to, day, value),
    exchangeRate: (from: string, to: string, day: Day): Exchange | undefined => rate.get(from, to, day),
    volume: (partnerId: number, rowId: string, month: string): Volume =>
      volume.get(partnerId, rowId, month) ?? { count: 0, base: 0 },
    addVolume: (partnerId: number, rowId: string, month: string, by: Volume): void =>
      void addVolume.run(partnerId, rowId, month, by.count, by.base),
  };
}
