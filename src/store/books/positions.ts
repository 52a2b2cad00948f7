import type { Db } from '../database';

/** How far a reader of the traffic has come; set in the same transaction as the effect of what was read. */
export function positionStore(db: Db) {
  const get = db.prepare<[string], { seq: number }>('SELECT seq FROM positions WHERE name = ?');
  const set = db.prepare<[string, number]>(
    'INSERT INTO positions (name, seq) VALUES (?, ?) ON CONFLICT (name) DO UPDATE SET seq = excluded.seq',
  );
  return {
    get: (name: string): number => get.get(name)?.seq ?? 0,
    set: (name: string, seq: number): void => void set.run(name, seq),
  };
}
