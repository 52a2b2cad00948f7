import { readFileSync } from 'node:fs';
import { type IncomingMessage, type Server, type ServerResponse, createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { type Page, expect, test } from '@playwright/test';

const TAG = readFileSync('dist/tag.js');
const ULID = /^[0-7][0-9A-HJKMNP-TV-Z]{25}$/;
const [FIRST, SECOND] = ['01KB0000000000000000000001', '01KB0000000000000000000002'];

/** What the tag said to the tracking host. */
interface Said {
  readonly path: string;
  readonly told: Record<string, unknown>;
}
let said: Said[] = [];
const servers: Server[] = [];
const listen = async (answer: (request: IncomingMessage, response: ServerResponse) => void): Promise<number> => {
  const server = createServer(answer);
  servers.push(server);
  await new Promise<void>((resolve) => server.listen(0, resolve));
  return (server.address() as AddressInfo).port;
};
let tracking = '';
let shop = '';

test.beforeAll(async () => {
  tracking = `http://localhost:${await listen((request, response) => {
    response.setHeader('Access-Control-Allow-Origin', '*');
    const path = (request.url ?? '').split('?')[0] ?? '';
    if (path === '/tag.js') return response.setHeader('Content-Type', 'text/javascript').end(TAG);
    if (path === '/number') return response.setHeader('Content-Type', 'application/json').end('{"number":"+15550123"}');
    let body = '';
    request.on('data', (chunk: Buffer) => (body += chunk.toString()));
    return request.on('end', () => {
      said.push({ path, told: JSON.parse(body) as Record<string, unknown> });
      response.writeHead(204).end();
    });
  })}`;
  // Another host: the merchant's own. Its policy allows the tag and nothing else.
  shop = `http://127.0.0.1:${await listen((request, response) => {
    const { searchParams } = new URL(request.url ?? '/', 'http://shop.example');
    const attributes = ['consent', 'keep'].flatMap((name) => {
      const value = searchParams.get(`_${name}`);
      return value ? [`data-${name}="${value}"`] : [];
    });
    response.setHeader(
      'Content-Security-Policy',
      `default-src 'none'; script-src ${tracking}; connect-src ${tracking}`,
    );
    response.setHeader('Content-Type', 'text/html');
    response.end(`<!doctype html><title>Shop</title>
      <script src="${tracking}/tag.js" ${attributes.join(' ')}></script>
      <a id="marked" data-brivet href="/next?a=1#top">on</a> <a id="plain" href="/next?a=1">off</a>
      <form id="form" data-brivet action="/order"><button>Order</button></form>
      <form id="other" action="/order"><button>Ask</button></form>
      <a data-brivet-number href="tel:+15550100">+15550100</a>`);
  })}`;
});
test.afterAll(() => servers.forEach((server) => server.close()));
test.beforeEach(() => {
  said = [];
});

const reports = (count: number): Promise<void> => expect.poll(() => said.length).toBe(count);
/** Long enough for a report that should not come. */
const settle = (page: Page): Promise<void> => page.waitForTimeout(300);
const known = (page: Page): Promise<string> => page.evaluate(() => Reflect.get(window, 'brivet').click() as string);
const cookies = async (page: Page): Promise<string[]> => (await page.context().cookies(shop)).map(({ name }) => name);

test('who comes by a redirect is reported once, and known on every page of the site', async ({ page }) => {
  const blocked: string[] = [];
  page.on('console', (message) => message.type() === 'error' && blocked.push(message.text()));
  await page.goto(`${shop}/?bclid=${FIRST}`);
  await reports(1);
  expect(said[0]).toEqual({ path: '/hit', told: { id: FIRST, visitor: expect.stringMatching(ULID) as unknown } });
  await page.reload();
  await page.goto(`${shop}/elsewhere`);
  await settle(page);
  expect([said.length, await known(page)]).toEqual([1, FIRST]);
  await expect(page.locator('[data-brivet-number]')).toHaveAttribute('href', 'tel:+15550123');
  expect(await page.locator('[data-brivet-number]').textContent()).toBe('+15550123');
  // A later click takes its place; what is no click ID does not.
  await page.goto(`${shop}/?bclid=${SECOND}`);
  await reports(2);
  await page.goto(`${shop}/?bclid=${'x'.repeat(26)}`);
  expect(await known(page)).toBe(SECOND);
  expect(said[0]?.told.visitor).toBe(said[1]?.told.visitor);
  // The policy of the page stood in the way of nothing (its icon is not the tag's).
  expect(blocked.filter((text) => !text.includes('favicon'))).toEqual([]);
});

test('a landing without a redirect gets an ID here, and the same one when it is loaded again', async ({ page }) => {
  await page.goto(`${shop}/ash?ref=AbC12345&sub1=ash%20glaze`);
  await reports(1);
  const id = await known(page);
  expect(id).toMatch(ULID);
  expect(said[0]).toEqual({
    path: '/hit',
    told: {
      ...{ id, ref: 'AbC12345', page: `${shop}/ash?ref=AbC12345&sub1=ash%20glaze`, referrer: '' },
      visitor: expect.stringMatching(ULID) as unknown,
    },
  });
  await page.goto(`${shop}/next`);
  await page.goBack();
  await page.reload();
  await settle(page);
  expect([said.length, await known(page)]).toEqual([1, id]);
});

test('nothing is kept or said before consent, and nothing stays when it is taken back', async ({ page }) => {
  const consent = (given: boolean): Promise<void> =>
    page.evaluate((yes) => Reflect.get(window, 'brivet').consent(yes) as void, given);
  const convert = (): Promise<boolean> =>
    page.evaluate(() => Reflect.get(window, 'brivet').convert('order', { amount: '1.00' }) as boolean);
  await page.goto(`${shop}/?bclid=${FIRST}&_consent=wait`);
  await settle(page);
  expect([said, await cookies(page), await convert()]).toEqual([[], [], false]);
  expect(await page.evaluate(() => Reflect.get(window, 'brivet').visitor() as string)).toBe('');
  await consent(true);
  await reports(1);
  expect([await known(page), await convert()]).toEqual([FIRST, true]);
  await reports(2);
  expect(said[1]).toEqual({ path: '/conversion', told: { click_id: FIRST, event: 'order', amount: '1.00' } });
  await consent(false);
  expect([await cookies(page), await known(page), await convert()]).toEqual([[], '', false]);
});

test('marked links and forms take the ID along, others do not', async ({ page }) => {
  await page.goto(`${shop}/?bclid=${FIRST}`);
  await page.locator('#plain').click();
  expect(page.url()).toBe(`${shop}/next?a=1`);
  await page.locator('#marked').click();
  await page.waitForURL(/bclid/);
  expect(page.url()).toBe(`${shop}/next?a=1&bclid=${FIRST}#top`);
  await page.goto(`${shop}/`);
  await page.locator('#other button').click();
  await page.waitForURL(/order/);
  expect(page.url()).toBe(`${shop}/order?`);
  await page.goto(`${shop}/`);
  await page.locator('#form button').click();
  await page.waitForURL(/order/);
  expect(page.url()).toBe(`${shop}/order?bclid=${FIRST}`);
});

test('a site may keep the first click, and a browser need not know beacons', async ({ page }) => {
  await page.addInitScript(() => Object.defineProperty(navigator, 'sendBeacon', { value: undefined }));
  for (const id of [FIRST, SECOND]) await page.goto(`${shop}/?bclid=${id}&_keep=first`);
  await reports(2);
  expect(said.map(({ told }) => told.id)).toEqual([FIRST, SECOND]);
  expect(await known(page)).toBe(FIRST);
});
