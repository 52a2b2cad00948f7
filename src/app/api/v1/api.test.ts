import fc from 'fast-check';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { World } from '../../../../tests/support/world';
import { currency } from '@/core/money/currency';
import { addNumbers } from '@/services/calls';
import { createPartner } from '@/services/partners';
import { createProgram } from '@/services/programs';
import { sha256 } from '@/services/secrets';
import { verify } from '@/services/verify';
import type { Role } from '@/store/books/users';
import { GET } from './[...path]/route';
import { jsonSchema } from './json_schema';
import { OPERATIONS, type Operation } from './operations';

/** The route reads its stores from here, as every loaded copy of the server does. */
const shared = globalThis as { brivetStores?: World['stores'] };
let world: World;
let calls = 0;
const tokens: Partial<Record<Role | 'stranger', string>> = {};

function tokenOf(userId: number, name: string): string {
  const token = `bvt_${name}`;
  world.stores.books.users.insertToken(userId, name, sha256(token), world.clock);
  return token;
}

/** Somebody who owns another program of the same installation. */
function stranger(): number {
  const fields = {
    name: 'Someone else',
    timeZone: 'Europe/Brussels',
    country: 'BE',
    fallback: 'https://else.example/',
  };
  const more = { trackingOrigin: 'https://go.else.example', minimumPayout: '0.00', payoutDay: 1, privacy: 'cut' };
  const { id } = createProgram(world.stores, { ...fields, ...more }, 'EUR');
  const person = { email: 'owner@else.example', name: 'Else', role: 'owner' as const, partnerId: null, password: '' };
  return world.stores.books.users.insert({ programId: id, ...person, now: world.clock });
}

/** A partner who has nothing yet: whatever there is belongs to others. */
function otherPartner(): number {
  const fields = { code: 'NEWCOMER', name: 'Newcomer', kind: 'business', email: 'new@comer.example', country: 'NL' };
  return createPartner(world.stores, world.owner, { ...fields, payoutCurrency: 'EUR' }).id;
}

beforeAll(() => {
  world = new World();
  // The thread of reports opens the same files.
  Object.assign(process.env, { BRIVET_DATA: world.folder, BRIVET_SECRET: world.stores.secret });
  shared.brivetStores = world.stores;
  const click_id = world.click();
  world.report({ event: 'order', order: 'A1', amount: '100.00', click_id });
  const { offerId, channelId } = world.link;
  addNumbers(world.stores, world.owner, { numbers: ['+15550110'], offerId, use: 'channel', channelId });
  for (const role of ['owner', 'manager', 'finance', 'viewer', 'partner'] as const)
    tokens[role] = tokenOf(world.person(role, role === 'partner' ? otherPartner() : null).userId, role);
  tokens.stranger = tokenOf(stranger(), 'stranger');
});
afterAll(() => {
  delete shared.brivetStores;
  world[Symbol.dispose]();
});

interface Answer {
  status: number;
  type: string;
  body: { detail?: string; errors?: { field: string; reason: string }[] };
}

async function call(
  { method, path }: Pick<Operation, 'method' | 'path'>,
  who: keyof typeof tokens | undefined,
  { body, query = '', ids = '1' }: { body?: unknown; query?: string; ids?: string } = {},
): Promise<Answer> {
  const filled = path.replace(/\{\w+\}/g, encodeURIComponent(ids));
  const request = new Request(`http://localhost:3000/api/v1${filled}${query}`, {
    method,
    // Each call from somewhere else: wrong tokens from one place are slowed down.
    headers: {
      'x-forwarded-for': `192.0.2.${(calls += 1)}`,
      ...(who !== undefined && { authorization: `Bearer ${tokens[who]}` }),
    },
    ...(method !== 'GET' && { body: JSON.stringify(body ?? {}) }),
  });
  const answer = await GET(request, { params: Promise.resolve({ path: filled.slice(1).split('/') }) });
  const type = answer.headers.get('content-type') ?? '';
  return { status: answer.status, type, body: (await answer.json()) as Answer['body'] };
}

