import fc from 'fast-check';
import { afterEach, beforeEach, describe, expect, test } from 'vitest';
import type { AddressInfo } from 'node:net';
import { request } from 'node:http';
import { connect } from 'node:net';
import { type AddressSet, readRanges } from '@/core/clicks/addresses';
import { World } from '../../tests/support/world';
import { EMPTY_PLAN, type Condition, type RoutingPlan } from '@/core/routing/plan';
import { addNumbers } from '@/services/calls';
import { saveAddressList } from '@/services/address_lists';
import { readOffer, updateOffer } from '@/services/offers';
import { programFields, readProgram, updateProgram } from '@/services/programs';
import { savePlan } from '@/services/routing';
import { giveAlias, setLinkState } from '@/services/links';
import { setPartnerState } from '@/services/partners';
import { verify } from '@/services/verify';
import { openRoutes } from '@/store/books';
import { readSigningSecret, renewSigningSecret } from '@/services/programs';
import { deriveKey, hmac } from '@/services/secrets';
import { storeFile } from '@/services/stores';
import type { Arrivals } from '@/store/traffic';
import { type EdgeParts, createEdge } from './server';
import { keptAddress } from './visitors';

const ID_OF_NOBODY = '01KB0000000000000000000000';
const AGENT = 'Mozilla/5.0 (X11; Linux x86_64; rv:143.0) Gecko/20100101 Firefox/143.0';
let world: World;
let edge: ReturnType<typeof createEdge>;
let base: string;
let full = false;
let trusted: AddressSet | undefined;
let limits: EdgeParts['limits'];

beforeEach(async () => {
  world = new World();
  await open();
});

function store(arrivals: Arrivals): void {
  if (full) throw new Error('database or disk is full');
  world.traffic.commitArrivals([arrivals]);
}

/** Opens an edge on the world's files, as a restart does. */
async function open(): Promise<void> {
  edge = createEdge({
    routes: openRoutes(storeFile('books', world.folder)),
    traffic: world.traffic,
    commits: { here: store, aside: async (arrivals) => store(arrivals) },
    key: Buffer.alloc(32),
    keys: {
      signatures: deriveKey(world.stores.secret, 'postback signatures'),
      customers: deriveKey(world.stores.secret, 'customers'),
    },
    now: world.stores.now,
    countryOf: (address) => (address === '198.51.100.9' ? 'BE' : 'NL'),
    proxies: trusted,
    limits,
    tag: 'the page tag',
    pageOf: (address) => address.replace('http://localhost:3200', 'https://larkmoor.example'),
    report: () => undefined,
  });
  await new Promise<void>((resolve) => edge.server.listen(0, resolve));
  base = `http://127.0.0.1:${(edge.server.address() as AddressInfo).port}`;
}
async function close(): Promise<void> {
  await new Promise((resolve) => {
    edge.server.close(resolve);
    edge.server.closeAllConnections();
  });
}
afterEach(async () => {
  trusted = undefined;
  await close();
  world[Symbol.dispose]();
});

const get = (path: string, headers: Record<string, string> = {}, method = 'GET'): Promise<Response> =>
  fetch(base + path, { redirect: 'manual', method, headers: { 'User-Agent': AGENT, ...headers } });
const click = (seq: number) => world.traffic.clickBySeq(seq);
const location = (answer: Response): URL => new URL(answer.headers.get('location') ?? 'none:');

