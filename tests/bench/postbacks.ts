import { spawn } from 'node:child_process';
import { Agent, get } from 'node:http';
import { startEdge } from '../support/edge_process';
import type { Measure } from './main';
import { benchWorld } from './traffic';

const PORT = 3985;
const CLICKS = 20_000;
const SECONDS = 15;
/** Asked for each second: postbacks, and clicks beside them. */
const POSTBACKS = 2000;
const BESIDE = 500;
const TICK_MS = 10;
const CONNECTIONS = 128;
const PATIENCE_MS = 120_000;
const sleep = (ms: number): Promise<void> => new Promise((resolve) => setTimeout(resolve, ms));

/** Postbacks at an even pace, taken by the edge and posted by the worker, two processes of their own, beside clicks. */
export async function benchPostbacks(): Promise<Measure[]> {
  using world = benchWorld();
  const clicks = Array.from({ length: CLICKS }, (_, i) => world.click(world.link, { client: `192.0.2.${i % 250}` }));
  world.work();
  world.stores.books.db.pragma('wal_checkpoint(TRUNCATE)');
  const edge = await startEdge(world, PORT);
  const env = { ...process.env, BRIVET_DATA: world.folder, BRIVET_SECRET: world.stores.secret, BRIVET_NOW: '' };
  const worker = spawn(process.execPath, ['dist/worker.mjs'], { env, stdio: 'ignore' });
  const agent = new Agent({ keepAlive: true, maxSockets: CONNECTIONS });
  const total = POSTBACKS * SECONDS;
  const answers = { postbacks: 0, clicks: 0, others: 0, slowest: 0 };
  const ask = (path: string, kind: 'postbacks' | 'clicks', status: number): void => {
    const began = performance.now();
    get({ port: PORT, path, agent, headers: { 'User-Agent': 'Mozilla/5.0 Firefox/143.0' } }, (answer) => {
      answer.resume().on('end', () => {
        answers[answer.statusCode === status ? kind : 'others'] += 1;
        answers.slowest = Math.max(answers.slowest, performance.now() - began);
      });
    }).on('error', () => (answers.others += 1));
  };
  try {
    const began = performance.now();
    let [sent, beside] = [0, 0];
    while (sent < total) {
      const due = Math.min(total, Math.floor(((performance.now() - began) / 1000) * POSTBACKS));
      for (; sent < due; sent++) {
        const amount = `${20 + (sent % 80)}.00`;
        const click = clicks[sent % CLICKS] ?? '';
        ask(
          `/postback?key=${world.key}&click_id=${click}&event=order&order=P${sent}&amount=${amount}`,
          'postbacks',
          202,
        );
      }
      for (; beside * POSTBACKS < sent * BESIDE; beside++)
        ask(`/${world.link.code}?sub1=k${beside % 50}`, 'clicks', 302);
      await sleep(TICK_MS);
    }
    while (answers.postbacks + answers.clicks + answers.others < sent + beside) await sleep(TICK_MS);
    const taken = performance.now() - began;
    const posted = world.stores.books.db.prepare<[], number>('SELECT count(*) FROM postback_outcomes').pluck();
    while ((posted.get() ?? 0) < sent && performance.now() - began < PATIENCE_MS) await sleep(50);
    const done = performance.now() - began;
    const perSecond = (ms: number): number => Math.round(total / (ms / 1000));
    const recorded = world.stores.books.db
      .prepare<[], number>("SELECT count(*) FROM postback_outcomes WHERE outcome = 'recorded'")
      .pluck()
      .get();
    console.log(`${total} postbacks and ${beside} clicks sent; slowest answer ${answers.slowest.toFixed(0)} ms`);
    return [
      {
        what: 'postbacks taken a second, beside 500 clicks a second',
        value: perSecond(taken).toLocaleString('en'),
        reach: '≥ 1,950 of 2,000',
        reached: perSecond(taken) >= 1950 && answers.others === 0,
      },
      {
        what: `the same until the last was posted (${((done - taken) / 1000).toFixed(1)} s after it was taken)`,
        value: perSecond(done).toLocaleString('en'),
        reach: '≥ 1,800 of 2,000',
        reached: perSecond(done) >= 1800 && recorded === total,
      },
    ];
  } finally {
    agent.destroy();
    edge.kill('SIGTERM');
    worker.kill('SIGTERM');
    await Promise.all([edge, worker].map((child) => new Promise((resolve) => child.once('exit', resolve))));
  }
}
