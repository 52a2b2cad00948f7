import { statSync } from 'node:fs';
import { expect, test } from 'vitest';
import { noArrivals, openTrafficForReading } from '@/store/traffic';
import { storeFile } from '@/services/stores';
import { World } from '../../tests/support/world';
import { openForAppending } from './appending';

test('commits that follow each other do not make the log grow, and a reader only for as long as it reads', () => {
  using world = new World();
  const file = storeFile('traffic', world.folder);
  const appender = openForAppending(file);
  const reader = openTrafficForReading(file);
  const commit = (times: number): number => {
    for (let i = 0; i < times; i++) {
      appender.commitArrivals([{ ...noArrivals(), unknownCodes: 1, day: '2026-11-24' }]);
      appender.keepLogShort();
    }
    return statSync(`${file}-wal`).size;
  };
  const usual = commit(3000);
  expect(commit(6000)).toBe(usual);
  reader.db.transaction(() => {
    expect(reader.ends().unknownCodes).toBe(9000);
    expect(commit(3000)).toBeGreaterThan(usual);
    expect(reader.ends().unknownCodes).toBe(9000);
  })();
  const grown = commit(50);
  expect(commit(6000)).toBe(grown);
  expect(reader.ends().unknownCodes).toBe(18_050);
  appender.db.close();
  reader.db.close();
});
