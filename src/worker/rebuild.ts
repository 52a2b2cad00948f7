import { rmSync } from 'node:fs';
import type { Stores } from '@/services/stores';
import { type RollupWriter, openRollupsForWriting } from '@/store/rollups';
import { packConversions, rollClicks, rollConversions } from './roll';

/**
 * Makes the rollups anew in a file of their own, then puts them in the place of the old in one transaction: screens
 * have one or the other, and a worker that runs meanwhile goes on from where the new ones end.
 */
export function rebuildRollups(
  stores: Stores,
  rollups: RollupWriter,
  progress: (clicks: number, of: number) => void = () => undefined,
): number {
  const file = `${rollups.db.name}.rebuilt`;
  const remove = (): void => ['', '-wal', '-shm'].forEach((ending) => rmSync(file + ending, { force: true }));
  remove();
  const fresh = openRollupsForWriting(file);
  let done = 0;
  try {
    const { clicks } = stores.traffic.ends();
    let read: number;
    do {
      read = rollClicks(stores.traffic, stores.books, fresh);
      done += read;
      progress(done, clicks);
    } while (read > 0);
    while (rollConversions({ ...stores, rollups: fresh }, fresh) > 0);
    while (packConversions(fresh));
  } finally {
    fresh.db.close();
  }
  rollups.replaceBy(file);
  remove();
  return done;
}
