import { spawn } from 'node:child_process';
import { createWriteStream, mkdirSync } from 'node:fs';
import { createServer } from 'node:net';
import { setPriority } from 'node:os';
import { join } from 'node:path';
import { say, stop } from './prepare.mjs';

const FIRST_PAUSE_MS = 500;
const LONGEST_PAUSE_MS = 30_000;
const STABLE_MS = 60_000;
const STARTING_MS = 60_000;
const LEAVING_MS = 8000;
/** Priority of everything but the edge, as of nice(1). */
export const BEHIND_THE_EDGE = 10;

const portIsFree = (port) =>
  new Promise((resolve) => {
    const probe = createServer();
    probe.once('error', () => resolve(false));
    probe.listen(port, () => probe.close(() => resolve(true)));
  });

const VARIABLES = { web: 'BRIVET_WEB_PORT', edge: 'BRIVET_EDGE_PORT', standins: 'BRIVET_STANDINS_PORT' };

/** Runs the services as processes of their own, restarts one that crashes, and ends all of them on Ctrl C. */
export async function launch(services, data, whenReady) {
  for (const [name, { port }] of Object.entries(services))
    if (port && !(await portIsFree(port)))
      stop(
        `Port ${port} is in use by another program, and Brivet's ${name} needs it. Stop that program, or choose another port: ${VARIABLES[name]}=${port + 1000} ./brivet …`,
      );
  const logs = join(data, 'logs');
  mkdirSync(logs, { recursive: true });
  const running = new Map();
  let leaving = false;

  function start(name, pause = FIRST_PAUSE_MS) {
    const log = createWriteStream(join(logs, `${name}.log`), { flags: 'a' });
    const since = Date.now();
    // A group of its own: Ctrl C in the terminal reaches only us, and we end the services in order.
    const child = spawn(process.execPath, services[name].args, {
      stdio: ['ignore', 'pipe', 'pipe'],
      detached: true,
      env: { ...process.env, NODE_ENV: 'production' },
    });
    // Where processors are short, visitors go first.
    if (name !== 'edge' && child.pid) setPriority(child.pid, BEHIND_THE_EDGE);
    child.stdout.pipe(log, { end: false });
    child.stderr.pipe(log, { end: false });
    running.set(name, child);
    child.on('exit', (code, signal) => {
      log.end();
      running.delete(name);
      if (leaving) return;
      const next = Date.now() - since > STABLE_MS ? FIRST_PAUSE_MS : Math.min(pause * 2, LONGEST_PAUSE_MS);
      say(
        `${name} ended (${signal ?? `code ${code}`}); starting it again in ${pause / 1000} s. Its log: ${join(logs, `${name}.log`)}`,
      );
      setTimeout(() => !leaving && start(name, next), pause);
    });
  }

  async function leave(code = 0) {
    if (leaving) return;
    leaving = true;
    say('\nStopping');
    const ended = [...running.values()].map((child) => new Promise((resolve) => child.once('exit', resolve)));
    for (const child of running.values()) child.kill('SIGTERM');
    const late = setTimeout(() => [...running.values()].forEach((child) => child.kill('SIGKILL')), LEAVING_MS);
    await Promise.all(ended);
    clearTimeout(late);
    process.exit(code);
  }
  process.on('SIGINT', () => void leave());
  process.on('SIGTERM', () => void leave());

  say(`Starting ${Object.keys(services).join(', ')}`);
  for (const name of Object.keys(services)) start(name);
  const deadline = Date.now() + STARTING_MS;
  for (const [name, { port, health }] of Object.entries(services)) {
    if (!port) continue;
    while (
      !(await fetch(`http://localhost:${port}${health}`).then(
        (answer) => answer.ok,
        () => false,
      ))
    ) {
      if (leaving) return;
      if (Date.now() > deadline) {
        console.error(`${name} does not answer on port ${port}. Its log: ${join(logs, `${name}.log`)}`);
        return leave(1);
      }
      await new Promise((resolve) => setTimeout(resolve, 100));
    }
  }
  whenReady();
}
