import { describe, expect, test } from 'vitest';
import { World } from '../../tests/support/world';
import { storeFile } from '@/services/stores';
import { verify } from '@/services/verify';
import { openRollupsForWriting } from './rollups';
import { openBooks } from './books';
import { rebuildRollups } from '@/worker/rebuild';
import { rollClicks } from '@/worker/roll';

describe('what must never be is refused by the database itself', () => {
  test.each([
    ['books', 'UPDATE ledger_entries SET amount = 0', 'append-only'],
    ['books', 'DELETE FROM ledger_transactions', 'append-only'],
    ['books', 'UPDATE ratings SET amount = 0', 'append-only'],
    ['books', 'DELETE FROM conversion_history', 'append-only'],
    ['books', "UPDATE audit SET actor = 'nobody'", 'append-only'],
    ['books', 'UPDATE conversions SET amount = -1', 'CHECK'],
    ['books', "UPDATE conversions SET unmatched = 'unknown_click'", 'CHECK'],
    ['books', "UPDATE commissions SET state = 'lost'", 'CHECK'],
    ['books', 'UPDATE commissions SET partner_id = 999', 'FOREIGN KEY'],
    ['books', "UPDATE users SET role = 'partner'", 'CHECK'],
    ['traffic', 'UPDATE clicks SET is_unique = 0', 'append-only'],
    ['traffic', 'DELETE FROM postbacks', 'append-only'],
  ] as const)('%s: %s', (store, sql, reason) => {
    using world = new World();
    world.report({ event: 'order', order: '1', amount: '10.00', click_id: world.click() });
    const { db } = store === 'books' ? world.stores.books : world.traffic;
    expect(() => db.exec(sql)).toThrow(reason);
  });
});

test('verify finds what was tampered with behind its back', () => {
  using world = new World();
  world.report({ event: 'order', order: '1', amount: '100.00', click_id: world.click() });
  const wrong = (): string[] => verify(world.stores).flatMap((finding) => finding.wrong);
  expect(wrong()).toEqual([]);
  world.stores.books.db.exec('UPDATE commissions SET amount = amount + 1');
  expect(wrong()).toEqual([
    'commission 1 is 1001 and re-rates to 1000',
    'commission 1 is 1001, the ledger says 1000',
    expect.stringContaining('conversion 1: reports have'),
    'offer 1, 2026-11-24: not what the books say',
  ]);
  world.stores.books.db.exec(
    "UPDATE commissions SET amount = 1000; INSERT INTO ledger_entries (transaction_id, account, partner_id, currency, amount) VALUES (1, 'program_bank', 1, 'EUR', 5)",
  );
  expect(wrong()).toEqual(['transaction 1 does not sum to zero']);
  world.rollups.db.exec('UPDATE daily_clicks SET counted = counted + 1');
  expect(wrong()[1]).toContain('on file');
});

test('rollups that were deleted are rebuilt to the same figures, in steps of any size', () => {
  using world = new World();
  for (let i = 0; i < 40; i++) {
    world.click(world.link, {
      agent:
        i % 5 === 0 ? 'linkchecker/10.2' : 'Mozilla/5.0 (X11; Linux x86_64; rv:143.0) Gecko/20100101 Firefox/143.0',
      client: `192.0.2.${i % 7}`,
    });
    world.pass(0.3);
  }
  world.work();
  const before = world.rollups.daily();
  const again = openRollupsForWriting(`${storeFile('rollups', world.folder)}.again`);
  while (rollClicks(world.traffic, world.stores.books, again, 7) > 0);
  expect(again.daily()).toEqual(before);
  expect(before.length).toBeGreaterThan(10);
  again.db.close();
});

test('rollups are rebuilt in place: what was tampered with is right again, and the worker goes on from there', () => {
  using world = new World();
  for (let i = 0; i < 30; i++) world.click(world.link, { client: `192.0.2.${i}`, query: `sub1=k${i % 3}` });
  world.report({ event: 'order', order: '1', amount: '100.00', click_id: world.click() });
  const wrong = (): string[] => verify(world.stores).flatMap((finding) => finding.wrong);
  world.rollups.db.exec(
    'DELETE FROM daily_clicks; DELETE FROM recent_clicks WHERE seq < 9; UPDATE conversion_facts SET commission = 7',
  );
  expect(wrong().length).toBeGreaterThan(2);
  world.click();
  expect(rebuildRollups(world.stores, world.rollups)).toBe(32);
  expect(wrong()).toEqual([]);
  world.click();
  world.work();
  expect([wrong(), world.log().length]).toEqual([[], 33]);
});

test('opening again changes nothing', () => {
  using world = new World();
  const again = openBooks(storeFile('books', world.folder));
  expect(again.db.pragma('user_version', { simple: true })).toBe(6);
  expect(again.db.pragma('synchronous', { simple: true })).toBe(2);
  expect(again.programs.all()).toHaveLength(1);
  again.db.close();
});
