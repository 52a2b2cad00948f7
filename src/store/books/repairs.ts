import type { Db } from '../database';
import type { ConversionRow } from './conversions';

export interface RepairRow {
  id: number;
  programId: number;
  time: number;
  actor: string;
  what: string;
  reason: string;
  undoneAt: number | null;
}
/** What a conversion was before it was repaired. */
export type Before = Pick<ConversionRow, 'unmatched' | 'clickId' | 'offerId' | 'linkId' | 'matchedBy' | 'state'> & {
  matchKey: string | null;
};

export function repairStore(db: Db) {
  const COLUMNS = `r.id, r.program_id AS programId, r.time, r.actor, r.what, r.reason, r.undone_at AS undoneAt`;
  const insert = db.prepare<Omit<RepairRow, 'id' | 'undoneAt'>>(
    'INSERT INTO repairs (program_id, time, actor, what, reason) VALUES (:programId, :time, :actor, :what, :reason)',
  );
  const addItem = db.prepare<[number, number, string]>(
    'INSERT INTO repair_items (repair_id, conversion_id, before) VALUES (?, ?, ?)',
  );
  const byId = db.prepare<[number], RepairRow>(`SELECT ${COLUMNS} FROM repairs r WHERE r.id = ?`);
  const newest = db.prepare<[number, number], RepairRow & { count: number }>(
    `SELECT ${COLUMNS}, (SELECT count(*) FROM repair_items i WHERE i.repair_id = r.id) AS count
     FROM repairs r WHERE r.program_id = ? ORDER BY r.id DESC LIMIT ?`,
  );
  const items = db.prepare<[number], { conversionId: number; before: string }>(
    'SELECT conversion_id AS conversionId, before FROM repair_items WHERE repair_id = ? ORDER BY conversion_id',
  );
  const undo = db.prepare<[number, number]>('UPDATE repairs SET undone_at = ? WHERE id = ?');
  return {
    insert: (row: Omit<RepairRow, 'id' | 'undoneAt'>): number => Number(insert.run(row).lastInsertRowid),
    addItem: (repairId: number, conversionId: number, before: Before): void =>
      void addItem.run(repairId, conversionId, JSON.stringify(before)),
    byId: (id: number) => byId.get(id),
    newest: (programId: number, limit: number) => newest.all(programId, limit),
    items: (id: number): { conversionId: number; before: Before }[] =>
      items.all(id).map(({ conversionId, before }) => ({ conversionId, before: JSON.parse(before) as Before })),
    undo: (id: number, now: number): void => void undo.run(now, id),
  };
}
