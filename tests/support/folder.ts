import { mkdtempSync, statfsSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

const MEMORY = '/dev/shm';
const ENOUGH_BYTES = 2 ** 30;
/** In memory where there is room; on the disk for what is measured, or killed while it writes. */
export type Place = 'memory' | 'disk';

function roomy(place: string): boolean {
  try {
    const { bavail, bsize } = statfsSync(place);
    return bavail * bsize > ENOUGH_BYTES;
  } catch {
    return false;
  }
}

/** A folder of its own. */
export const testFolder = (name: string, place: Place = 'memory'): string =>
  mkdtempSync(join(place === 'memory' && roomy(MEMORY) ? MEMORY : tmpdir(), `brivet-${name}-`));
