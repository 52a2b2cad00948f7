import { readFileSync } from 'node:fs';
import { type IncomingMessage, request } from 'node:http';
import { EDGE, PORTS, WEB } from './places';
import { expect, test } from './signed_in';

test.describe.configure({ mode: 'serial' });

const PHONE = 'Mozilla/5.0 (Linux; Android 15; Pixel 9) AppleWebKit/537.36 Chrome/141.0.0.0 Mobile Safari/537.36';
const ALL = 'from=2000-01-01&to=2999-12-31';
const clickAs = (code: string, query = '', agent = PHONE): Promise<Response> =>
  fetch(`${EDGE}/${code}?${query}`, { redirect: 'manual', headers: { 'User-Agent': agent, 'Accept-Language': 'nl' } });

test('columns of the log are chosen, ordered by keys, kept, and exported as they stand', async ({ manager: page }) => {
  await page.goto('/clicks');
  await page.getByRole('button', { name: /^Columns/ }).click();
  const dialog = page.getByRole('dialog', { name: 'Columns' });
  for (const name of ['Offer', 'Link', 'Sub-ID 2', 'Device'])
    await dialog.getByRole('button', { name: `Leave out ${name}`, exact: true }).click();
  await dialog.getByRole('button', { name: '+ Partner click ID' }).click();
  await dialog.getByRole('button', { name: '+ Destination' }).click();
  await dialog.getByRole('button', { name: 'Move Destination', exact: true }).focus();
  for (let i = 0; i < 2; i++) await page.keyboard.press('ArrowUp');
  await dialog.getByRole('button', { name: 'Keep these columns' }).click();
  const heads = [
    'Time',
    'Click ID',
    'Partner',
    'Channel',
    'Sub-ID 1',
    'Country',
    'Destination',
    'Visitor',
    'Partner click ID',
  ];
  await expect(page.locator('thead th')).toHaveText(heads.map((head) => new RegExp(`^${head}`)));
  await page.reload();
  await expect(page.locator('thead th')).toHaveCount(heads.length);
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('link', { name: 'Export as CSV' }).click(),
  ]);
  const lines = readFileSync((await download.path()) ?? '', 'utf8')
    .trim()
    .split('\r\n');
  expect(lines[0]).toBe('time,click_id,partner,channel,sub1,country,page,unique,pcid');
  const shown = await page.getByRole('navigation', { name: 'Pages' }).textContent();
  expect(lines.length - 1).toBe(Number(/of ([\d,]+)/.exec(shown ?? '')?.[1]?.replace(',', '')));
  await page.getByRole('button', { name: /^Columns/ }).click();
  await page.getByRole('button', { name: 'The usual ones' }).click();
  await expect(page.locator('thead th')).toHaveCount(11);
});

test('a held list stays where it is while clicks come in, and goes on with them', async ({ manager: page }) => {
  await page.goto('/clicks');
  const first = page.locator('tbody tr').first();
  const code =
    (await page.locator('tbody tr', { hasText: 'Glaze box' }).first().locator('td').nth(5).textContent()) ?? '';
  await clickAs(code, 'sub1=before-holding');
  await expect(first).toContainText('before-holding', { timeout: 3000 });
  await page.getByRole('link', { name: /Live/ }).click();
  await expect(page).toHaveURL(/upto=\d+/);
  for (let i = 0; i < 3; i++) await clickAs(code, `sub1=while-held-${i}&pcid=%3Cscript%3Ealert(1)%3C/script%3E`);
  await expect(page.getByRole('link', { name: /Held 3 newer/ })).toBeVisible({ timeout: 3000 });
  await expect(first).toContainText('before-holding');
  await page.getByRole('link', { name: /Held/ }).click();
  await expect(first).toContainText('while-held-2');
  // What arrived is text, wherever it is shown.
  await first.getByRole('link').nth(0).click();
  await expect(page.getByRole('complementary', { name: 'Trace' })).toContainText('<script>alert(1)</script>');
  await expect(page.getByRole('complementary', { name: 'Trace' })).toContainText('phone, Android');
});