describe('a click', () => {
  test('is on disk when the visitor is sent on, with its ID in the landing address', async () => {
    const answer = await get(
      `/${world.link.code}?sub1=ash%20glaze&pcid=q1&to=https%3A%2F%2Flarkmoor.example%2Fglaze%2Fash%3Fsize%3D2%23top`,
    );
    expect([answer.status, answer.headers.get('cache-control')]).toEqual([302, 'no-store']);
    const stored = click(1);
    expect(location(answer).href).toBe(`https://larkmoor.example/glaze/ash?size=2&bclid=${stored?.clickId}#top`);
    expect(stored).toMatchObject({ isUnique: 1, setAside: null, via: 'deep_link', client: '127.0.0.0', flags: null });
  });

  test('is a repeat by cookie, and by the day’s hash without one', async () => {
    const first = await get(`/${world.link.code}`);
    const cookie = first.headers.get('set-cookie')?.split(';')[0] ?? '';
    expect(first.headers.get('set-cookie')).toMatch(
      /^bv=[0-9a-f]{32}; Path=\/; Max-Age=31536000; HttpOnly; SameSite=Lax$/,
    );
    await get(`/${world.link.code}`, { Cookie: cookie });
    await get(`/${world.link.code}`);
    await get(`/${world.link.code}`, { 'User-Agent': `${AGENT} other` });
    world.pass(1.01);
    await get(`/${world.link.code}`, { Cookie: cookie });
    expect([1, 2, 3, 4, 5].map((seq) => click(seq)?.isUnique)).toEqual([1, 0, 0, 1, 1]);
  });

  test.each<[string, Record<string, string>, string]>([
    ['HEAD', {}, 'head'],
    ['GET', { 'Sec-Purpose': 'prefetch;prerender' }, 'prefetch'],
    ['GET', { 'User-Agent': 'linkchecker/10.2' }, 'bot'],
    ['GET', { 'User-Agent': '' }, 'bot'],
  ])('%s %o is set aside, and the visitor is sent on all the same', async (method, headers, reason) => {
    const answer = await get(`/${world.link.code}`, headers, method);
    expect([answer.status, click(1)?.setAside, click(1)?.isUnique]).toEqual([302, reason, 0]);
  });

  test('of a paused link or partner leads to the fallback at once', async () => {
    await get(`/${world.link.code}`);
    setLinkState(world.stores, world.owner, world.link.id, 'paused');
    expect(location(await get(`/${world.link.code}`)).href).toBe('https://larkmoor.example/');
    setLinkState(world.stores, world.owner, world.link.id, 'live');
    setPartnerState(world.stores, world.owner, world.link.partnerId, 'paused');
    expect(location(await get(`/${world.link.code}`)).href).toBe('https://larkmoor.example/');
    expect([click(2)?.setAside, click(3)?.setAside]).toEqual(['paused', 'paused']);
  });

  test.each([
    'https://evil.example/',
    '//evil.example',
    'javascript:alert(1)',
    'https://larkmoor.example@evil.example/',
    'https://larkmoor.example:8443/',
  ])('to %s is never followed', async (to) => {
    const answer = await get(`/${world.link.code}?to=${encodeURIComponent(to)}`);
    expect(location(answer).host).toBe('larkmoor.example');
    expect(click(1)?.flags).toBe('to_refused');
  });

  test('on a placeholder that was never filled is flagged with its slot', async () => {
    await get(`/${world.link.code}?sub1={{keyword}}&sub2=[MATCH]&sub3=ok`);
    expect(click(1)?.flags).toBe('unfilled:sub1,sub2');
  });

  test('of an unknown code gets a page that says so, and is counted', async () => {
    for (const path of ['/zzzzzzzz', '/', '/a/b', '/%00%ff', `/${'x'.repeat(3000)}`]) {
      const answer = await get(path);
      expect([answer.status, (await answer.text()).includes('does not lead anywhere')]).toEqual([404, true]);
    }
    expect(await (await get('/healthz')).json()).toMatchObject({ ok: true, unknownCodes: 5, clicks: 0 });
  });
});

