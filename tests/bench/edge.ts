import { type ChildProcess, execFile, spawn } from 'node:child_process';
import { readFileSync, statSync } from 'node:fs';
import { promisify } from 'node:util';
import { day } from '@/core/time/calendar';
import { approveDue } from '@/services/commissions';
import { storeFile } from '@/services/stores';
import { rollClicks } from '@/worker/roll';
import type { World } from '../support/world';
import { startEdge } from '../support/edge_process';
import type { Measure } from './main';
import { benchWorld, generateClicks, generatePostbacks } from './traffic';

const run = promisify(execFile);
const CONNECTIONS = 64;
/**
 * Rounds are short and many, because a shared machine changes within seconds: single ones go from half to twice their
 * median, so that fifteen of them told little.
 */
const SECONDS = 1;
const ROUNDS = 50;
const ROUNDS_BESIDE = 30;
/** What payout runs pay. */
const PAID = { clicks: 40_000, conversions: 20_000 };
const EVER = { ...{ from: day('2000-01-01'), to: day('2999-12-31') }, partnerId: null, channelId: null, offerId: null };
/** After so long what runs beside the edge is compiled. */
const WARM_MS = 3000;
const BUSY = 'dist/bench_busy.mjs';
const BARE_PORT = 3981;
const EDGE_PORT = 3982;
const BARE = `require('node:http').createServer((q, r) => r.writeHead(302, { Location: 'https://larkmoor.example/glaze?bclid=01KB0000000000000000000000', 'Content-Length': '0' }).end()).listen(${BARE_PORT})`;

/** What a browser sends when its user presses a link, and what the tracking host gave it before. */
const BROWSER = {
  'User-Agent': 'Mozilla/5.0 (X11; Linux x86_64; rv:143.0) Gecko/20100101 Firefox/143.0',
  Accept: 'text/html,application/xhtml+xml,application/xml;q=0.9,*/*;q=0.8',
  'Accept-Language': 'nl,en-US;q=0.7,en;q=0.3',
  'Accept-Encoding': 'gzip, deflate, br, zstd',
  Referer: 'https://kilnnotes.example/',
  Connection: 'keep-alive',
  Cookie: 'bv=0123456789abcdef0123456789abcdef',
  'Upgrade-Insecure-Requests': '1',
  'Sec-Fetch-Dest': 'document',
  'Sec-Fetch-Mode': 'navigate',
  'Sec-Fetch-Site': 'cross-site',
  'Sec-Fetch-User': '?1',
  Priority: 'u=0, i',
};

interface Load {
  perSecond: number;
  /** Milliseconds. */
  p99: number;
}

/** Few connections: the machine's cores are not all taken by the load, so that what is beside has its own. */
const GENTLE = 4;

async function load(port: number, path: string, connections = CONNECTIONS): Promise<Load> {
  const { stdout } = await run('wrk', [
    '-t1',
    `-c${connections}`,
    `-d${SECONDS}s`,
    '--latency',
    ...Object.entries(BROWSER).flatMap(([name, value]) => ['-H', `${name}: ${value}`]),
    `http://127.0.0.1:${port}${path}`,
  ]);
  const perSecond = Number(/Requests\/sec:\s+([\d.]+)/.exec(stdout)?.[1]);
  const [, figure = 'NaN', unit = 'ms'] = /99%\s+([\d.]+)(us|ms|s)/.exec(stdout) ?? [];
  return { perSecond, p99: Number(figure) * { us: 0.001, ms: 1, s: 1000 }[unit as 'us' | 'ms' | 's'] };
}

async function answering(port: number, path: string): Promise<void> {
  for (let i = 0; i < 100; i++) {
    if (
      await fetch(`http://127.0.0.1:${port}${path}`, { redirect: 'manual' }).then(
        () => true,
        () => false,
      )
    )
      return;
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
  throw new Error(`Nothing answers on port ${port}.`);
}

const median = (values: number[]): number => [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)] ?? NaN;

/** Resident memory of a process in MiB (Linux). */
const memoryOf = ({ pid }: ChildProcess): number =>
  Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))?.[1]) / 1024;

const needsWrk = (): Promise<unknown> =>
  run('wrk', ['--version']).catch((error: NodeJS.ErrnoException) => {
    if (error.code === 'ENOENT') throw new Error('The edge is measured with wrk. On Debian: apt-get install wrk');
  });
/** How fast the worker takes in what the edge left. */
function rolledPerSecond({ traffic, stores, rollups }: World): number {
  const started = performance.now();
  let done = 0;
  for (let read = -1; read !== 0; done += read) read = rollClicks(traffic, stores.books, rollups);
  return (done / (performance.now() - started)) * 1000;
}

const pathOf = ({ link }: World): string => `/${link.code}?sub1=ash%20glaze&pcid=q7`;

