import fc from 'fast-check';
import { expect, test } from 'vitest';
import { World } from '../../../tests/support/world';
import { type Column, MOST_ROWS, packColumn } from '@/core/reports/block';
import { CLICK_COLUMNS } from '@/core/reports/columns';
import type { Day } from '@/core/time/days';
import { EXPLORE_SORTS, explore } from '../explore';
import { openHelper } from './second_thread';
import { Draw, type Helper } from './sharing';

test('each block is drawn once, by whichever thread, and none beyond the last', () => {
  fc.assert(
    fc.property(fc.nat(40), fc.array(fc.boolean(), { maxLength: 60 }), (blocks, turns) => {
      const asker = new Draw(blocks);
      const helper = new Draw(blocks, asker.shared);
      const drawn: number[] = [];
      for (const asks of [...turns, ...Array<boolean>(blocks + 1).fill(true)]) {
        const place = asks ? asker.next('first') : helper.next('last');
        if (place < blocks) drawn.push(place);
      }
      expect(drawn.toSorted((a, b) => a - b)).toEqual(Array.from({ length: blocks }, (_, place) => place));
    }),
  );
});

test('the asker waits for a helper that came in, for no other, and hears when it failed', () => {
  const pair = (): [Draw, Draw] => {
    const asker = new Draw(3);
    return [asker, new Draw(3, asker.shared)];
  };
  const [alone, late] = pair();
  expect([alone.close(), late.join()]).toEqual([false, false]);
  const [helped, well] = pair();
  expect(well.join()).toBe(true);
  well.leave(true);
  expect(helped.close()).toBe(true);
  const [left, badly] = pair();
  badly.join();
  badly.leave(false);
  expect(() => left.close()).toThrow('gave no answer');
});

const BLOCKS = 6;
const SCOPE = { from: '2026-11-01' as Day, to: '2026-11-30' as Day, partnerId: null, channelId: null, offerId: null };

/** Full blocks of made-up clicks, written as the worker leaves them. */
function fill({ rollups, programId }: World): void {
  const insertBlock = rollups.db.prepare(
    'INSERT INTO click_blocks (first_seq, rows, from_day, to_day) VALUES (?, ?, ?, ?)',
  );
  const insertColumn = rollups.db.prepare(
    'INSERT INTO block_columns (first_seq, name, dictionary, codes) VALUES (?, ?, ?, ?)',
  );
  const column = (values: string[], step: number): Column => ({
    values,
    codes: Uint16Array.from({ length: MOST_ROWS }, (_, row) => ((row * step) >>> 3) % values.length),
  });
  const columnOf = (name: string, block: number): Column => {
    if (name === 'program') return column([String(programId)], 1);
    if (name === 'day') return column([`2026-11-1${block}`], 1);
    if (name === 'unique') return column(['unique', 'repeat', 'unique', ''], 8);
    if (name === 'set_aside') return column(['', '', '', 'bot'], 8);
    if (name === 'cost') return column(['', '250000', '100000'], 8);
    if (name === 'sub1')
      return column(
        Array.from({ length: 700 }, (_, i) => `word ${i + 50 * block}`),
        7,
      );
    return column(name === 'country' ? ['NL', 'BE', 'DE'] : [''], 3);
  };
  rollups.inTransaction(() => {
    for (let block = 0; block < BLOCKS; block++) {
      const firstSeq = 1 + block * MOST_ROWS;
      insertBlock.run(firstSeq, MOST_ROWS, `2026-11-1${block}`, `2026-11-1${block}`);
      for (const name of CLICK_COLUMNS) {
        const { dictionary, codes } = packColumn(columnOf(name, block));
        insertColumn.run(firstSeq, name, dictionary, codes);
      }
    }
  });
}

test('a second thread counts what the first one would, all of it or a part', { timeout: 60_000 }, async () => {
  using world = new World();
  fill(world);
  const ask = (by: string[], helper?: Helper) =>
    explore(
      world.stores,
      world.owner,
      { scope: SCOPE, by, filters: [], sort: EXPLORE_SORTS[0], ascending: false, limit: 3000, offset: 0 },
      100,
      helper,
    );
  const helper = openHelper(world.folder);
  const pause = new Int32Array(new SharedArrayBuffer(4));
  /** The asker leaves all blocks to the other thread, and gives it time to come in. */
  const leaving: Helper = (order) => {
    const shared = helper(order);
    return (
      shared && {
        next: () => order.blocks.length,
        result() {
          Atomics.wait(pause, 0, 0, 200);
          return shared.result();
        },
      }
    );
  };
  const bys = [['sub1', 'country'], ['day'], []];
  for (const by of bys) {
    const alone = ask(by);
    expect(alone.total.clicks).toBe((BLOCKS * MOST_ROWS * 3) / 4);
    // A thread that has not come in by then takes nothing: it starts beside this test.
    let left = ask(by, leaving);
    for (let tries = 0; left.total.clicks === 0 && tries < 100; tries++) {
      await new Promise((resolve) => setTimeout(resolve, 50));
      left = ask(by, leaving);
    }
    expect(left).toEqual(alone);
    expect(ask(by, helper)).toEqual(alone);
  }
});