describe('a landing without a redirect', () => {
  const ID = '01KB0000000000000000000000';
  const hit = (body: unknown, headers: Record<string, string> = {}): Promise<Response> =>
    fetch(`${base}/hit`, {
      method: 'POST',
      body: typeof body === 'string' ? body : JSON.stringify(body),
      headers: { 'Content-Type': 'text/plain', 'User-Agent': AGENT, ...headers },
    });
  const landing = (query: string, more: object = {}) => ({
    id: ID,
    ref: world.link.code,
    page: `https://larkmoor.example/glaze?${query}#top`,
    referrer: 'https://slowwheel.example/review',
    ...more,
  });

  test('is a click like any other, with the values of the page and the ID of the tag', async () => {
    const answer = await hit(landing('size=2&ref=x&sub1=ash%20glaze&pcid={{cid}}'));
    expect([answer.status, answer.headers.get('access-control-allow-origin')]).toEqual([204, '*']);
    expect(click(1)).toMatchObject({
      clickId: ID,
      via: 'page',
      isUnique: 1,
      setAside: null,
      flags: 'unfilled:pcid',
      referrer: 'https://slowwheel.example/review',
    });
    world.work();
    expect(world.log()[0]?.facts.sub1).toBe('ash glaze');
    const receipt = world.report({ event: 'order', order: 'D1', amount: '10.00', click_id: ID });
    expect(world.outcome(receipt)?.outcome).toBe('recorded');
  });

  test('sent again, or with an ID that stands already, changes nothing, and harms nobody beside it', async () => {
    const answers = await Promise.all([hit(landing('')), hit(landing('sub1=other')), get(`/${world.link.code}`)]);
    expect(answers.map(({ status }) => status)).toEqual([204, 204, 302]);
    expect(world.traffic.ends().clicks).toBe(2);
    expect(world.traffic.click(ID)?.query).toBe('');
  });

  test('from a foreign page, a bot, or of a paused link is flagged or set aside, by alias as well', async () => {
    await hit(landing('', { page: 'https://elsewhere.example/' }));
    await hit(landing('', { id: ID.replace('KB', 'KC') }), { 'User-Agent': 'linkchecker/10.2' });
    await hit(landing('', { id: ID.replace('KB', 'KD'), page: 'http://localhost:3200/glaze' }));
    giveAlias(world.stores, world.owner, world.link.id, { alias: 'spring' });
    setLinkState(world.stores, world.owner, world.link.id, 'paused');
    await hit(landing('', { id: ID.replace('KB', 'KE'), ref: 'Spring' }));
    expect([1, 2, 3, 4].map((seq) => [click(seq)?.flags, click(seq)?.setAside])).toEqual([
      ['foreign_page', null],
      [null, 'bot'],
      [null, null],
      [null, 'paused'],
    ]);
  });

  test('malformed is answered with a reason, an unknown reference is counted, nothing is stored', async () => {
    for (const body of [
      '',
      '{',
      '[]',
      landing('', { id: 'x' }),
      landing('', { page: 'javascript:alert(1)' }),
      landing('', { ref: 7 }),
      'x'.repeat(70_000),
    ])
      expect((await hit(body)).status).toBe(400);
    expect((await hit(landing('', { ref: 'nobody00' }))).status).toBe(204);
    expect((await get('/hit')).status).toBe(405);
    expect(world.traffic.ends()).toMatchObject({ clicks: 0, unknownCodes: 1 });
  });

  test('tells whose the click is: of a landing, and of one that a redirect had brought', async () => {
    const visitor = ID.replace('KB', 'KV');
    await hit(landing('', { visitor }));
    world.clock += 1000;
    const redirected = world.click(world.link, { client: '192.0.2.99' });
    expect((await hit({ id: redirected, visitor })).status).toBe(204);
    expect((await hit({ id: redirected, visitor })).status).toBe(204);
    expect(world.traffic.clicksOfVisitor(visitor, 9).map(({ clickId }) => clickId)).toEqual([ID, redirected]);
    for (const wrong of [
      { id: ID.replace('KB', 'KW'), visitor },
      { id: redirected },
      { id: redirected, visitor: 'somebody' },
    ])
      expect((await hit(wrong)).status).toBe(400);
  });

  test('is shown a number of its own while it lasts, else its channel’s, also after a restart', async () => {
    const { offerId, channelId } = world.link;
    addNumbers(world.stores, world.owner, { numbers: ['+15550120'], offerId, use: 'visits' });
    addNumbers(world.stores, world.owner, { numbers: ['+15550110'], offerId, use: 'channel', channelId });
    const visitors = ['192.0.2.1', '192.0.2.2'].map((client) => world.click(world.link, { client }));
    const [first = '', second = ''] = visitors;
    const shown = async (clickId: string): Promise<unknown> => (await get(`/number?click=${clickId}`)).json();
    expect(await shown(first)).toEqual({ number: '+15550120' });
    expect(await shown(second)).toEqual({ number: '+15550110' });
    await close();
    await open();
    expect([await shown(first), await shown(second)]).toEqual([{ number: '+15550120' }, { number: '+15550110' }]);
    expect(world.traffic.leasesOf(1, world.clock)).toHaveLength(1);
    // Half an hour it is the visit's, and as long again nobody else's.
    world.clock += 59 * 60_000;
    expect(await shown(second)).toEqual({ number: '+15550110' });
    world.clock += 2 * 60_000;
    expect(await shown(second)).toEqual({ number: '+15550120' });
    expect((await get(`/number?click=${ID_OF_NOBODY}`)).status).toBe(404);
  });

  test('without script is counted by the pixel, which always answers', async () => {
    const page = encodeURIComponent('https://larkmoor.example/glaze?sub1=a');
    const answer = await get(`/pixel.gif?ref=${world.link.code}&page=${page}`);
    expect([answer.status, answer.headers.get('content-type'), (await answer.arrayBuffer()).byteLength]).toEqual([
      200,
      'image/gif',
      42,
    ]);
    expect(click(1)).toMatchObject({ via: 'page', query: 'sub1=a' });
    await get(`/pixel.gif?ref=${world.link.code}`, { Referer: 'https://larkmoor.example/planner' });
    expect(click(2)).toMatchObject({ address: 'https://larkmoor.example/planner' });
    expect((await get('/pixel.gif?ref=%00')).status).toBe(200);
    expect(world.traffic.ends().clicks).toBe(2);
  });

  test('the tag is served to other origins, and kept for an hour', async () => {
    const answer = await get('/tag.js');
    expect([await answer.text(), answer.headers.get('content-type'), answer.headers.get('cache-control')]).toEqual([
      'the page tag',
      'text/javascript; charset=utf-8',
      'public, max-age=3600',
    ]);
    expect(answer.headers.get('cross-origin-resource-policy')).toBe('cross-origin');
  });
});

describe('a call', () => {
  const CALL = { call: 'C1', number: '+15550110', started: '2026-11-24T12:00:00+01:00', answered: '1', length: '61' };
  const tell = (fields: Record<string, string>, key = world.key): Promise<Response> =>
    fetch(`${base}/call?key=${key}`, { method: 'POST', body: new URLSearchParams(fields) });

  test('of the exchange is on disk before it is acknowledged, without the caller’s number', async () => {
    const answer = await tell({ ...CALL, caller: '+44 20 7946 0042' });
    expect([answer.status, await answer.json()]).toEqual([
      202,
      expect.objectContaining({ receipt: expect.any(String) }),
    ]);
    const [stored] = world.traffic.newestPostbacks(world.programId, 1);
    expect(stored).toMatchObject({ about: 'call', query: '' });
    expect(JSON.parse(stored?.body ?? '')).toMatchObject({
      caller: expect.stringMatching(/^~[0-9a-f]{32}$/),
      caller_end: '42',
    });
    expect(stored?.body).not.toMatch(/7946|key/);
  });

  test('malformed, or with a wrong key, is refused with field and reason', async () => {
    expect((await tell(CALL, 'bvk_wrong')).status).toBe(401);
    const answer = await tell({ ...CALL, length: 'long' });
    expect([answer.status, await answer.json()]).toEqual([
      400,
      expect.objectContaining({ errors: [expect.objectContaining({ field: 'length' })] }),
    ]);
    expect(world.traffic.ends().postbacks).toBe(0);
  });
});

