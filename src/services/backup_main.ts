import { existsSync, mkdirSync } from 'node:fs';
import { join } from 'node:path';
import Database from 'better-sqlite3';
import { storeFile } from './stores';

/** Copies the three databases into a new folder by SQLite's online backup, while everything runs. */
const target = process.argv[2];
if (!target) {
  console.error('Name the folder for the backup: ./brivet backup FOLDER');
  process.exit(1);
}
if (existsSync(target)) {
  console.error(`${target} exists already. A backup is written into a new folder.`);
  process.exit(1);
}
mkdirSync(target, { recursive: true });
// Books first: what follows from traffic may lag behind it, never run ahead of it.
for (const name of ['books', 'rollups', 'traffic'] as const) {
  const db = new Database(storeFile(name), { readonly: true, fileMustExist: true });
  await db.backup(join(target, `${name}.db`));
  db.close();
  console.log(`${name}.db`);
}
console.log(
  `Backup written to ${target}. Keep the installation's secret with it: without it, payout details cannot be opened.`,
);
