import { type ChildProcess, spawn } from 'node:child_process';
import { existsSync } from 'node:fs';
import { Agent, get } from 'node:http';
import { afterEach, beforeEach, expect, test } from 'vitest';
import { World } from '../../tests/support/world';
import { openTrafficForWriting } from '@/store/traffic';
import { storeFile } from '@/services/stores';

const PORT = 3987;
const BUNDLE = 'dist/edge.mjs';
let world: World;

beforeEach(() => (world = new World()));
afterEach(() => world[Symbol.dispose]());

async function startEdge(): Promise<ChildProcess> {
  const env = {
    ...process.env,
    BRIVET_DATA: world.folder,
    BRIVET_EDGE_PORT: String(PORT),
    BRIVET_SECRET: world.stores.secret,
    BRIVET_NOW: '',
  };
  const child = spawn(process.execPath, [BUNDLE], { env, stdio: 'ignore' });
  for (let i = 0; i < 100; i++) {
    if (
      await fetch(`http://127.0.0.1:${PORT}/healthz`).then(
        (answer) => answer.ok,
        () => false,
      )
    )
      return child;
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
  throw new Error('The edge did not start.');
}

/** Clicks on many connections until the edge is gone; the click IDs of all answered clicks are put into `answered`. */
function clickUntilGone(agent: Agent, answered: string[]): Promise<unknown> {
  const one = (): Promise<void> =>
    new Promise((resolve) => {
      get(
        { port: PORT, path: `/${world.link.code}`, agent, headers: { 'User-Agent': 'Mozilla/5.0 Firefox/143.0' } },
        (answer) => {
          const id = /bclid=(\w{26})/.exec(answer.headers.location ?? '')?.[1];
          if (id) answered.push(id);
          answer.resume().on('close', () => void one().then(resolve));
        },
      ).on('error', () => resolve());
    });
  return Promise.all(Array.from({ length: 32 }, one));
}

test('kill -9 under load, three times: every answered click is on disk, none twice', { timeout: 60_000 }, async () => {
  expect(existsSync(BUNDLE), 'the edge is bundled by ./brivet test before the unit tests').toBe(true);
  for (let round = 0; round < 3; round++) {
    const child = await startEdge();
    const gone = new Promise((resolve) => child.once('exit', resolve));
    const agent = new Agent({ keepAlive: true });
    const answered: string[] = [];
    const clicking = clickUntilGone(agent, answered);
    while (answered.length < 500) await new Promise((resolve) => setTimeout(resolve, 5));
    child.kill('SIGKILL');
    await clicking;
    await gone;
    agent.destroy();
    const traffic = openTrafficForWriting(storeFile('traffic', world.folder));
    expect(new Set(answered).size).toBe(answered.length);
    expect(answered.filter((id) => !traffic.click(id))).toEqual([]);
    traffic.db.close();
  }
});
