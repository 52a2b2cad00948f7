import { mkdtempSync, statfsSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

const MEMORY = '/dev/shm';
const ENOUGH_BYTES = 2 ** 30;

function roomy(place: string): boolean {
  try {
    const { bavail, bsize } = statfsSync(place);
    return bavail * bsize > ENOUGH_BYTES;
  } catch {
    return false;
  }
}

/** A folder of its own, in memory where there is room: what is tried here is not the disk. */
export const testFolder = (name: string): string =>
  mkdtempSync(join(roomy(MEMORY) ? MEMORY : tmpdir(), `brivet-${name}-`));