test('any bytes as path, query, header and body get an answer, and the edge goes on', { timeout: 60_000 }, async () => {
  const bytes = fc.uint8Array({ maxLength: 60 }).map((all) => Buffer.from(all).toString('latin1'));
  // What a request line and a header cannot hold, no client can send.
  const path = bytes.map((text) => text.replace(/[\u0000- \u007f]/g, ''));
  const header = bytes.map((text) => text.replace(/[^\t -~\u0080-\u00ff]/g, ''));
  const ask = (target: string, headers: Record<string, string>, body?: string): Promise<number> =>
    new Promise((resolve) => {
      const asked = request(
        base,
        { path: target, method: body === undefined ? 'GET' : 'POST', headers, insecureHTTPParser: true },
        (answer) => answer.resume().on('end', () => resolve(answer.statusCode ?? 0)),
      ).on('error', () => resolve(-1));
      asked.end(body === undefined ? undefined : Buffer.from(body, 'latin1'));
    });
  await fc.assert(
    fc.asyncProperty(path, path, header, bytes, async (name, query, cookie, body) => {
      const headers = { cookie, 'user-agent': cookie, referer: cookie };
      expect([400, 404, 405]).toContain(await ask(`/${name}`, headers));
      expect([302, 400]).toContain(await ask(`/${world.link.code}?${query}`, headers));
      expect([400, 204]).toContain(await ask('/hit', headers, body));
      expect([400, 401, 429]).toContain(await ask(`/postback?${query}`, headers, body));
    }),
    { numRuns: 150 },
  );
  expect((await get(`/${world.link.code}`)).status).toBe(302);
});

describe('a postback', () => {
  const postback = (fields: Record<string, string>, key = world.key) =>
    get(`/postback?${new URLSearchParams({ ...fields, key }).toString()}`);
  const GOOD = { click_id: '01KB0000000000000000000000', event: 'order', order: 'A1', amount: '12.00' };

  test('is on disk before it is acknowledged, by GET, form and JSON', async () => {
    const answers = [
      await postback(GOOD),
      await fetch(`${base}/postback`, { method: 'POST', body: new URLSearchParams({ ...GOOD, key: world.key }) }),
      await fetch(`${base}/postback`, {
        method: 'POST',
        headers: { 'Content-Type': 'application/json', Authorization: `Bearer ${world.key}` },
        body: JSON.stringify({ ...GOOD, amount: 12 }),
      }),
    ];
    for (const answer of answers) {
      const { receipt } = (await answer.json()) as { receipt: string };
      expect([answer.status, world.traffic.postback(receipt)?.programId]).toEqual([202, world.programId]);
    }
    world.work();
    expect(world.traffic.ends().postbacks).toBe(3);
    expect(world.stores.books.conversions.outcomeByFingerprint(world.programId, 'none')).toBeUndefined();
  });

  test.each<[Record<string, string>, string]>([
    [{ ...GOOD, amount: '12,00' }, 'amount'],
    [{ ...GOOD, amount: '12.005' }, 'amount'],
    [{ ...GOOD, currency: 'XQX' }, 'currency'],
    [{ ...GOOD, status: 'done' }, 'status'],
    [{ ...GOOD, event: '' }, 'event'],
  ])('%o is refused with field and reason', async (fields, field) => {
    const answer = await postback(fields);
    const { errors } = (await answer.json()) as { errors: { field: string; reason: string }[] };
    expect([answer.status, answer.headers.get('content-type'), errors[0]?.field]).toEqual([
      400,
      'application/problem+json',
      field,
    ]);
    expect(world.traffic.ends().postbacks).toBe(0);
  });

  test('with a wrong key is refused, and slowed down when it keeps coming', async () => {
    const statuses = [];
    for (let i = 0; i < 32; i++) statuses.push((await postback(GOOD, 'bvk_wrong')).status);
    expect([statuses[0], statuses.at(-1)]).toEqual([401, 429]);
    expect((await postback(GOOD)).status).toBe(202);
  });

  test('too large a body is refused', async () => {
    const answer = await fetch(`${base}/postback`, { method: 'POST', body: 'x'.repeat(70_000) });
    expect(answer.status).toBe(413);
  });
});

