import { randomBytes } from 'node:crypto';
import pino from 'pino';
import { runCommissionTimetable } from '@/services/commissions';
import { checkDestinations } from '@/services/destinations';
import { matchLate } from '@/services/matching';
import { reviewConversions } from '@/services/reviews';
import { standInLocations } from '@/services/standins';
import { shiftWeights } from '@/services/splits';
import { type Stores, installationSecret, storeFile, systemClock } from '@/services/stores';
import { openBooks } from '@/store/books';
import { openRollupsForWriting } from '@/store/rollups';
import { openTrafficForReading } from '@/store/traffic';
import { postPostbacks } from './post';
import { packConversions, rollClicks, rollConversions } from './roll';

/** How often the traffic is looked at when it is quiet: well within the 2 seconds to the screen. */
const QUIET_MS = 150;
const TIMETABLE_MS = 30_000;

const log = pino({ name: 'worker' });
const rollups = openRollupsForWriting(storeFile('rollups'));
const stores: Stores = {
  books: openBooks(storeFile('books')),
  traffic: openTrafficForReading(storeFile('traffic')),
  rollups,
  secret: installationSecret(),
  now: systemClock(),
  randomBytes,
};

const chain = { locationOf: standInLocations(process.env.BRIVET_STANDIN_HOSTS) };
let checking = false;
let leaving = false;
let lastVersion = -1;
let lastTimetable = 0;

function work(): void {
  const version = stores.traffic.version();
  if (version !== lastVersion) {
    while (!leaving && postPostbacks(stores) > 0);
    while (!leaving && rollClicks(stores.traffic, stores.books, rollups) > 0);
    lastVersion = version;
  }
  // Our own commits do not move the version: the position says whether there is anything.
  let told = 0;
  for (let read = -1; !leaving && read !== 0; told += read) read = rollConversions(stores, rollups);
  for (let looked = -1; !leaving && looked !== 0;) looked = reviewConversions(stores, rollups);
  // Only when all is told: what still changes would be packed for nothing.
  if (told === 0) packConversions(rollups);
  if (Date.now() - lastTimetable > TIMETABLE_MS) {
    lastTimetable = Date.now();
    for (const { id } of stores.books.programs.all()) {
      matchLate(stores, id);
      runCommissionTimetable(stores, id);
      shiftWeights(stores, id);
    }
    void checkPages();
  }
}

/** Pages are asked for beside the traffic: nothing waits for a slow one. */
async function checkPages(): Promise<void> {
  if (checking) return;
  checking = true;
  try {
    for (const { id } of stores.books.programs.all()) {
      let looked: number;
      do looked = await checkDestinations(stores, id, chain);
      while (looked > 0 && !leaving);
    }
  } catch (error) {
    log.warn({ err: error }, 'pages could not be checked');
  } finally {
    checking = false;
  }
}

function next(): void {
  if (leaving) {
    rollups.db.close();
    stores.books.db.close();
    process.exit(0);
  }
  try {
    work();
  } catch (error) {
    // A locked database passes; anything else is for the launcher, which restarts with a back-off.
    if (!(error instanceof Error && 'code' in error && error.code === 'SQLITE_BUSY')) throw error;
    log.warn({ err: error }, 'books are busy, trying again');
  }
  setTimeout(next, QUIET_MS);
}

log.info('reading traffic');
next();
process.on('SIGTERM', () => (leaving = true));
process.on('SIGINT', () => (leaving = true));
