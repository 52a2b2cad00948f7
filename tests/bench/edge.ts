import { type ChildProcess, execFile, spawn } from 'node:child_process';
import { promisify } from 'node:util';
import { World } from '../support/world';
import type { Measure } from './main';

const run = promisify(execFile);
const CONNECTIONS = 64;
const SECONDS = 3;
const ROUNDS = 7;
const BARE_PORT = 3981;
const EDGE_PORT = 3982;
const BARE = `require('node:http').createServer((q, r) => r.writeHead(302, { Location: 'https://larkmoor.example/glaze?bclid=01KB0000000000000000000000', 'Content-Length': '0' }).end()).listen(${BARE_PORT})`;

interface Load {
  perSecond: number;
  /** Milliseconds. */
  p99: number;
}

async function load(port: number, path: string): Promise<Load> {
  const headers = [
    'User-Agent: Mozilla/5.0 (X11; Linux x86_64; rv:143.0) Gecko/20100101 Firefox/143.0',
    'Cookie: bv=0123456789abcdef0123456789abcdef',
    'Accept-Language: nl',
  ];
  const { stdout } = await run('wrk', [
    '-t1',
    `-c${CONNECTIONS}`,
    `-d${SECONDS}s`,
    '--latency',
    ...headers.flatMap((header) => ['-H', header]),
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

/** The redirect with a durable click against a bare node:http 302, in turn and under the same load. */
export async function benchEdge(): Promise<Measure[]> {
  await run('wrk', ['--version']).catch((error: NodeJS.ErrnoException) => {
    if (error.code === 'ENOENT') throw new Error('The edge is measured with wrk. On Debian: apt-get install wrk');
  });
  using world = new World();
  const env = {
    ...process.env,
    BRIVET_DATA: world.folder,
    BRIVET_EDGE_PORT: String(EDGE_PORT),
    BRIVET_SECRET: world.stores.secret,
  };
  const processes: ChildProcess[] = [
    spawn(process.execPath, ['-e', BARE], { stdio: 'ignore' }),
    spawn(process.execPath, ['dist/edge.mjs'], { env, stdio: 'ignore' }),
  ];
  try {
    await Promise.all([answering(BARE_PORT, '/'), answering(EDGE_PORT, '/healthz')]);
    const path = `/${world.link.code}?sub1=ash%20glaze&pcid=q7`;
    const bare: Load[] = [];
    const edge: Load[] = [];
    for (let round = 0; round < ROUNDS; round++) {
      bare.push(await load(BARE_PORT, '/'));
      edge.push(await load(EDGE_PORT, path));
    }
    const share = median(edge.map((one, i) => one.perSecond / (bare[i]?.perSecond ?? NaN)));
    const slower = median(edge.map((one, i) => one.p99 / (bare[i]?.p99 ?? NaN)));
    const stored = world.traffic.ends().clicks;
    console.log(
      `bare ${median(bare.map(({ perSecond }) => perSecond)).toFixed(0)}/s, edge ${median(edge.map(({ perSecond }) => perSecond)).toFixed(0)}/s, ${stored} clicks on disk`,
    );
    return [
      {
        what: 'redirect with a durable click ÷ bare 302, throughput',
        value: share.toFixed(2),
        reach: '≥ 0.50',
        reached: share >= 0.5,
      },
      { what: 'the same, p99 latency', value: `${slower.toFixed(2)} ×`, reach: '≤ 2.00 ×', reached: slower <= 2 },
    ];
  } finally {
    for (const child of processes) child.kill();
  }
}
