import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { dataFolder, installationSecret, systemClock } from '@/services/stores';
import { buildDemo } from './build';

const started = Date.now();
const folder = dataFolder();
const edgePort = process.env.BRIVET_EDGE_PORT ?? '3100';

const demo = await buildDemo({
  folder,
  now: systemClock()(),
  secret: installationSecret(),
  seed: 20261124,
  progress: (share, what) =>
    process.stdout.write(`\r  ${String(Math.round(share * 100)).padStart(3)} %  ${what.padEnd(40)}`),
});
const readable = { mode: 0o600 };
writeFileSync(
  join(folder, 'standins.json'),
  JSON.stringify({
    tagUrl: `http://localhost:${edgePort}/tag.js`,
    postbackUrl: `http://localhost:${edgePort}/postback`,
    callUrl: `http://localhost:${edgePort}/call`,
    numbers: demo.numbers,
    key: demo.postbackKey,
  }),
  readable,
);
writeFileSync(join(folder, 'demo.json'), JSON.stringify({ token: demo.token, builtAt: demo.now }), readable);
process.stdout.write(
  `\r  ${demo.clicks.toLocaleString('en')} clicks and ${demo.postbacks.toLocaleString('en')} postbacks in ${((Date.now() - started) / 1000).toFixed(1)} s${' '.repeat(20)}\n`,
);
