import { readFileSync } from 'node:fs';
import { DATA, EDGE, WEB } from './places';
import { expect, test } from './signed_in';

const key = (): string => JSON.parse(readFileSync(`${DATA}/standins.json`, 'utf8')).key;
const token = (): string => JSON.parse(readFileSync(`${DATA}/demo.json`, 'utf8')).token;
const api = (path: string, init: { method?: string; body?: unknown; token?: string } = {}): Promise<Response> =>
  fetch(`${WEB}/api/v1${path}`, {
    method: init.method ?? 'GET',
    body: init.body === undefined ? undefined : JSON.stringify(init.body),
    headers: { Authorization: `Bearer ${init.token ?? token()}` },
  });

test('fields that are refused say why, keep what was typed, and are mended', async ({ manager: page }) => {
  await page.goto('/partners');
  await page.getByRole('button', { name: 'Take in a partner' }).click();
  const form = page.getByRole('form', { name: 'Partner' });
  await form.getByLabel('Name').fill('Wheel & Wire');
  await form.getByLabel('Code').fill('slowwheel');
  await form.getByLabel('E-mail').fill('nobody');
  await form.getByLabel('Country').fill('NL');
  await form.getByLabel('Own minimum (EUR)').fill('60.005');
  await form.getByRole('button', { name: 'Take in' }).click();
  await expect(form.getByText('E-mail is not an e-mail address')).toBeVisible();
  await expect(form.getByText('EUR has at most 2 decimals, but "60.005" has 3.')).toBeVisible();
  await form.getByLabel('E-mail').fill('hello@wheelwire.example');
  await form.getByLabel('Own minimum (EUR)').fill('60.00');
  await form.getByRole('button', { name: 'Take in' }).click();
  await expect(form.getByText('SLOWWHEEL is the code of Slow Wheel Journal.')).toBeVisible();
  await expect(form.getByLabel('Name')).toHaveValue('Wheel & Wire');
  await form.getByLabel('Code').fill('wheelwire');
  await form.getByRole('button', { name: 'Take in' }).click();
  await expect(page.getByText('Wheel & Wire is on file as an applicant.')).toBeVisible();
});

test('a landing page with an unknown placeholder cannot be saved', async ({ manager: page }) => {
  await page.goto('/setup?shelf=offers');
  await page.getByRole('link', { name: 'Glaze box' }).click();
  await page.getByLabel('Landing page 1', { exact: true }).fill('https://larkmoor.example/glaze?c={clickid}');
  await page.getByRole('button', { name: 'Save' }).click();
  await expect(page.getByText('"{clickid}" is not a value Brivet can fill.')).toBeVisible();
});

test('a deep link to a foreign host is refused while composing, and never followed', async ({ manager: page }) => {
  await page.goto('/links');
  await page.getByLabel('Offer', { exact: true }).selectOption('Glaze box');
  await page.getByLabel('Page, empty for the landing page').fill('https://evil.example/');
  await expect(page.getByText('"evil.example" is not among the offer’s landing hosts').first()).toBeVisible();
  const link = await page.locator('td a.mono').first().textContent();
  const answer = await fetch(`${EDGE}/${link}?to=https%3A%2F%2Fevil.example%2F`, {
    redirect: 'manual',
    headers: { 'User-Agent': 'Mozilla/5.0 Firefox/143.0' },
  });
  expect([answer.status, new URL(answer.headers.get('location') ?? '').hostname]).toEqual([302, 'localhost']);
});

test('wrong sign-in, forged session and another role’s action are refused and audited', async ({
  browser,
  manager,
  finance,
}) => {
  const context = await browser.newContext();
  const page = await context.newPage();
  await page.goto('/sign-in');
  await page.getByLabel('E-mail').fill('ines@larkmoor.example');
  await page.getByLabel('Password').fill('wrong');
  await page.getByRole('button', { name: 'Sign in' }).click();
  await expect(page.getByRole('alert').filter({ hasText: 'E-mail or password is wrong' })).toBeVisible();
  await expect(page.getByLabel('E-mail')).toHaveValue('ines@larkmoor.example');
  await context.close();
  const forged = await fetch(`${WEB}/today`, {
    redirect: 'manual',
    headers: { Cookie: 'brivet_session=Fe26.2*1*forged' },
  });
  expect(forged.status).toBe(403);
  expect((await manager.request.get('/payouts/3/payments')).status()).toBe(403);
  expect((await finance.request.get('/payouts/999/statement/1/pdf')).status()).toBe(404);
  await manager.goto('/setup?shelf=audit');
  for (const line of [
    'A session cookie did not pass its check.',
    'The role manager may not draft payouts.',
    'sign-in refused',
  ])
    await expect(manager.getByText(line).first()).toBeVisible();
});

