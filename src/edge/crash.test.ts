import { expect, test } from 'vitest';
import { endUnderLoad } from '../../tests/support/edge_process';
import { WorldOnDisk } from '../../tests/support/world';
import { verify } from '@/services/verify';

const PORT = 3987;

test('kill -9 under load: every answered click and postback is on disk, none twice', { timeout: 60_000 }, async () => {
  using world = new WorldOnDisk();
  for (let round = 0; round < 3; round++) {
    const { answered, missing } = await endUnderLoad(world, PORT, 'SIGKILL', 500);
    const ids = [...answered.clicks, ...answered.receipts];
    expect([missing, new Set(ids).size]).toEqual([[], ids.length]);
  }
  world.work();
  expect(verify(world.stores).flatMap(({ wrong }) => wrong)).toEqual([]);
});

test(
  'SIGTERM under load: what was taken in is answered and committed, and it leaves well',
  { timeout: 30_000 },
  async () => {
    using world = new WorldOnDisk();
    const { missing, code } = await endUnderLoad(world, PORT, 'SIGTERM', 500);
    expect([missing, code]).toEqual([[], 0]);
  },
);