/** Everything in the books but notes of who tried what, and when a token was last used. */
function state(): string {
  const { db } = world.stores.books;
  const tables = db
    .prepare<[], string>(
      `SELECT name FROM sqlite_master WHERE type = 'table' AND name NOT LIKE 'sqlite%' ORDER BY name`,
    )
    .pluck()
    .all();
  return tables
    .filter((table) => !['audit', 'tokens'].includes(table))
    .map((table) => `${table} ${sha256(JSON.stringify(db.prepare(`SELECT * FROM ${table}`).all()))}`)
    .join('\n');
}

const named = OPERATIONS.map((operation) => [`${operation.method} ${operation.path}`, operation] as const);
const changing = named.filter(([, { method }]) => method !== 'GET');

describe('every operation', () => {
  test.each(named)('%s asks who calls, and is found by no other method', async (_, operation) => {
    expect((await call(operation, undefined)).status).toBe(401);
    const methods = OPERATIONS.filter(({ path }) => path === operation.path).map(({ method }) => method);
    const other = (['GET', 'POST', 'PUT', 'DELETE'] as const).find((method) => !methods.includes(method));
    if (other) expect((await call({ ...operation, method: other }, 'owner')).body.detail).toContain('Use ');
  });

  test.each(named.filter(([, { path }]) => path.includes('{')))(
    '%s knows nothing of another program',
    async (_, operation) => {
      const { status } = await call(operation, 'stranger');
      expect([403, 404, 422], `${status}`).toContain(status);
      expect((await call(operation, 'owner', { ids: '999999' })).status).not.toBe(200);
    },
  );

  test.each(named)('%s names a query parameter that it does not know', async (_, operation) => {
    const { status, body } = await call(operation, 'owner', { query: '?no_such_thing=1' });
    expect([status, body.errors?.map(({ field }) => field)]).toEqual([422, ['no_such_thing']]);
  });
});

const odd = fc.oneof(
  fc.constantFrom<unknown>(
    '',
    ' ',
    'x',
    '=1+1',
    '2026-11-31',
    '2026-12-01',
    '10.00',
    '1e9',
    'EUR',
    'https://larkmoor.example/glaze',
  ),
  fc.constantFrom<unknown>(0, 1, 2, -1, 0.5, 1e21, null, true, [], {}, [1], ['x'], [null], [{}], { a: [] }),
  fc.jsonValue({ maxDepth: 2 }),
  fc.string({ unit: 'grapheme', maxLength: 40 }),
);
/** What somebody may send: rubbish, or the right names with odd values. */
function bodies({ body }: Operation): fc.Arbitrary<unknown> {
  const { properties = {} } = (body ? jsonSchema(body(currency('EUR'))) : {}) as { properties?: object };
  const names = Object.fromEntries(Object.keys(properties).map((name) => [name, odd]));
  return fc.oneof(
    { weight: 1, arbitrary: fc.jsonValue() },
    { weight: 4, arbitrary: fc.record(names, { requiredKeys: [] }) },
  );
}
/** An answer that says what is wrong, where, and in words. */
function expectPlain({ status, type, body }: Answer): void {
  expect([200, 201, 400, 403, 404, 409, 422], `${status} ${JSON.stringify(body)}`).toContain(status);
  if (status < 400) return;
  expect(type).toBe('application/problem+json');
  expect(body.detail).toMatch(/\.$/);
  for (const { field, reason } of body.errors ?? []) expect([field, /\w/.test(reason)]).toEqual([field, true]);
}

describe('whatever is sent', () => {
  test.each(changing)('%s answers in plain words, and those who may only look change nothing', async (_, operation) => {
    const before = state();
    await fc.assert(
      fc.asyncProperty(
        bodies(operation),
        fc.constantFrom('1', '2', '0', '-1', '1.5', 'x', '9007199254740993'),
        async (body, ids) => {
          expectPlain(await call(operation, 'viewer', { body, ids }));
          expectPlain(await call(operation, 'partner', { body, ids }));
        },
      ),
      { numRuns: 10 },
    );
    expect(state()).toBe(before);
    await fc.assert(
      fc.asyncProperty(bodies(operation), async (body) => expectPlain(await call(operation, 'owner', { body }))),
      { numRuns: 15 },
    );
  });

  test('and afterwards the books still prove themselves', () => {
    world.work();
    expect(verify(world.stores).flatMap(({ wrong }) => wrong)).toEqual([]);
  });
});