describe('a conversion that a page reports', () => {
  const tag = (body: object): Promise<Response> =>
    fetch(`${base}/conversion`, { method: 'POST', body: JSON.stringify(body), headers: { 'User-Agent': AGENT } });
  const listen = (): void => {
    const { id, programId: _, ...offer } = readOffer(world.stores, world.owner, world.link.offerId);
    const events = offer.events.map((event) => ({ ...event, byTag: event.event === 'order' }));
    updateOffer(world.stores, world.owner, id, { ...offer, events });
  };

  test('is on disk with what a page may say, and nothing else of it', async () => {
    listen();
    const click_id = world.click();
    const said = {
      click_id,
      event: 'order',
      order: 'T1',
      amount: '80.00',
      status: 'approved',
      key: 'x',
      x_place: 'Breda',
    };
    const answer = await tag(said);
    expect([answer.status, answer.headers.get('access-control-allow-origin')]).toEqual([204, '*']);
    const [stored] = world.traffic.postbacksAfter(0, 1);
    expect(stored).toMatchObject({ via: 'tag', programId: world.programId, client: '127.0.0.0' });
    expect(JSON.parse(stored?.body ?? '')).toEqual({
      click_id,
      event: 'order',
      order: 'T1',
      amount: '80.00',
      x_place: 'Breda',
    });
    world.work();
    expect(world.outcome(stored?.receiptId ?? '')?.outcome).toBe('recorded');
    const query = new URLSearchParams({ click_id, event: 'order', order: 'T2', amount: '5.00' }).toString();
    expect((await get(`/pixel.gif?${query}`)).headers.get('content-type')).toBe('image/gif');
    expect(world.traffic.postbacksAfter(1, 1)[0]).toMatchObject({ via: 'pixel' });
  });

  test('of an unknown click, or malformed, gets a reason and is not kept', async () => {
    const click_id = world.click();
    for (const body of [
      { click_id: ID_OF_NOBODY, event: 'order', amount: '1.00' },
      { event: 'order', order: 'T1', amount: '1.00' },
      { click_id, event: 'order', amount: '1,00' },
      { click_id, amount: '1.00' },
      [click_id],
    ])
      expect((await tag(body)).status).toBe(400);
    expect((await get('/pixel.gif?event=order&click_id=x')).status).toBe(200);
    expect((await get('/conversion')).status).toBe(405);
    expect(world.traffic.ends().postbacks).toBe(0);
  });
});

describe('behind proxies', () => {
  const from = (forwarded: string) =>
    get(`/${world.link.code}`, { 'X-Forwarded-For': forwarded, 'X-Forwarded-Proto': 'https' });
  const reopen = async (ranges: string): Promise<void> => {
    await close();
    trusted = readRanges(ranges).set;
    await open();
  };

  test('only what a configured one says is believed: the nearest address beyond them all', async () => {
    await from('198.51.100.9');
    expect(click(1)).toMatchObject({ client: '127.0.0.0', flags: 'proxy' });
    await reopen('127.0.0.1\n::1\n10.0.0.0/8');
    const answer = await from('203.0.113.5, 198.51.100.9, 10.1.2.3');
    expect(answer.headers.get('set-cookie')).toContain('; Secure');
    expect(click(2)).toMatchObject({ client: '198.51.100.0', flags: 'proxy' });
    await from('198.51.100.9, 10.1.2.3');
    expect(click(3)).toMatchObject({ client: '198.51.100.0', flags: null });
  });
});

describe('clicks of listed and flooding addresses', () => {
  test('are set aside, never dropped, and sent on; a list of proxies only marks', async () => {
    const list = (name: string, effect: 'set_aside' | 'proxy', on = true) =>
      saveAddressList(world.stores, world.owner, undefined, { name, effect, on, text: '127.0.0.0/8' });
    const { id } = list('Data centres', 'set_aside', false);
    await get(`/${world.link.code}`);
    saveAddressList(world.stores, world.owner, id, { name: 'Data centres', effect: 'set_aside', on: true });
    expect((await get(`/${world.link.code}`)).status).toBe(302);
    saveAddressList(world.stores, world.owner, id, { name: 'Data centres', effect: 'proxy', on: true });
    await get(`/${world.link.code}`);
    expect([1, 2, 3].map((seq) => [click(seq)?.setAside, click(seq)?.flags])).toEqual([
      [null, null],
      ['listed', null],
      [null, 'proxy'],
    ]);
  });

  test('a flood is what goes beyond the limit within the minute, by address and link', async () => {
    updateProgram(world.stores, world.owner, {
      ...programFields(readProgram(world.stores, world.owner)),
      floodMost: 3,
    });
    const other = world.newLink('CLAYCAST');
    for (let i = 0; i < 5; i++) await get(`/${world.link.code}`);
    await get(`/${other.code}`);
    world.pass(1 / 1440);
    await get(`/${world.link.code}`);
    expect([1, 2, 3, 4, 5, 6, 7].map((seq) => click(seq)?.setAside)).toEqual([
      ...[null, null, null, 'flood', 'flood', null, null],
    ]);
  });
});

