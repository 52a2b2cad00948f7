import { randomBytes } from 'node:crypto';
import { join } from 'node:path';
import type { Currency } from '@/core/money/currency';
import { type Day, type Instant, dayOf } from '@/core/time/days';
import { type Books, openBooks } from '@/store/books';
import type { ProgramRow } from '@/store/books/programs';
import { type RollupReader, openRollupsForReading } from '@/store/rollups';
import { type TrafficReader, openTrafficForReading } from '@/store/traffic';

/** All that a use case works with. The clock is a function, so that tests and pictures choose their 'now'. */
export interface Stores {
  readonly books: Books;
  readonly traffic: TrafficReader;
  readonly rollups: RollupReader;
  readonly secret: string;
  now(): Instant;
  /** Random bytes for link codes. */
  randomBytes(count: number): Uint8Array;
}

export const dataFolder = (): string => process.env.BRIVET_DATA ?? 'data';
export const storeFile = (name: 'books' | 'traffic' | 'rollups', folder = dataFolder()): string =>
  join(folder, `${name}.db`);

/** `BRIVET_NOW` stands in for the clock; without it the system's clock runs. */
export function systemClock(): () => Instant {
  const fixed = process.env.BRIVET_NOW;
  if (!fixed) return Date.now;
  const instant = Date.parse(fixed);
  if (Number.isNaN(instant)) throw new Error(`BRIVET_NOW is "${fixed}", which is not an ISO 8601 time.`);
  return () => instant;
}

export function installationSecret(): string {
  const secret = process.env.BRIVET_SECRET;
  if (!secret)
    throw new Error('BRIVET_SECRET is not set. ./brivet makes one in the data folder; see docs/operations.md.');
  return secret;
}

/** The files alone, for a thread that only counts. */
export const openFiles = (): Pick<Stores, 'books' | 'traffic' | 'rollups'> => ({
  books: openBooks(storeFile('books')),
  traffic: openTrafficForReading(storeFile('traffic')),
  rollups: openRollupsForReading(storeFile('rollups')),
});

export const openStores = (): Stores => ({
  ...openFiles(),
  secret: installationSecret(),
  now: systemClock(),
  randomBytes,
});

export function programOf({ books }: Stores, programId: number): ProgramRow & { currency: Currency } {
  const program = books.programs.byId(programId);
  if (!program) throw new Error(`Program ${programId} is not in the books.`);
  return program;
}

/** All hosts of a program on which its links are answered, the one new links bear first. */
export const trackingOrigins = ({ trackingOrigin, otherOrigins }: ProgramRow): string[] => [
  trackingOrigin,
  ...otherOrigins,
];

/** The tracking host's own process, on this machine. */
export const edgeOrigin = (): string => `http://localhost:${process.env.BRIVET_EDGE_PORT ?? '3100'}`;

/** Whether a request for this host, "go.larkmoor.example", is one for a link. */
export const isTrackingHost = ({ books }: Stores, host: string): boolean =>
  books.programs.all().some((program) => trackingOrigins(program).some((origin) => new URL(origin).host === host));

export const todayIn = (stores: Stores, programId: number): Day =>
  dayOf(stores.now(), programOf(stores, programId).timeZone);