/**
 * The redirect with a durable click, with cookie, uniqueness, routing by country and a cap, against a bare node:http
 * 302, in turn and under the same load; and what the edge's memory does meanwhile.
 */
export async function benchEdge(): Promise<Measure[]> {
  await needsWrk();
  using world = benchWorld();
  const bareServer = spawn(process.execPath, ['-e', BARE], { stdio: 'ignore' });
  const edgeServer = await startEdge(world, EDGE_PORT);
  try {
    await answering(BARE_PORT, '/');
    const bare: Load[] = [];
    const edge: Load[] = [];
    await load(EDGE_PORT, pathOf(world));
    const before = memoryOf(edgeServer);
    const clicksBefore = world.traffic.ends().clicks;
    for (let round = 0; round < ROUNDS; round++) {
      bare.push(await load(BARE_PORT, '/'));
      edge.push(await load(EDGE_PORT, pathOf(world)));
    }
    const share = median(edge.map((one, i) => one.perSecond / (bare[i]?.perSecond ?? NaN)));
    const slower = median(edge.map((one, i) => one.p99 / (bare[i]?.p99 ?? NaN)));
    const clicks = world.traffic.ends().clicks - clicksBefore;
    const grown = memoryOf(edgeServer) - before;
    const written = statSync(`${storeFile('traffic', world.folder)}-wal`).size / 1024 / 1024;
    const gone = new Promise((resolve) => edgeServer.once('exit', resolve));
    edgeServer.kill();
    await gone;
    const rolled = rolledPerSecond(world) / median(edge.map(({ perSecond }) => perSecond));
    console.log(
      `bare ${median(bare.map(({ perSecond }) => perSecond)).toFixed(0)}/s, edge ${median(edge.map(({ perSecond }) => perSecond)).toFixed(0)}/s, ${clicks} clicks on disk`,
    );
    return [
      {
        what: 'redirect with a durable click ÷ bare 302, throughput',
        value: share.toFixed(2),
        reach: '≥ 0.70',
        reached: share >= 0.7,
      },
      { what: 'the same, p99 latency', value: `${slower.toFixed(2)} ×`, reach: '≤ 2.00 ×', reached: slower <= 2 },
      {
        what: `memory of the edge grown over ${clicks.toLocaleString('en')} clicks (MiB)`,
        value: grown.toFixed(0),
        reach: '≤ 48',
        reached: grown <= 48,
      },
      {
        what: 'log of the traffic file, at most (MiB)',
        value: written.toFixed(0),
        reach: '≤ 96',
        reached: written <= 96,
      },
      {
        what: 'worker: clicks rolled a second ÷ those that the edge takes in alone',
        value: rolled.toFixed(2),
        reach: '≥ 1.00',
        reached: rolled >= 1,
      },
    ];
  } finally {
    for (const child of [bareServer, edgeServer]) child.kill();
  }
}

/**
 * What a large import, reports and payout runs do to the edge's latency. Each has a process that is started once, as the
 * web application is, and stopped for the rounds of the edge alone.
 */
export async function benchBeside(): Promise<Measure[]> {
  await needsWrk();
  using world = benchWorld();
  generatePostbacks(world, generateClicks(world, PAID));
  world.work();
  approveDue(world.stores, world.owner, EVER);
  const edgeServer = await startEdge(world, EDGE_PORT);
  await load(EDGE_PORT, pathOf(world), GENTLE);
  const env = { ...process.env, BRIVET_DATA: world.folder, BRIVET_SECRET: world.stores.secret };
  const measures: Measure[] = [];
  try {
    for (const work of ['import', 'reports', 'payouts']) {
      const busy = spawn(process.execPath, [BUSY, work], { env, stdio: ['ignore', 'pipe', 'inherit'] });
      const gone = new Promise((resolve) => busy.once('exit', resolve));
      await new Promise((resolve) => busy.stdout.once('data', resolve));
      await new Promise((resolve) => setTimeout(resolve, WARM_MS));
      const alone: number[] = [];
      const beside: number[] = [];
      for (let round = 0; round < ROUNDS_BESIDE; round++) {
        beside.push((await load(EDGE_PORT, pathOf(world), GENTLE)).p99);
        busy.kill('SIGSTOP');
        alone.push((await load(EDGE_PORT, pathOf(world), GENTLE)).p99);
        busy.kill('SIGCONT');
      }
      if (busy.exitCode !== null) throw new Error(`The process of ${work} ended before it was measured.`);
      busy.kill('SIGKILL');
      await gone;
      const ratio = median(beside.map((p99, i) => p99 / (alone[i] ?? NaN)));
      measures.push({
        what: `p99 of the edge beside ${work} (alone ${median(alone).toFixed(1)} ms)`,
        value: `${ratio.toFixed(2)} ×`,
        reach: '≤ 1.50 ×',
        reached: ratio <= 1.5,
      });
    }
    return measures;
  } finally {
    edgeServer.kill();
  }
}
