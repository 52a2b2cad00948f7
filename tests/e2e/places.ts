import { tmpdir } from 'node:os';
import { join } from 'node:path';

/** Ports of their own, so that the tests run beside a demo. */
export const PORTS = { BRIVET_WEB_PORT: '3700', BRIVET_EDGE_PORT: '3710', BRIVET_STANDINS_PORT: '3720' };
export const WEB = `http://localhost:${PORTS.BRIVET_WEB_PORT}`;
export const EDGE = `http://localhost:${PORTS.BRIVET_EDGE_PORT}`;
export const DATA = process.env.BRIVET_E2E_DATA ?? join(process.env.BRIVET_DATA ?? join(tmpdir(), 'brivet-e2e'), 'e2e');

export const PEOPLE = {
  manager: { email: 'ines@larkmoor.example', password: 'kiln-and-clay' },
  finance: { email: 'teun@larkmoor.example', password: 'glaze-by-numbers' },
};
