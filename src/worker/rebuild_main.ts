import { randomBytes } from 'node:crypto';
import { installationSecret, storeFile, systemClock } from '@/services/stores';
import { openBooks } from '@/store/books';
import { openRollupsForWriting } from '@/store/rollups';
import { openTrafficForReading } from '@/store/traffic';
import { rebuildRollups } from './rebuild';

const rollups = openRollupsForWriting(storeFile('rollups'));
const stores = {
  books: openBooks(storeFile('books')),
  traffic: openTrafficForReading(storeFile('traffic')),
  ...{ rollups, secret: installationSecret(), now: systemClock(), randomBytes },
};
const started = Date.now();
const clicks = rebuildRollups(stores, rollups, (done, of) =>
  process.stdout.write(`\r  ${done.toLocaleString('en')} of ${of.toLocaleString('en')} clicks`),
);
console.log(
  `\rRebuilt the rollups of ${clicks.toLocaleString('en')} clicks in ${((Date.now() - started) / 1000).toFixed(1)} s.   `,
);