describe('routing', () => {
  const PAGES = [
    { name: 'Glaze box', address: 'https://larkmoor.example/glaze' },
    { name: 'Gift', address: 'https://larkmoor.example/gift?c={country}&d={device}' },
  ];
  const plan = (more: Partial<RoutingPlan>): void => {
    const { id, programId: _, ...offer } = readOffer(world.stores, world.owner, world.link.offerId);
    updateOffer(world.stores, world.owner, id, { ...offer, landingPages: PAGES });
    savePlan(world.stores, world.owner, id, { plan: { ...EMPTY_PLAN, ...more } });
  };
  const path = async (headers: Record<string, string> = {}): Promise<string> =>
    location(await get(`/${world.link.code}`, headers)).pathname;

  test('by country and device takes effect at once; the click keeps rule, page and country', async () => {
    await close();
    trusted = readRanges('127.0.0.1').set;
    await open();
    const when: Condition[] = [
      { field: 'country', is: true, values: ['BE'] },
      { field: 'device', is: false, values: ['phone'] },
    ];
    const to = [{ page: 'Gift', weight: 1, on: true }];
    plan({ rules: [{ id: 'r1', name: '', on: true, overOwn: false, when, mix: { to, round: 1 } }] });
    const belgian = { 'X-Forwarded-For': '198.51.100.9' };
    const answer = await get(`/${world.link.code}`, belgian);
    expect(location(answer).search).toMatch(/^\?c=BE&d=desktop&bclid=/);
    expect(await path()).toBe('/glaze');
    const phone =
      'Mozilla/5.0 (iPhone; CPU iPhone OS 18_6 like Mac OS X) AppleWebKit/605.1.15 Mobile/15E148 Safari/604.1';
    expect(await path({ ...belgian, 'User-Agent': phone })).toBe('/glaze');
    expect(click(1)).toMatchObject({ via: 'rule', rule: 'r1', page: 'Gift', country: 'BE' });
    expect(click(2)).toMatchObject({ via: 'landing_page', rule: null, page: null, country: 'NL' });
  });

  test('the same visitor sees the same page, with its cookie or without', async () => {
    const to = PAGES.map(({ name: page }) => ({ page, weight: 1, on: true }));
    plan({ otherwise: { to, round: 1 } });
    const seen = new Set<string>();
    for (let i = 0; i < 12; i++) {
      const agent = { 'User-Agent': `${AGENT} ${i}` };
      const first = await get(`/${world.link.code}`, agent);
      const cookie = first.headers.get('set-cookie')?.split(';')[0] ?? '';
      seen.add(location(first).pathname);
      for (const headers of [agent, { ...agent, Cookie: cookie }, { Cookie: cookie }])
        expect(await path(headers)).toBe(location(first).pathname);
    }
    expect(seen.size).toBe(2);
  });

  test('a cap of clicks is never overrun, however many come at once, nor by a restart', async () => {
    plan({ caps: [{ of: 'clicks', per: 'day', most: 40 }], overflow: 'https://elsewhere.example/full' });
    const hosts = async (count: number): Promise<string[]> =>
      (await Promise.all(Array.from({ length: count }, () => get(`/${world.link.code}`)))).map(
        (answer) => location(answer).host,
      );
    const through = (all: string[]): number => all.filter((host) => host === 'larkmoor.example').length;
    const first = await hosts(30);
    // Bots go where all go, and use nothing up.
    await get(`/${world.link.code}`, { 'User-Agent': 'linkchecker/10.2' });
    await close();
    await open();
    const second = await hosts(100);
    expect([through(first), through(second)]).toEqual([30, 10]);
    expect(world.traffic.offerDays(world.link.offerId)).toEqual([{ day: '2026-11-24', count: 40 }]);
    expect(world.traffic.clickBySeq(131)).toMatchObject({ via: 'overflow', flags: 'capped', setAside: null });
    world.pass(1);
    expect(through(await hosts(3))).toBe(3);
  });

  test('caps of conversions and spend follow the books', async () => {
    plan({ caps: [{ of: 'spend', per: 'month', most: 2000 }] });
    const order = (n: number): unknown =>
      world.report({ event: 'order', order: `${n}`, amount: '150.00', click_id: world.click() });
    order(1);
    expect(await path()).toBe('/glaze');
    order(2);
    world.pass(1 / 86_400);
    expect(await path()).toBe('/');
    // Taken back by the merchant: there is room again.
    world.report({ event: 'order', order: '2', status: 'rejected' });
    world.pass(1 / 86_400);
    expect(await path()).toBe('/glaze');
  });

  test('one visitor’s clicks are limited within its day, also across a restart', async () => {
    plan({ visitorMost: 2 });
    const { headers } = await get(`/${world.link.code}`);
    const mine = { Cookie: headers.get('set-cookie')?.split(';')[0] ?? '', 'User-Agent': `${AGENT} mine` };
    expect([await path(mine), await path(mine)]).toEqual(['/glaze', '/']);
    await close();
    await open();
    expect([await path(mine), await path({ 'User-Agent': 'Mozilla/5.0 Firefox/143.0' })]).toEqual(['/glaze', '/glaze']);
    expect(await path(mine)).toBe('/');
    world.pass(1.01);
    expect(await path(mine)).toBe('/glaze');
  });

  test('a clock that is set back makes no visitor new and loses no click', async () => {
    const { headers } = await get(`/${world.link.code}`);
    const mine = { Cookie: headers.get('set-cookie')?.split(';')[0] ?? '' };
    world.pass(-0.5);
    expect((await get(`/${world.link.code}`, mine)).status).toBe(302);
    world.pass(1.4);
    await get(`/${world.link.code}`, mine);
    expect([1, 2, 3].map((seq) => click(seq)?.isUnique)).toEqual([1, 0, 0]);
    world.work();
    expect(world.log().map(({ facts }) => facts.day)).toEqual(['2026-11-25', '2026-11-24', '2026-11-24']);
  });
});

