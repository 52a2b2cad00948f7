import { statSync } from 'node:fs';
import { expect, test } from 'vitest';
import { type Arrivals, noArrivals, openTrafficForReading, pushClick } from '@/store/traffic';
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

test('a file that is really full takes a commit whole or not at all, and goes on once there is room', () => {
  using world = new World();
  const file = storeFile('traffic', world.folder);
  const appender = openForAppending(file);
  const batch = (from: number, clicks: number): Arrivals => {
    const arrivals = { ...noArrivals(), unknownCodes: 1, day: '2026-11-24' };
    for (let i = from; i < from + clicks; i++)
      pushClick(arrivals.clicks, {
        ...{ clickId: `c${i}`, time: i, linkId: 1, partnerId: 1, channelId: 1, offerId: 1, programId: 1, visitor: 'v' },
        ...{ isUnique: 1, setAside: null, flags: null, via: 'fallback', address: 'a'.repeat(2000), query: '' },
        ...{ referrer: null, agent: null, language: null, client: null, country: null, rule: null, page: null },
      });
    return arrivals;
  };
  appender.db.pragma(`max_page_count = ${Number(appender.db.pragma('page_count', { simple: true })) + 40}`);
  let taken = 0;
  const commit = (clicks: number): void => {
    appender.commitArrivals([batch(taken, clicks), batch(taken + clicks, clicks)]);
    taken += 2 * clicks;
  };
  expect(() => {
    for (;;) commit(8);
  }).toThrow('database or disk is full');
  expect(taken).toBeGreaterThan(0);
  expect(appender.db.inTransaction).toBe(false);
  // Nothing of the commit that failed is there, also for others.
  const reader = openTrafficForReading(file);
  const stored = (): number[] => [reader.ends().clicks, reader.ends().unknownCodes];
  expect(stored()).toEqual([taken, taken / 8]);
  appender.db.pragma('max_page_count = 1000000');
  commit(8);
  expect(stored()).toEqual([taken, taken / 8]);
  appender.db.close();
  reader.db.close();
});
