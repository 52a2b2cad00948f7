import { existsSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { build, say, stop } from './prepare.mjs';
import { capture, run } from './run.mjs';

const CHROMIUM = '/usr/bin/chromium';

async function installChromium() {
  if (existsSync(CHROMIUM)) return;
  say('Installing Chromium for the tests');
  const sudo = process.getuid?.() === 0 ? [] : ['sudo'];
  for (const args of [
    ['apt-get', 'update'],
    ['apt-get', 'install', '-y', '--no-install-recommends', 'chromium'],
  ]) {
    const [file, ...rest] = [...sudo, ...args];
    const { code, output } = await capture(file, rest, { env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' } });
    if (code !== 0) stop(`Chromium could not be installed from Debian's packages:\n${output.slice(-2000)}`);
  }
}

const bin = (name) => join('node_modules/.bin', name);
const readJson = (file) => (existsSync(file) ? JSON.parse(readFileSync(file, 'utf8')) : undefined);

/** Format, lint, types, unit and end to end. The last line is "N passed, N failed". */
export async function test(only) {
  const folder = mkdtempSync(join(tmpdir(), 'brivet-test-'));
  let passed = 0;
  let failed = 0;
  const wanted = (name) => only.length === 0 || only.includes(name);
  const check = async (name, file, args) => {
    if (!wanted(name)) return;
    say(`— ${name}`);
    if ((await run(file, args)) === 0) passed += 1;
    else failed += 1;
  };
  const suite = async (name, file, args, env, count) => {
    if (!wanted(name)) return;
    say(`— ${name}`);
    const code = await run(file, args, { env: { ...process.env, ...env } });
    const result = count();
    if (result) {
      passed += result.passed;
      failed += result.failed;
    }
    // Without a report nobody knows what passed.
    if (!result || (code !== 0 && !result.failed)) failed += 1;
  };

  await check('format', bin('prettier'), ['--check', '--log-level', 'warn', '.']);
  await check('lint', bin('eslint'), ['--max-warnings', '0', '.']);
  if (['types', 'unit', 'e2e'].some(wanted)) await build();
  await check('types', bin('tsc'), ['--noEmit']);
  const unit = join(folder, 'unit.json');
  await suite(
    'unit',
    bin('vitest'),
    ['run', '--reporter=default', '--reporter=json', `--outputFile=${unit}`],
    {},
    () => {
      const report = readJson(unit);
      return report && { passed: report.numPassedTests, failed: report.numFailedTests };
    },
  );
  if (wanted('e2e')) {
    await installChromium();
    const e2e = join(folder, 'e2e.json');
    await suite(
      'e2e',
      bin('playwright'),
      ['test'],
      { PLAYWRIGHT_JSON_OUTPUT_NAME: e2e, BRIVET_DATA: join(folder, 'data') },
      () => {
        const stats = readJson(e2e)?.stats;
        // None is meant to be left out: one that did not run has not passed.
        return stats && { passed: stats.expected, failed: stats.unexpected + stats.flaky + stats.skipped };
      },
    );
  }
  rmSync(folder, { recursive: true, force: true });
  console.log(`${passed} passed, ${failed} failed`);
  return failed === 0 ? 0 : 1;
}
