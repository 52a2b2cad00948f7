import { mkdirSync, writeFileSync } from 'node:fs';
import { cpus } from 'node:os';
import { join } from 'node:path';
import { benchDurability } from './durability';
import { benchBeside, benchEdge } from './edge';
import { benchImport } from './importing';
import { benchPayouts } from './payouts';
import { benchPostbacks } from './postbacks';
import { benchRating } from './rating';
import { benchReports } from './reports';
import { benchScale } from './scale';
import { benchScreens } from './screens';

/** One measured figure with what it should reach. */
export interface Measure {
  readonly what: string;
  readonly value: string;
  readonly reach: string;
  readonly reached: boolean;
}

/** "--clicks 1000000" among the arguments. */
function sizeOf(name: string, usual: number): number {
  const at = process.argv.indexOf(`--${name}`);
  const given = at < 0 ? usual : Number(process.argv[at + 1]);
  if (Number.isSafeInteger(given) && given > 0) return given;
  console.error(`--${name} takes a whole number.`);
  process.exit(1);
}
const sizes = { clicks: sizeOf('clicks', 10_000_000), conversions: sizeOf('conversions', 200_000) };

const BENCHES: Record<string, () => Promise<Measure[]>> = {
  edge: benchEdge,
  beside: benchBeside,
  durability: benchDurability,
  import: benchImport,
  payouts: benchPayouts,
  postbacks: benchPostbacks,
  rating: benchRating,
  reports: () => benchReports(sizes),
  scale: benchScale,
  screens: benchScreens,
};

const wanted = process.argv.slice(2).filter((each) => !/^(--.*|\d+)$/.test(each));
const unknown = wanted.find((name) => !Object.hasOwn(BENCHES, name));
if (unknown) {
  console.error(`There is no bench "${unknown}". There are: ${Object.keys(BENCHES).join(', ')}.`);
  process.exit(1);
}
const all: Measure[] = [];
for (const [name, bench] of Object.entries(BENCHES))
  if (wanted.length === 0 || wanted.includes(name)) all.push(...(await bench()));

const width = Math.max(...all.map(({ what }) => what.length));
for (const { what, value, reach, reached } of all)
  console.log(`${reached ? 'ok   ' : 'SHORT'} ${what.padEnd(width)}  ${value.padStart(16)}   reach ${reach}`);
const folder = join(process.env.BRIVET_DATA ?? 'data', 'bench');
mkdirSync(folder, { recursive: true });
const file = join(folder, `${new Date().toISOString().slice(0, 19).replaceAll(':', '')}.json`);
writeFileSync(
  file,
  JSON.stringify(
    { at: new Date().toISOString(), node: process.version, cores: cpus().length, cpu: cpus()[0]?.model, measures: all },
    null,
    2,
  ),
);
console.log(`Written to ${file}`);
process.exit(0);
