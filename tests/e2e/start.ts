import { spawn } from 'node:child_process';
import { DATA, PORTS } from './places';

const READY_MS = 240_000;

/** Starts the demo as a user would, with data of its own, and ends it as Ctrl C does. */
export default async function start(): Promise<() => Promise<void>> {
  const env = { ...process.env, ...PORTS, BRIVET_DATA: DATA };
  const demo = spawn(process.execPath, ['scripts/brivet.mjs', 'demo', '--fresh'], {
    env,
    stdio: ['ignore', 'pipe', 'pipe'],
  });
  let said = '';
  await new Promise<void>((resolve, reject) => {
    const late = setTimeout(() => reject(new Error(`The demo was not ready in time:\n${said}`)), READY_MS);
    const listen = (chunk: Buffer): void => {
      said += chunk.toString();
      if (!said.includes('Brivet is ready')) return;
      clearTimeout(late);
      resolve();
    };
    demo.stdout.on('data', listen);
    demo.stderr.on('data', listen);
    demo.on('exit', (code) => reject(new Error(`The demo ended with ${code}:\n${said}`)));
  });
  return async () => {
    const ended = new Promise<number | null>((resolve) => demo.once('exit', resolve));
    demo.kill('SIGINT');
    const code = await ended;
    if (code !== 0) throw new Error(`The demo did not end cleanly (${code}):\n${said.slice(-2000)}`);
    for (const port of Object.values(PORTS))
      if (
        await fetch(`http://localhost:${port}/healthz`).then(
          () => true,
          () => false,
        )
      )
        throw new Error(`Something still answers on port ${port}.`);
  };
}