test('the explorer groups by any slots and parts, drills down to the log, and names who left placeholders unfilled', async ({
  manager: page,
}) => {
  await page.goto(`/clicks?shelf=explore&${ALL}`);
  await expect(page.locator('.note', { hasText: 'arrived with placeholders unfilled' })).toContainText(
    'Adwindle Search',
  );
  await page.getByRole('button', { name: '+ Group' }).click();
  await page.getByRole('dialog', { name: 'Group by' }).getByRole('button', { name: 'Sub-ID 2: match' }).click();
  await expect(page.locator('thead th').nth(1)).toHaveText('Sub-ID 2: match');
  await page.getByRole('link', { name: 'Sort by Profit' }).click();
  await expect(page).toHaveURL(/sort=profit/);
  const row = page.locator('tbody tr', { hasText: 'ash glaze' }).first();
  const clicks = await row.locator('td').nth(2).textContent();
  const match = (await row.locator('td').nth(1).textContent()) ?? '';
  await row.getByRole('link', { name: 'ash glaze' }).click();
  await expect(page.locator('.chip', { hasText: 'Sub-ID 1' })).toContainText('ash glaze');
  await page
    .getByRole('row', { name: new RegExp(`^${match}`) })
    .getByRole('link')
    .click();
  await expect(page.getByRole('navigation', { name: 'Pages' })).toContainText(`of ${clicks}`);
  await expect(page.locator('tbody tr').first()).toContainText(`${match}~`);
});

