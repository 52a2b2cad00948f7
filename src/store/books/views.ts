import type { Db } from '../database';

export interface SavedView {
  id: number;
  name: string;
  address: string;
}

/** How a person wants lists to look, and addresses kept under names. */
export function viewStore(db: Db) {
  const columns = db
    .prepare<[number, string], string>('SELECT columns FROM list_columns WHERE user_id = ? AND list = ?')
    .pluck();
  const setColumns = db.prepare<[number, string, string]>(
    'INSERT INTO list_columns (user_id, list, columns) VALUES (?, ?, ?) ON CONFLICT (user_id, list) DO UPDATE SET columns = excluded.columns',
  );
  const forget = db.prepare<[number, string]>('DELETE FROM list_columns WHERE user_id = ? AND list = ?');
  const saved = db.prepare<[number], SavedView>(
    'SELECT id, name, address FROM saved_views WHERE user_id = ? ORDER BY name',
  );
  const save = db.prepare<[number, string, string]>(
    'INSERT INTO saved_views (user_id, name, address) VALUES (?, ?, ?) ON CONFLICT (user_id, name) DO UPDATE SET address = excluded.address',
  );
  const drop = db.prepare<[number, number]>('DELETE FROM saved_views WHERE user_id = ? AND id = ?');
  return {
    columns: (userId: number, list: string): string[] | undefined => {
      const text = columns.get(userId, list);
      return text === undefined ? undefined : JSON.parse(text);
    },
    setColumns: (userId: number, list: string, names: readonly string[] | undefined): void =>
      void (names ? setColumns.run(userId, list, JSON.stringify(names)) : forget.run(userId, list)),
    saved: (userId: number) => saved.all(userId),
    save: (userId: number, name: string, address: string): void => void save.run(userId, name, address),
    drop: (userId: number, id: number): void => void drop.run(userId, id),
  };
}