test('postbacks: wrong key, malformed fields, and retries', async () => {
  const send = (fields: Record<string, string>): Promise<Response> =>
    fetch(`${EDGE}/postback?${new URLSearchParams(fields).toString()}`);
  const good = {
    key: key(),
    click_id: '01KB0000000000000000000000',
    event: 'order',
    order: 'RETRY-1',
    amount: '10.00',
  };
  expect((await send({ ...good, key: 'bvk_wrong' })).status).toBe(401);
  for (const [field, value] of [
    ['amount', 'ten'],
    ['currency', 'EURO'],
    ['status', 'done'],
  ] as const) {
    const answer = await send({ ...good, [field]: value });
    expect([answer.status, (await answer.json()).errors[0].field]).toEqual([400, field]);
  }
  const receipts: string[] = [];
  for (let i = 0; i < 2; i++) receipts.push((await (await send(good)).json()).receipt);
  await expect.poll(async () => (await (await api(`/receipts/${receipts[1]}`)).json()).outcome?.outcome).toBe('retry');
  const receipt = await (await api(`/receipts/${receipts[0]}`)).json();
  expect([receipt.outcome.outcome, receipt.outcome.detail, JSON.stringify(receipt).includes(key())]).toEqual([
    'unmatched',
    'unknown_click',
    false,
  ]);
});

test('the API: the screens’ checks and rights, problem details, and its own description', async () => {
  const described = await (await fetch(`${WEB}/api/v1/openapi.json`)).json();
  expect(described.openapi).toBe('3.1.0');
  expect(described.paths['/api/v1/links'].post.requestBody.content['application/json'].schema.required.sort()).toEqual([
    'channelId',
    'offerId',
    'partnerId',
  ]);
  expect((await api('/links', { token: 'bvt_wrong' })).status).toBe(401);
  for (const path of [
    'programs',
    'partners',
    'channels',
    'offers',
    'links',
    'conversions',
    'commissions',
    'payout-runs',
    'sources',
    'mail-copies',
  ]) {
    const { rows, total } = await (await api(`/${path}`)).json();
    expect([path, rows.length > 0, total > 0]).toEqual([path, true, true]);
    expect((await api(`/${path}/${rows[0].id}`)).status).toBe(200);
  }
  const { rows: channels } = await (await api('/channels')).json();
  const issued = await api('/links', {
    method: 'POST',
    body: {
      partnerId: channels[0].partnerId,
      channelId: channels[0].id,
      offerId: 2,
      values: { sub1: { kind: 'source', text: '[KEYWORD]' } },
    },
  });
  expect([issued.status, (await issued.json()).address]).toEqual([201, expect.stringContaining('?sub1=[KEYWORD]')]);
  const refused = await api('/links', { method: 'POST', body: { partnerId: 'x', offerId: 2, colour: 'red' } });
  expect([refused.status, refused.headers.get('content-type')]).toEqual([422, 'application/problem+json']);
  expect((await refused.json()).errors.map(({ field }: { field: string }) => field)).toEqual([
    'partnerId',
    'channelId',
    'colour',
  ]);
  // Large files arrive whole: what is wrong with one is said of its content, or of its size.
  const sent = async (mebibytes: number) => {
    const answer = await api('/links', { method: 'POST', body: { colour: 'x'.repeat(mebibytes * 2 ** 20) } });
    return [answer.status, (await answer.json()).detail];
  };
  expect(await sent(11)).toEqual([422, expect.any(String)]);
  expect(await sent(12.5)).toEqual([400, 'The body is larger than 12 MiB.']);
  expect((await api('/payout-runs', { method: 'POST', body: { cutOff: '2026-01-01' } })).status).toBe(403);
  expect((await api('/partners/9999')).status).toBe(404);
  expect((await api('/nowhere')).status).toBe(404);
  expect((await api('/links', { method: 'DELETE' })).status).toBe(405);
  expect((await api('/commissions?limit=ten')).status).toBe(422);
});
