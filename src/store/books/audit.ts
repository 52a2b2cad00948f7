import type { Db, Page, Paging } from '../database';

export interface AuditRow {
  id: number;
  time: number;
  programId: number | null;
  actor: string;
  action: string;
  object: string;
  detail: string;
}

export function auditStore(db: Db) {
  const insert = db.prepare<Omit<AuditRow, 'id'>>(
    'INSERT INTO audit (time, program_id, actor, action, object, detail) VALUES (:time, :programId, :actor, :action, :object, :detail)',
  );
  const list = db.prepare<[number, number, number], AuditRow>(
    'SELECT id, time, program_id AS programId, actor, action, object, detail FROM audit WHERE program_id = ? ORDER BY id DESC LIMIT ? OFFSET ?',
  );
  const count = db.prepare<[number], { total: number }>('SELECT count(*) AS total FROM audit WHERE program_id = ?');
  return {
    insert: (row: Omit<AuditRow, 'id'>): void => void insert.run(row),
    list: (programId: number, { limit, offset }: Paging): Page<AuditRow> => ({
      rows: list.all(programId, limit, offset),
      total: count.get(programId)?.total ?? 0,
    }),
  };
}
