import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import pino from 'pino';
import { countryOf } from '@/services/countries';
import { deriveKey } from '@/services/secrets';
import { installationSecret, storeFile, systemClock } from '@/services/stores';
import { openRoutes } from '@/store/books';
import type { Arrivals } from '@/store/traffic';
import { openForAppending } from './appending';
import { startCheckpoints } from './checkpoint';
import { configuredProxies } from './client';
import { startCommits } from './commit_thread';
import { createEdge } from './server';
import { madeUpAddresses, standInLocations } from '@/services/standins';

const log = pino({ name: 'edge' });
const port = Number(process.env.BRIVET_EDGE_PORT ?? 3100);
const traffic = openForAppending(storeFile('traffic'));
const { aside, stop: stopCommits } = await startCommits(storeFile('traffic'));
const stopCheckpoints = startCheckpoints(storeFile('traffic'));
const here = (arrivals: Arrivals): void => {
  traffic.commitArrivals([arrivals]);
  traffic.keepLogShort();
};
const { server, drain } = createEdge({
  routes: openRoutes(storeFile('books')),
  traffic,
  commits: { here, aside },
  tag: readFileSync(join(process.cwd(), 'dist', 'tag.js'), 'utf8'),
  key: deriveKey(installationSecret(), 'visitors'),
  keys: {
    signatures: deriveKey(installationSecret(), 'postback signatures'),
    customers: deriveKey(installationSecret(), 'customers'),
  },
  now: systemClock(),
  countryOf,
  proxies: configuredProxies(process.env.BRIVET_PROXIES),
  locationOf: standInLocations(process.env.BRIVET_STANDIN_HOSTS),
  pageOf: madeUpAddresses(process.env.BRIVET_STANDIN_HOSTS),
  report: (error) => log.error({ err: error }, 'could not commit'),
});

server.listen(port, () => log.info({ port }, 'listening'));

let leaving = false;
function leave(signal: string): void {
  if (leaving) return;
  leaving = true;
  log.info({ signal }, 'draining');
  const end = async (): Promise<void> => {
    await drain();
    await Promise.all([stopCheckpoints(), stopCommits()]);
    traffic.db.close();
    process.exit(0);
  };
  server.close(() => void end());
  server.closeIdleConnections();
  setTimeout(() => void end(), 5000).unref();
}
process.on('SIGTERM', () => leave('SIGTERM'));
process.on('SIGINT', () => leave('SIGINT'));
