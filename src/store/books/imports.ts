import type { Db } from '../database';

export interface ImportRow {
  id: number;
  programId: number;
  /** Whose file it was: how it is read is remembered by this name. */
  source: string;
  time: number;
  actor: string;
  lines: number;
  undoneAt: number | null;
}

export function importStore(db: Db) {
  const COLUMNS = 'id, program_id AS programId, source, time, actor, lines, undone_at AS undoneAt';
  const insert = db.prepare<Omit<ImportRow, 'id' | 'undoneAt'>>(
    'INSERT INTO imports (program_id, source, time, actor, lines) VALUES (:programId, :source, :time, :actor, :lines)',
  );
  const byId = db.prepare<[number], ImportRow>(`SELECT ${COLUMNS} FROM imports WHERE id = ?`);
  const newest = db.prepare<[number, number], ImportRow>(
    `SELECT ${COLUMNS} FROM imports WHERE program_id = ? ORDER BY id DESC LIMIT ?`,
  );
  const addReceipt = db.prepare<[string, number]>('INSERT INTO import_receipts (receipt_id, import_id) VALUES (?, ?)');
  const receipts = db
    .prepare<[number], string>('SELECT receipt_id FROM import_receipts WHERE import_id = ? ORDER BY receipt_id')
    .pluck();
  const undo = db.prepare<[number, number]>('UPDATE imports SET undone_at = ? WHERE id = ?');
  const keepReading = db.prepare<[number, string, string]>(
    'INSERT INTO file_readings (program_id, source, reading) VALUES (?, ?, ?) ON CONFLICT DO UPDATE SET reading = excluded.reading',
  );
  const readings = db.prepare<[number], { source: string; reading: string }>(
    'SELECT source, reading FROM file_readings WHERE program_id = ? ORDER BY source',
  );
  return {
    insert: (row: Omit<ImportRow, 'id' | 'undoneAt'>): number => Number(insert.run(row).lastInsertRowid),
    byId: (id: number) => byId.get(id),
    newest: (programId: number, limit: number) => newest.all(programId, limit),
    addReceipt: (receiptId: string, importId: number): void => void addReceipt.run(receiptId, importId),
    receipts: (id: number) => receipts.all(id),
    undo: (id: number, now: number): void => void undo.run(now, id),
    keepReading: (programId: number, source: string, reading: string): void =>
      void keepReading.run(programId, source, reading),
    readings: (programId: number) => readings.all(programId),
  };
}