test('a rule is written as a sentence, tried, put in force, and taken back', async ({ manager: page }) => {
  await page.goto('/setup/offers/1/routing');
  await page.getByRole('button', { name: 'Add a rule' }).click();
  await page.getByLabel('Name', { exact: true }).fill('Dutch readers');
  await page.getByLabel('What condition 1 of Dutch readers asks').selectOption('language');
  await page.getByLabel('Codes of condition 1 of Dutch readers').fill('nl');
  await page.getByLabel('Page 1 of Dutch readers', { exact: true }).selectOption('Kiln finder');
  const rules = page.getByRole('list', { name: 'Rules' });
  await expect(rules).toContainText('Dutch readers: when language is Dutch → Kiln finder');
  const outcome = page.getByText(/A phone in Belgium at 22:00/);
  await expect(outcome).toContainText('goes to Kiln finder');
  await page.getByLabel('Time').fill('09:30');
  await page.getByLabel('Device', { exact: true }).selectOption('desktop');
  await expect(page.locator('.rows .won')).toHaveText('Dutch readers');
  // To the top, by keys alone.
  await page.getByRole('button', { name: 'Move Dutch readers', exact: true }).focus();
  for (let i = 0; i < 2; i++) await page.keyboard.press('ArrowUp');
  await expect(rules.getByRole('listitem').first()).toContainText('Dutch readers');
  await page.getByRole('button', { name: 'Try it on yesterday’s clicks' }).click();
  await expect(page.getByText(/would have gone elsewhere/)).toContainText(/[1-9]\d* \(/);
  await page.getByLabel('Why it is changed').fill('The finder speaks Dutch');
  await page.getByRole('button', { name: 'Put in force' }).click();
  await expect(page.getByText('Version 2, by Ines Okafor')).toBeVisible();

  await page.goto(`/links?offer=1&${ALL}`);
  const rows = page.locator('tbody tr', { hasText: 'landing page of' }).filter({ hasNotText: 'Old Wheel' });
  const code = (await rows.first().getByRole('link').first().textContent()) ?? '';
  const desktop = 'Mozilla/5.0 (X11; Linux x86_64; rv:143.0) Gecko/20100101 Firefox/143.0';
  expect((await clickAs(code, '', desktop)).headers.get('location')).toContain('/kilns/finder');
  await page.goto('/setup/offers/1/routing');
  await page.getByText('2 versions').click();
  await page.getByRole('button', { name: 'Back to it' }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Back to it' }).click();
  await expect(page.getByText('Version 3, by Ines Okafor')).toBeVisible();
  expect((await clickAs(code, '', desktop)).headers.get('location')).toContain('/kilns?');
});

test('a list of addresses shows its effect before it is put in force, and bad lines are named', async ({
  manager: page,
}) => {
  await page.goto('/clicks?shelf=set_aside');
  await page.getByRole('button', { name: 'Add a list' }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByLabel('Name').fill('Click farms');
  await dialog.getByLabel('Addresses and ranges').fill('203.0.113.0/24\nnonsense');
  const wrong = dialog.getByText('Line 2: "nonsense" is not an address');
  await dialog.getByRole('button', { name: 'Try it on the last 30 days' }).click();
  await expect(wrong).toHaveCount(1);
  await dialog.getByRole('button', { name: 'Put in force' }).click();
  await expect(wrong).toHaveCount(2);
  await dialog.getByRole('button', { name: 'Close' }).click();
  await expect(dialog).toBeHidden();
  await page.getByRole('button', { name: 'Add a list' }).click();
  await dialog.getByLabel('Name').fill('Click farms');
  await dialog.getByLabel('Addresses and ranges').fill('203.0.113.0/24\n127.0.0.0/8\n::1');
  await dialog.getByRole('button', { name: 'Try it on the last 30 days' }).click();
  await expect(dialog.getByText(/this would have set aside/)).toContainText(/at most [\d,]+ of [\d,]+ counted clicks/);
  await dialog.getByRole('button', { name: 'Put in force' }).click();
  await expect(page.getByRole('group', { name: 'Rules' })).toContainText('Click farms 3 ranges, set aside, in force');
  await page.goto('/clicks?shelf=set_aside');
  const log = page.getByRole('table', { name: 'Clicks' });
  const code = (await log.locator('tbody tr').first().locator('code').textContent()) ?? '';
  expect((await clickAs(code)).status).toBe(302);
  await expect(log.locator('tbody tr', { hasText: 'listed' }).first()).toBeVisible();
  const rule = page.locator('.rule', { hasText: 'Click farms' });
  await rule.getByRole('button', { name: 'Remove' }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Remove' }).click();
  await expect(page.getByRole('group', { name: 'Rules' })).not.toContainText('Click farms');
});

/** Asks the web application's port for a host, as a browser does whose name server leads there. */
const askFor = (host: string, path: string, method = 'GET', cookie = ''): Promise<IncomingMessage> =>
  new Promise((resolve, reject) =>
    request(`${WEB}${path}`, { method, headers: { Host: host, 'User-Agent': PHONE, Cookie: cookie } }, (answer) => {
      answer.resume();
      resolve(answer);
    })
      .on('error', reject)
      .end(),
  );

test('on a single port, what is asked of a tracking host is answered by the edge', async ({ manager: page }) => {
  await page.goto('/links/1');
  const host = /https:\/\/(go\.[a-z.]+)\//.exec((await page.locator('main').textContent()) ?? '')?.[1] ?? '';
  await page.goto('/clicks');
  const code = (await page.locator('tbody tr').first().locator('td').nth(5).textContent()) ?? '';
  const answer = await askFor(host, `/${code}?sub1=one%20port`);
  expect([answer.statusCode, answer.headers.location]).toEqual([302, expect.stringContaining('bclid=')]);
  expect(answer.headers['set-cookie']?.[0]).toMatch(/^bv=\w{32};/);
  expect((await askFor(host, '/postback?key=wrong', 'POST')).statusCode).toBe(401);
  expect((await askFor(host, '/today')).statusCode).toBe(404);
  // Whoever is signed in can still set a tracking host right that was set to the application's own name.
  const session = (await page.context().cookies()).find(({ name }) => name === 'brivet_session');
  expect((await askFor(host, '/today', 'GET', `brivet_session=${session?.value}`)).statusCode).toBe(200);
  // An address that reads like another host stays one of ours.
  const shop = `localhost:${PORTS.BRIVET_STANDINS_PORT}`;
  const doubled = await askFor(host, `//${shop}/robots.txt`);
  expect([doubled.statusCode, doubled.headers.location]).toEqual([308, `/${shop}/robots.txt`]);
  for (const path of [`/${shop}/robots.txt`, `/%2F%2F${shop}`, `/%2F${shop}%2Frobots.txt`])
    expect([path, (await askFor(host, path)).statusCode]).toEqual([path, 404]);
  expect((await askFor('app.larkmoor.example', '/healthz')).statusCode).toBe(200);
  await page.goto(`/clicks?${ALL}&where=sub1%3Done%2520port`);
  await expect(page.locator('tbody tr')).toHaveCount(1);
});
