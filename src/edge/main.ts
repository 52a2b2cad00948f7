import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import pino from 'pino';
import { countryOf } from '@/services/countries';
import { deriveKey } from '@/services/secrets';
import { installationSecret, storeFile, systemClock } from '@/services/stores';
import { openRoutes } from '@/store/books';
import { openTrafficForWriting } from '@/store/traffic';
import { startCheckpoints } from './checkpoint';
import { configuredProxies } from './client';
import { createEdge } from './server';
import { madeUpAddresses, standInLocations } from '@/services/standins';

const log = pino({ name: 'edge' });
const port = Number(process.env.BRIVET_EDGE_PORT ?? 3100);
const traffic = openTrafficForWriting(storeFile('traffic'));
traffic.db.pragma('wal_autocheckpoint = 0');
// In KiB. The edge only ever appends: a large cache would fill with pages that nobody asks for again.
traffic.db.pragma('cache_size = -8192');
const stopCheckpoints = startCheckpoints(storeFile('traffic'));
const { server, drain } = createEdge({
  routes: openRoutes(storeFile('books')),
  traffic,
  commit: traffic.commitArrivals,
  tag: readFileSync(join(process.cwd(), 'dist', 'tag.js'), 'utf8'),
  key: deriveKey(installationSecret(), 'visitors'),
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
  const end = (): void => {
    drain();
    void stopCheckpoints().then(() => {
      traffic.db.close();
      process.exit(0);
    });
  };
  server.close(end);
  server.closeIdleConnections();
  setTimeout(end, 5000).unref();
}
process.on('SIGTERM', () => leave('SIGTERM'));
process.on('SIGINT', () => leave('SIGINT'));
