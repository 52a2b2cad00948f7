// The commands of ./brivet. Plain JavaScript without packages: it runs before anything is installed.
import { existsSync, readFileSync, rmSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { launch } from './launch.mjs';
import { run } from './run.mjs';
import { build, installPackages, installationSecret, say, stop } from './prepare.mjs';
import { test } from './test.mjs';

const [command = 'help', ...rest] = process.argv.slice(2);
process.env.NEXT_TELEMETRY_DISABLED = '1';
const data = resolve(process.env.BRIVET_DATA ?? 'data');
process.env.BRIVET_DATA = data;
const port = (name, preset) => Number((process.env[name] ??= String(preset)));
const web = port('BRIVET_WEB_PORT', 3000);
const edge = port('BRIVET_EDGE_PORT', 3100);
const standins = port('BRIVET_STANDINS_PORT', 3200);

const node = (file, args = []) => run(process.execPath, ['--enable-source-maps', join('dist', `${file}.mjs`), ...args]);

async function ready() {
  await installPackages();
  await build();
  process.env.BRIVET_SECRET ??= installationSecret(data);
}

const MISSING = {
  traffic: 'Clicks and postbacks as they came stand in it. Bring it back from a backup.',
  rollups: 'The counts that reports are made of stand in it. Make it anew: ./brivet rebuild',
};

/** For commands that look at data somebody has made. @param stores that are needed beside the books */
async function readyWithData(stores) {
  if (!existsSync(join(data, 'books.db')))
    stop(`There is no data in ${data} yet. ./brivet demo makes some to look at, ./brivet found begins your own.`);
  for (const store of stores) {
    const file = join(data, `${store}.db`);
    if (!existsSync(file)) stop(`${file} is missing. ${MISSING[store]}`);
  }
  await ready();
}

const services = {
  edge: { args: ['--enable-source-maps', 'dist/edge.mjs'], port: edge, health: '/healthz' },
  worker: { args: ['--enable-source-maps', 'dist/worker.mjs'] },
  web: { args: ['node_modules/next/dist/bin/next', 'start', '-p', String(web)], port: web, health: '/healthz' },
};

const commands = {
  /** Everything for a look around: made-up data, all servers, the stand-ins. */
  async demo() {
    await ready();
    process.env.BRIVET_DEMO = '1';
    process.env.BRIVET_COUNTRIES ??= 'src/demo/countries.csv';
    process.env.BRIVET_STANDINS_FILE = join(data, 'standins.json');
    process.env.BRIVET_STANDIN_HOSTS = `go.larkmoor.example=http://localhost:${edge} larkmoor.example=http://localhost:${standins} www.larkmoor.example=http://localhost:${standins}`;
    const made = join(data, 'demo.json');
    if (rest.includes('--fresh') || !existsSync(made)) {
      if (existsSync(join(data, 'books.db')) && !existsSync(made) && !rest.includes('--fresh'))
        stop(`${data} holds data that is not the demo's. Choose another folder: BRIVET_DATA=demo-data ./brivet demo`);
      for (const name of ['books', 'traffic', 'rollups'])
        for (const ending of ['', '-wal', '-shm']) rmSync(join(data, `${name}.db${ending}`), { force: true });
      rmSync(made, { force: true });
      say('Making the demo data: 120 days of Larkmoor Kilns');
      if ((await node('demo')) !== 0) stop('The demo data could not be made; the reason stands above.');
    }
    await node('prepare', ['--quiet']);
    await launch(
      {
        ...services,
        standins: { args: ['--enable-source-maps', 'dist/standins.mjs'], port: standins, health: '/healthz' },
      },
      data,
      () => {
        say(`API token: ${JSON.parse(readFileSync(made, 'utf8')).token}`);
        say(`Brivet is ready: http://localhost:${web}`);
      },
    );
  },
  async start() {
    await ready();
    if ((await node('prepare')) === 3) stop('There is no program in the books yet. Found one first: ./brivet found');
    await launch(services, data, () => say(`Brivet is ready: http://localhost:${web}`));
  },
  async found() {
    await ready();
    await node('prepare', ['--quiet']);
    process.exitCode = await node('found');
  },
  async verify() {
    await readyWithData(['traffic', 'rollups']);
    process.exitCode = await node('verify');
  },
  async rebuild() {
    await readyWithData(['traffic']);
    process.exitCode = await node('rebuild');
  },
  async backup() {
    await readyWithData(['traffic', 'rollups']);
    process.exitCode = await node('backup', rest);
  },
  async bench() {
    await ready();
    process.exitCode = await node('bench', rest);
  },
  async test() {
    await installPackages();
    process.exitCode = await test(rest);
  },
  help() {
    console.log(`./brivet demo [--fresh]   made-up data and all servers, for a look around
./brivet test             everything that proves it works
./brivet found            found your own program
./brivet start            run it
./brivet verify           prove what is on file
./brivet rebuild          make the rollups anew from the traffic
./brivet backup FOLDER    copy the databases while everything runs
./brivet bench [NAME]     measure: edge, beside, durability, import, payouts, postbacks, rating, reports, scale, screens`);
  },
};

const chosen = Object.hasOwn(commands, command) ? commands[command] : undefined;
if (!chosen) {
  console.error(`There is no command "${command}".`);
  commands.help();
  process.exit(1);
}
await chosen();