test('when the disk is full, visitors are still sent on and postbacks are asked to come again', async () => {
  full = true;
  expect((await get(`/${world.link.code}`)).status).toBe(302);
  const answer = await get(`/postback?key=${world.key}&click_id=01KB0000000000000000000000&event=order&amount=1`);
  expect([answer.status, answer.headers.get('retry-after')]).toEqual([503, '30']);
  const health = await get('/healthz');
  expect([health.status, await health.json()]).toEqual([
    503,
    expect.objectContaining({ writable: false, lost: 1, failure: 'database or disk is full' }),
  ]);
  const many = await Promise.all(Array.from({ length: 80 }, () => get(`/${world.link.code}`)));
  expect(new Set(many.map(({ status }) => status))).toEqual(new Set([302]));
  expect((await (await get('/healthz')).json()) as unknown).toMatchObject({ lost: 81, clicks: 0 });
  full = false;
  expect((await get(`/${world.link.code}`)).status).toBe(302);
  expect((await get('/healthz')).status).toBe(200);
});

describe('a signed postback', () => {
  const sign = (fields: Record<string, string>, secret: string): string => {
    const query = new URLSearchParams({ ...fields, ts: String(Math.floor(world.clock / 1000)), program: '1' });
    query.sort();
    return `/postback?${query.toString()}&sig=${hmac(secret, query.toString())}`;
  };
  const order = { event: 'order', order: 'S 1/é', amount: '10.00', click_id: ID_OF_NOBODY };
  const reasonOf = async (path: string): Promise<string> => (await get(path)).text();

  test('is taken when made with the program’s secret, by whoever encodes it', async () => {
    const secret = readSigningSecret(world.stores, world.owner);
    const path = sign(order, secret);
    expect((await get(path)).status).toBe(202);
    expect((await get(path.replaceAll('+', '%20'))).status).toBe(202);
    const body = JSON.stringify(order);
    const query = `program=1&ts=${Math.floor(world.clock / 1000)}`;
    const post = (sent: string): Promise<Response> =>
      fetch(`${base}/postback?${query}&sig=${hmac(secret, `${query}\n${body}`)}`, {
        method: 'POST',
        headers: { 'Content-Type': 'application/json' },
        body: sent,
      });
    expect((await post(body)).status).toBe(202);
    expect((await post(body.replace('10.00', '99.00'))).status).toBe(401);
  });

  test('is refused with its reason when changed, late, or signed with a secret that was renewed', async () => {
    const secret = readSigningSecret(world.stores, world.owner);
    const path = sign(order, secret);
    expect(await reasonOf(path.replace('10.00', '99.00'))).toContain('does not fit');
    expect(await reasonOf(path.replace('program=1', 'program=7'))).toContain('needs program');
    world.clock += 11 * 60_000;
    expect(await reasonOf(path)).toContain('older than 10 minutes');
    expect(renewSigningSecret(world.stores, world.owner)).not.toBe(secret);
    expect(await reasonOf(sign(order, secret))).toContain('does not fit');
    expect((await get(sign(order, readSigningSecret(world.stores, world.owner)))).status).toBe(202);
  });
});

test('nothing about persons is kept of a postback, and its answer says so', async () => {
  const fields = {
    ...{ key: world.key, click_id: ID_OF_NOBODY, event: 'order', order: 'P1', amount: '10.00' },
    ...{
      customer_id: 'jo@marsh.example',
      x_note: 'call jo@marsh.example',
      x_pay: '4000 0012 3456 7899',
      x_first_name: 'Jo',
    },
    ...{ x_product_name: 'Kiln', x_supplier: '4000001234567890' },
  };
  for (const method of ['GET', 'POST']) {
    const text = new URLSearchParams({ ...fields, order: method }).toString();
    const answer = await (method === 'GET'
      ? get(`/postback?${text}`)
      : fetch(`${base}/postback`, { method, body: new URLSearchParams(text) }));
    const { receipt, warnings } = (await answer.json()) as { receipt: string; warnings: { field: string }[] };
    expect(warnings.map(({ field }) => field)).toEqual(['x_note', 'x_pay', 'x_first_name']);
    const { query = '', body = '' } = world.traffic.postback(receipt) ?? {};
    expect(`${query}${body}`).not.toMatch(/marsh|Jo|7899/);
    expect(`${query}${body}`).toContain('Kiln');
  }
  world.work();
  const [first, second] = [1, 2].map((id) => world.stores.books.conversions.plain(id)?.customerHash);
  expect([first, first]).toEqual([second, expect.stringMatching(/^~[0-9a-f]{32}$/)]);
  const refused = await get(`/postback?${new URLSearchParams({ ...fields, order: 'jo@marsh.example' }).toString()}`);
  expect([refused.status, await refused.text()]).toEqual([400, expect.stringContaining('e-mail address')]);
});

