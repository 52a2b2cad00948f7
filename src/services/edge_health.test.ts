import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { expect, test } from 'vitest';
import { edgeTrouble } from './edge_health';

test('a tracking host that cannot write, or does not answer, waits in Today with the way out', async () => {
  let health: object = { ok: true, writable: true };
  let asked = 0;
  const server = createServer((_, response) => {
    asked += 1;
    response.end(JSON.stringify(health));
  });
  await new Promise<void>((resolve) => server.listen(0, resolve));
  const address = `http://127.0.0.1:${(server.address() as AddressInfo).port}/healthz`;
  expect(await edgeTrouble(0, address)).toBeUndefined();
  health = { ok: false, writable: false, failure: 'database or disk is full', lost: 7 };
  // What was asked a moment ago is not asked again.
  expect([await edgeTrouble(1000, address), asked]).toEqual([undefined, 1]);
  expect(await edgeTrouble(6000, address)).toMatchObject({
    urgency: 'trouble',
    why: expect.stringMatching(/disk is full.* 7 clicks were lost/),
  });
  await new Promise((resolve) => server.close(resolve));
  expect((await edgeTrouble(12_000, address))?.title).toBe('The tracking host does not answer');
});
