import { createHash, randomBytes } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, readdirSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { capture } from './run.mjs';

export const say = (text) => console.log(text);
/** Ends with a plain sentence. */
export function stop(text) {
  console.error(text);
  process.exit(1);
}

const isCurrent = (stamp, mark) => existsSync(stamp) && readFileSync(stamp, 'utf8') === mark;
const tail = (text, lines = 25) => text.trim().split('\n').slice(-lines).join('\n');

/**
 * Installs by the lock file, when it or Node changed since the last time. `npm ci` would insist on an entry for every
 * platform's binaries, also those that a registry mirror does not carry.
 */
export async function installPackages() {
  const stamp = 'node_modules/.brivet-installed';
  const mark = createHash('sha256').update(readFileSync('package-lock.json')).update(process.version).digest('hex');
  if (isCurrent(stamp, mark)) return;
  for (const [tool, ask] of [
    ['c++', '--version'],
    ['make', '--version'],
    ['python3', '--version'],
  ])
    if ((await capture(tool, [ask])).code !== 0)
      stop(
        `Brivet compiles its database driver once and needs "${tool}" for that, which this machine lacks. On Debian: apt-get install build-essential python3`,
      );
  say('Installing packages (the database driver is compiled, which takes a few minutes)');
  const { code, output } = await capture('npm', ['install', '--no-save', '--no-audit', '--no-fund'], {
    env: { ...process.env, npm_config_build_from_source: 'true' },
  });
  const said = output
    .split('\n')
    .filter((line) => !line.startsWith('npm error') || !/--|alias|help/.test(line))
    .join('\n');
  if (code !== 0) stop(`npm install failed:\n${tail(said)}`);
  writeFileSync(stamp, mark);
}

function* files(folder) {
  for (const name of readdirSync(folder).sort()) {
    const path = join(folder, name);
    if (statSync(path).isDirectory()) yield* files(path);
    else if (!path.endsWith('.test.ts')) yield path;
  }
}

const NO_DATA = 'dist/no-data';

/** Bundles the servers and builds the web application, when the sources changed since the last time. */
export async function build() {
  const hash = createHash('sha256').update(process.version);
  const sources = [
    ...files('src'),
    ...files('scripts'),
    ...files('tests/bench'),
    'package-lock.json',
    'next.config.ts',
    'tsconfig.json',
  ];
  for (const path of sources) hash.update(path).update(readFileSync(path));
  const mark = hash.digest('hex');
  const stamp = 'dist/.built';
  if (isCurrent(stamp, mark)) return;
  say('Building');
  rmSync(NO_DATA, { recursive: true, force: true });
  const builds = await Promise.all([
    capture(process.execPath, ['scripts/bundle.mjs']),
    capture(process.execPath, ['node_modules/next/dist/bin/next', 'build'], {
      env: { ...process.env, NODE_ENV: 'production', BRIVET_DATA: NO_DATA },
    }),
  ]);
  for (const { code, output } of builds) if (code !== 0) stop(`The build failed:\n${tail(output, 60)}`);
  // A page that reads the books before it is asked for would make them while it is built.
  if (existsSync(NO_DATA)) stop(`The build opened a database in ${NO_DATA}. A page reads it without a request.`);
  writeFileSync(stamp, mark);
}

/** Made once and kept beside the data. Whoever has both can open payout details. */
export function installationSecret(data) {
  const file = join(data, 'secret');
  if (!existsSync(file)) {
    mkdirSync(data, { recursive: true });
    writeFileSync(file, randomBytes(32).toString('hex'), { mode: 0o600 });
  }
  return readFileSync(file, 'utf8').trim();
}
