import { type ChildProcess, spawn } from 'node:child_process';
import { existsSync } from 'node:fs';
import { Agent, get } from 'node:http';
import { openTrafficForWriting } from '@/store/traffic';
import { storeFile } from '@/services/stores';
import type { World } from './world';

const BUNDLE = 'dist/edge.mjs';
/** Enough for the edge to write them aside, and few enough at times to be written at once. */
const CONNECTIONS = 72;

/** Runs the edge as a process of its own on the files of a world. */
export async function startEdge(world: World, port: number): Promise<ChildProcess> {
  if (!existsSync(BUNDLE)) throw new Error('The edge is bundled by ./brivet test before the unit tests.');
  const env = {
    ...process.env,
    BRIVET_DATA: world.folder,
    BRIVET_EDGE_PORT: String(port),
    BRIVET_SECRET: world.stores.secret,
    BRIVET_NOW: '',
  };
  const child = spawn(process.execPath, [BUNDLE], { env, stdio: 'ignore' });
  for (let i = 0; i < 200; i++) {
    const well = await fetch(`http://127.0.0.1:${port}/healthz`).then(
      (answer) => answer.ok,
      () => false,
    );
    if (well) return child;
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
  throw new Error('The edge did not start.');
}

/** What the edge has answered: click IDs in landing addresses, receipts of postbacks. */
export interface Answered {
  readonly clicks: string[];
  readonly receipts: string[];
}

/** Clicks and postbacks on many connections until the edge is gone. */
async function pressUntilGone(world: World, port: number, answered: Answered, agent: Agent): Promise<void> {
  let orders = 0;
  const one = (postback: boolean): Promise<void> =>
    new Promise((resolve) => {
      const last = answered.clicks.at(-1) ?? '01KB0000000000000000000000';
      const path = postback
        ? `/postback?key=${world.key}&click_id=${last}&event=order&order=K${(orders += 1)}-${last.slice(-6)}&amount=10.00`
        : `/${world.link.code}?sub1=k`;
      get({ port, path, agent, headers: { 'User-Agent': 'Mozilla/5.0 Firefox/143.0' } }, (answer) => {
        const id = /bclid=(\w{26})/.exec(answer.headers.location ?? '')?.[1];
        if (id) answered.clicks.push(id);
        let body = '';
        answer.on('data', (chunk: Buffer) => (body += chunk.toString()));
        answer.on('close', () => {
          const receipt = /"receipt":"(\w{26})","received":"[^"]+"\}$/.exec(body)?.[1];
          if (receipt && answer.statusCode === 202) answered.receipts.push(receipt);
          void one(postback).then(resolve);
        });
      }).on('error', () => resolve());
    });
  await Promise.all(Array.from({ length: CONNECTIONS }, (_, i) => one(i % 4 === 0)));
}

/**
 * Ends a running edge by a signal under load.
 * @returns what it had answered, and what of that is not on disk
 */
export async function endUnderLoad(
  world: World,
  port: number,
  signal: 'SIGKILL' | 'SIGTERM',
  atLeast: number,
): Promise<{ answered: Answered; missing: string[]; code: number | null }> {
  const child = await startEdge(world, port);
  const gone = new Promise<number | null>((resolve) => child.once('exit', resolve));
  const agent = new Agent({ keepAlive: true });
  const answered: Answered = { clicks: [], receipts: [] };
  const pressing = pressUntilGone(world, port, answered, agent);
  while (answered.clicks.length < atLeast || answered.receipts.length === 0)
    await new Promise((resolve) => setTimeout(resolve, 5));
  child.kill(signal);
  await pressing;
  const code = await gone;
  agent.destroy();
  const traffic = openTrafficForWriting(storeFile('traffic', world.folder));
  const missing = [
    ...answered.clicks.filter((id) => !traffic.click(id)),
    ...answered.receipts.filter((id) => !traffic.postback(id)),
  ];
  traffic.db.close();
  return { answered, missing, code };
}
