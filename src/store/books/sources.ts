import type { SourcePreset } from '@/core/sources/schema';
import type { Db } from '../database';

export interface SourceRow {
  id: number;
  programId: number;
  preset: SourcePreset;
  changedAt: number;
  /** Channels that begin with it. */
  channels: number;
  links: number;
}
type Stored = Omit<SourceRow, 'preset'> & { preset: string };

const SELECT = `SELECT s.id, s.program_id AS programId, s.preset, s.changed_at AS changedAt,
    (SELECT count(*) FROM channels c WHERE c.source_id = s.id) AS channels, (SELECT count(*) FROM links l WHERE l.source_id = s.id) AS links
  FROM sources s`;
const read = (row: Stored): SourceRow => ({ ...row, preset: JSON.parse(row.preset) });

export function sourceStore(db: Db) {
  const insert = db.prepare<[number, string, string, number]>(
    'INSERT INTO sources (program_id, name, preset, changed_at) VALUES (?, ?, ?, ?)',
  );
  const update = db.prepare<[string, string, number, number]>(
    'UPDATE sources SET name = ?, preset = ?, changed_at = ? WHERE id = ?',
  );
  const setRemoved = db.prepare<[number | null, number]>('UPDATE sources SET removed_at = ? WHERE id = ?');
  const byId = db.prepare<[number], Stored>(`${SELECT} WHERE s.id = ?`);
  const byName = db.prepare<[number, string], { id: number }>(
    'SELECT id FROM sources WHERE program_id = ? AND name = ? AND removed_at IS NULL',
  );
  const ofProgram = db.prepare<[number], Stored>(
    `${SELECT} WHERE s.program_id = ? AND s.removed_at IS NULL ORDER BY s.name`,
  );
  const removed = db.prepare<[number], Stored>(
    `${SELECT} WHERE s.program_id = ? AND s.removed_at IS NOT NULL ORDER BY s.removed_at DESC LIMIT 20`,
  );
  return {
    insert: (programId: number, preset: SourcePreset, now: number): number =>
      Number(insert.run(programId, preset.name, JSON.stringify(preset), now).lastInsertRowid),
    update: (id: number, preset: SourcePreset, now: number): void =>
      void update.run(preset.name, JSON.stringify(preset), now, id),
    setRemoved: (id: number, at: number | null): void => void setRemoved.run(at, id),
    byId: (id: number): SourceRow | undefined => {
      const row = byId.get(id);
      return row && read(row);
    },
    byName: (programId: number, name: string) => byName.get(programId, name)?.id,
    ofProgram: (programId: number) => ofProgram.all(programId).map(read),
    removed: (programId: number) => removed.all(programId).map(read),
  };
}
