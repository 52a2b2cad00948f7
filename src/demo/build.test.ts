import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import Database from 'better-sqlite3';
import { expect, test } from 'vitest';
import { sha256 } from '@/services/secrets';
import { storeFile } from '@/services/stores';
import { buildDemo } from './build';

const NOW = Date.parse('2026-11-24T11:00:00Z');
/** What differs by intent: salts, nonces, keys and what depends on them. */
const SECRET = ['password', 'sealed', 'hash', 'postback_key_hash', 'query', 'fingerprint'];

/** A digest of every table, so that a difference names its table. */
function digest(folder: string): Record<string, string> {
  const digests: Record<string, string> = {};
  for (const name of ['books', 'traffic', 'rollups'] as const) {
    const db = new Database(storeFile(name, folder), { readonly: true });
    const tables = db
      .prepare<[], { name: string }>("SELECT name FROM sqlite_master WHERE type = 'table' ORDER BY name")
      .all();
    for (const { name: table } of tables) {
      const rows = db.prepare<[], Record<string, unknown>>(`SELECT * FROM "${table}"`).all();
      const said = rows.map((row) => Object.entries(row).filter(([column]) => !SECRET.includes(column)));
      digests[`${name}.${table}`] = `${rows.length} ${sha256(JSON.stringify(said))}`;
    }
    db.close();
  }
  return digests;
}

test(
  'the same seed and the same now make the same history, another seed another one',
  { timeout: 60_000 },
  async () => {
    const build = async (seed: number): Promise<Record<string, string>> => {
      const folder = mkdtempSync(join(tmpdir(), 'brivet-demo-'));
      await buildDemo({
        folder,
        now: NOW,
        secret: 'a secret of the tests, long enough to be one',
        seed,
        days: 8,
        progress: () => undefined,
      });
      const made = digest(folder);
      rmSync(folder, { recursive: true, force: true });
      return made;
    };
    const [first, second, other] = [await build(7), await build(7), await build(8)];
    expect(second).toEqual(first);
    expect(Number(first['traffic.clicks']?.split(' ')[0])).toBeGreaterThan(2000);
    expect(other['traffic.clicks']).not.toBe(first['traffic.clicks']);
  },
);
