import { execFile } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, expect, test } from 'vitest';

const folder = mkdtempSync(join(tmpdir(), 'brivet-launch-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

/** Runs a program and gathers what it says. */
const run = (file: string, args: string[], env: Record<string, string> = {}): Promise<{ code: number; said: string }> =>
  new Promise((resolve) =>
    execFile(file, args, { env: { ...process.env, ...env }, timeout: 20_000 }, (error, stdout, stderr) =>
      resolve({ code: error ? Number(error.code ?? 1) : 0, said: stdout + stderr }),
    ),
  );

const launching = (services: object): string => `
  import { launch } from ${JSON.stringify(join(process.cwd(), 'scripts/launch.mjs'))};
  await launch(${JSON.stringify(services)}, ${JSON.stringify(folder)}, () => console.log('ready'));`;

test('a busy port is named, with the way out', async () => {
  const busy = createServer();
  await new Promise<void>((resolve) => busy.listen(3991, resolve));
  const { code, said } = await run(process.execPath, [
    '--input-type=module',
    '-e',
    launching({ web: { args: ['-e', ''], port: 3991, health: '/' } }),
  ]);
  busy.close();
  expect([code, said.trim()]).toEqual([
    1,
    "Port 3991 is in use by another program, and Brivet's web needs it. Stop that program, or choose another port: BRIVET_WEB_PORT=4991 ./brivet …",
  ]);
});

test('a process that ends is started again, each time after a longer pause', async () => {
  const crashing = join(folder, 'crashing.mjs');
  writeFileSync(crashing, 'setTimeout(() => process.exit(3), 50)');
  const script = `${launching({ worker: { args: [crashing] } })}
    const say = console.log;
    let ends = 0;
    console.log = (text) => (say(text), text.includes('worker ended') && ++ends === 3 && process.kill(process.pid, 'SIGINT'));`;
  const { code, said } = await run(process.execPath, ['--input-type=module', '-e', script]);
  expect(code).toBe(0);
  expect(
    [...said.matchAll(/worker ended \(code 3\); starting it again in ([\d.]+) s/g)].map(([, pause]) => Number(pause)),
  ).toEqual([0.5, 1, 2]);
  expect(said).toContain('Stopping');
});

test('commands without data, and commands that do not exist, get a plain sentence', async () => {
  const env = { BRIVET_DATA: join(folder, 'none') };
  const verify = await run('./brivet', ['verify'], env);
  expect([verify.code, verify.said]).toEqual([1, expect.stringContaining('There is no data in')]);
  // What is missing is named, with the way out.
  for (const [command, has, missing] of [
    ['rebuild', 'books', 'traffic.db is missing'],
    ['verify', 'traffic', './brivet rebuild'],
  ] as const) {
    writeFileSync(join(folder, `${has}.db`), '');
    const { code, said } = await run('./brivet', [command], { BRIVET_DATA: folder });
    expect([code, said]).toEqual([1, expect.stringContaining(missing)]);
  }
  const nonsense = await run('./brivet', ['nonsense'], env);
  expect([nonsense.code, nonsense.said]).toEqual([1, expect.stringContaining('There is no command "nonsense"')]);
});
