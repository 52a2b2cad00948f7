import { Worker } from 'node:worker_threads';

const EVERY_MS = 200;

/**
 * Moves what was committed from the log into the database file on a thread of its own: the commits on the path of a
 * redirect then only ever append. A passive checkpoint waits for nobody and makes nobody wait.
 */
export function startCheckpoints(file: string): () => Promise<unknown> {
  const code = `
    const { workerData } = require('node:worker_threads');
    const Database = require('better-sqlite3');
    const db = new Database(workerData.file, { timeout: 1000 });
    setInterval(() => db.pragma('wal_checkpoint(PASSIVE)'), workerData.every);
  `;
  const thread = new Worker(code, { eval: true, workerData: { file, every: EVERY_MS } });
  thread.unref();
  return () => thread.terminate();
}