test('any bytes get an answer', async () => {
  const raw = (path: string, headers: Record<string, string>): Promise<number> =>
    new Promise((resolve) => {
      request(base, { path, headers, method: 'GET' }, (answer) =>
        answer.resume().on('end', () => resolve(answer.statusCode ?? 0)),
      )
        .on('error', () => resolve(-1))
        .end();
    });
  const hostile = [
    '%',
    '%zz',
    '%F0%28%8C%BC',
    '=&=&&',
    'sub1',
    'sub1=%00',
    'sub1=\'"><script>',
    'to=http://',
    'to=https://[::',
    `sub1=${'é'.repeat(9)}`.replace(/é/g, '%C3%A9'),
    'a'.repeat(8000),
  ];
  for (const query of hostile)
    expect(await raw(`/${world.link.code}?${query}`, { cookie: 'bv=;;=', referer: '\u00ff' })).toBe(302);
});

test('a client that sends too slowly is sent away, and holds nobody up', { timeout: 20_000 }, async () => {
  await close();
  limits = { headersTimeout: 300, connectionsCheckingInterval: 100 };
  await open();
  const socket = connect(Number(new URL(base).port), '127.0.0.1');
  const answered = new Promise<string>((resolve) => {
    let said = '';
    socket.on('data', (chunk: Buffer) => (said += chunk.toString())).on('close', () => resolve(said));
  });
  socket.write('GET / HTTP/1.1\r\nHost: x\r\n');
  const drip = setInterval(() => socket.write('X-Slow: 1\r\n'), 50);
  expect((await get(`/${world.link.code}`)).status).toBe(302);
  expect(await answered).toContain('408');
  clearInterval(drip);
  limits = undefined;
});

test('a connection is kept as long as requests come, and closed when nobody says anything', async () => {
  await close();
  limits = { silence: 200 };
  await open();
  const socket = connect(Number(new URL(base).port), '127.0.0.1');
  const closed = new Promise<number>((resolve) => socket.once('close', () => resolve(performance.now())));
  let asked = 0;
  for (let i = 0; i < 5; i++) {
    asked = performance.now();
    socket.write(`GET /${world.link.code} HTTP/1.1\r\nHost: x\r\n\r\n`);
    const answer = await new Promise<Buffer>((resolve) => socket.once('data', resolve));
    expect(answer.toString()).toMatch(/^HTTP\/1\.1 302 [^]*\r\nConnection: keep-alive\r\n/);
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
  expect((await closed) - asked).toBeGreaterThan(150);
  limits = undefined;
});

test('the books may be locked as long as they like: redirects and postbacks go on', async () => {
  await get(`/${world.link.code}`);
  world.stores.books.db.exec('BEGIN EXCLUSIVE');
  try {
    expect((await get(`/${world.link.code}`)).status).toBe(302);
    const answer = await get(`/postback?key=${world.key}&click_id=${ID_OF_NOBODY}&event=order&amount=1`);
    expect(answer.status).toBe(202);
  } finally {
    world.stores.books.db.exec('ROLLBACK');
  }
  expect(world.traffic.ends()).toMatchObject({ clicks: 2, postbacks: 1 });
});

test('a worker that was away for ten minutes takes up where it stopped, and misses nothing', async () => {
  await get(`/${world.link.code}?sub1=before`);
  world.work();
  for (let minute = 0; minute < 10; minute++) {
    world.pass(1 / 1440);
    await get(`/${world.link.code}?sub1=m${minute}`);
    const click_id = click(minute + 2)?.clickId ?? '';
    await get(`/postback?key=${world.key}&click_id=${click_id}&event=order&order=M${minute}&amount=10.00`);
  }
  expect(world.log()).toHaveLength(1);
  world.work();
  expect([world.log().length, world.balance('partner_pending')]).toEqual([11, 10 * 100]);
  expect(verify(world.stores).flatMap(({ wrong }) => wrong)).toEqual([]);
});

test('addresses are kept as the program’s privacy says', () => {
  const key = Buffer.alloc(32);
  expect(keptAddress('whole', '192.0.2.77', key)).toBe('192.0.2.77');
  expect(keptAddress('cut', '192.0.2.77', key)).toBe('192.0.2.0');
  expect(keptAddress('cut', '2001:db8:7:8::1', key)).toBe('2001:db8:7::');
  expect(keptAddress('cut', '2001:db8::1', key)).toBe('2001:db8:0::');
  expect(keptAddress('hash', '192.0.2.77', key)).toMatch(/^[0-9a-f]{16}$/);
});
