import Database from 'better-sqlite3';
import { mkdirSync, readFileSync, readdirSync } from 'node:fs';
import { dirname, join } from 'node:path';

export type Db = Database.Database;

/** The numbered .sql files stand beside the code; every process runs from the project's folder. */
const migrationsOf = (store: string): string => join(process.cwd(), 'src/store', store, 'migrations');

/** Opens a database for writing, durable at every commit, and brings its schema up to date. */
export function openForWriting(file: string, store: 'traffic' | 'books' | 'rollups'): Db {
  mkdirSync(dirname(file), { recursive: true });
  const db = new Database(file, { timeout: 5000 });
  db.pragma('journal_mode = WAL');
  db.pragma(`synchronous = ${store === 'rollups' ? 'NORMAL' : 'FULL'}`);
  db.pragma('foreign_keys = ON');
  // In KiB: a large transaction touches many indexes, and would spill its pages with the preset of 2 MiB. Rollups have
  // few indexes, and a block is written once.
  db.pragma(`cache_size = -${store === 'rollups' ? 16_384 : 65_536}`);
  // In pages of 4 KiB. Each time the log is moved into the file the disk is busy for some milliseconds, for the edge too;
  // what is written over and over, as by a payout run, is moved once.
  if (store === 'books') db.pragma('wal_autocheckpoint = 8192');
  migrate(db, migrationsOf(store));
  return db;
}

/** Opens a database that another process writes. @throws when it does not exist yet. */
export function openForReading(file: string): Db {
  const db = new Database(file, { readonly: true, fileMustExist: true, timeout: 5000 });
  db.pragma('query_only = ON');
  return db;
}

/** Runs the migrations beyond `user_version`, each in its own transaction. */
function migrate(db: Db, folder: string): void {
  const files = readdirSync(folder)
    .filter((name) => /^\d{3}_.+\.sql$/.test(name))
    .sort();
  const missing = (): string[] => {
    const done = Number(db.pragma('user_version', { simple: true }));
    return files.filter((file) => Number(file.slice(0, 3)) > done);
  };
  // Opening waits for nobody who writes; only where something is to be done, the write lock keeps two processes that
  // start together from doing it twice.
  if (missing().length === 0) return;
  db.transaction(() => {
    for (const name of missing()) {
      db.exec(readFileSync(join(folder, name), 'utf8'));
      db.pragma(`user_version = ${Number(name.slice(0, 3))}`);
    }
  }).immediate();
}

/**
 * An insert whose values are bound by position: for rows that come by the hundred thousand, where names would cost a
 * quarter of the row.
 * @param columns of the table, each with the property of a row that it holds
 */
export function inserter<R extends object>(
  db: Db,
  table: string,
  columns: Readonly<Record<string, keyof R>>,
): (row: R) => number {
  const names = Object.keys(columns);
  const properties = Object.values(columns);
  const statement = db.prepare<unknown[]>(
    `INSERT INTO ${table} (${names.join(', ')}) VALUES (${names.map(() => '?').join(', ')})`,
  );
  // Bound one by one: from a list, SQLite's driver would fetch each value for itself.
  return (row) => Number(statement.run(...properties.map((property) => row[property])).lastInsertRowid);
}

/** Changes whenever another connection has committed: the sign to drop what is cached. */
export const dataVersion = (db: Db): (() => number) => {
  const statement = db.prepare<[], { data_version: number }>('PRAGMA data_version');
  return () => statement.get()?.data_version ?? 0;
};

/** A page of a list: `total` is the count over all pages. */
export interface Page<T> {
  readonly rows: T[];
  readonly total: number;
}
export interface Paging {
  readonly limit: number;
  readonly offset: number;
}
