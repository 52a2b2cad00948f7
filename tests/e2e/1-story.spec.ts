import Database from 'better-sqlite3';
import { execFileSync } from 'node:child_process';
import { join } from 'node:path';
import { DATA } from './places';
import { expect, test } from './signed_in';

test.describe.configure({ mode: 'serial' });

const LINK =
  /^https:\/\/go\.larkmoor\.example\/(\w{8})\?sub1=\{\{keyword\}\}&sub2=2026-11%20hero&to=https%3A%2F%2Flarkmoor\.example%2Fglaze%2Fash%3Fsize%3D2$/;
let code = '';
let order = '';

test('a link is composed, proved and issued', async ({ manager: page }) => {
  await page.keyboard.press('1');
  await expect(page).toHaveURL(/\/links/);
  await page.getByRole('button', { name: 'Partner: Choose a partner' }).click();
  await page.getByRole('combobox', { name: 'Find a partner' }).fill('slow');
  await page.getByRole('option', { name: /Slow Wheel Journal/ }).click();
  await page.getByRole('button', { name: 'Channel: Choose a channel' }).click();
  await page.getByRole('option', { name: /Autumn newsletter/ }).click();
  await page.getByLabel('Offer', { exact: true }).selectOption('Glaze box');
  await page.getByRole('radio', { name: 'Deep link' }).click();
  await page.getByLabel('Page', { exact: true }).fill('https://larkmoor.example/glaze/ash?size=2');
  await page.getByLabel('Sub-ID 1 is').selectOption('source');
  await page.getByLabel('Sub-ID 1', { exact: true }).fill('{{keyword}}');
  await page.getByLabel('Sub-ID 2', { exact: true }).fill('2026-11 hero');
  await page.getByRole('textbox', { name: '{{keyword}}' }).fill('ash glaze');
  await expect(page.getByTestId('landing')).toHaveText(
    'https://larkmoor.example/glaze/ash?size=2&bclid=01EXAMPLE00000000000000000',
  );
  await page.getByLabel('Sale in EUR').fill('32.00');
  await expect(page.getByText('€4.80 commission')).toBeVisible();
  await page.getByRole('button', { name: 'Issue link' }).click();
  await expect(page.getByRole('heading', { name: 'Issued' })).toBeVisible();
  await page.getByRole('button', { name: 'Copy', exact: true }).click();
  const copied = await page.evaluate(() => navigator.clipboard.readText());
  code = LINK.exec(copied)?.[1] ?? '';
  expect(copied).toMatch(LINK);
  await expect(page.getByRole('link', { name: code, exact: true })).toBeVisible();
});

test('it is clicked, leads into the shop, and an order is placed', async ({ manager: page }) => {
  const [shop] = await Promise.all([
    page.waitForEvent('popup'),
    page.getByRole('link', { name: 'Open on this machine' }).click(),
  ]);
  await expect(shop).toHaveURL(/\/glaze\/ash\?size=2&bclid=[0-9A-Z]{26}$/);
  await expect(shop.getByText(/click ID [0-9A-Z]{26} kept/)).toBeVisible();
  await shop.getByRole('button', { name: 'Order Glaze box, first month' }).click();
  order = (await shop.getByRole('strong').textContent()) ?? '';
  await expect(shop.getByText(/202 \{"receipt":"[0-9A-Z]{26}"/)).toBeVisible();
  await shop.close();
});

test('within two seconds click, conversion and commission are on screen, and T traces them', async ({
  manager: page,
}) => {
  await page.keyboard.press('3');
  await expect(page.getByRole('row', { name: new RegExp(order) })).toBeVisible({ timeout: 2000 });
  const row = page.getByRole('row', { name: new RegExp(order) });
  await expect(row).toContainText('Slow Wheel Journal');
  await expect(row).toContainText('4.80');
  await row.focus();
  await page.keyboard.press('t');
  const trace = page.getByRole('complementary', { name: 'Trace' });
  await expect(trace).toContainText('€32.00 base');
  await expect(trace).toContainText('€32.00 × 15% = 4.80');
  await expect(trace).toContainText('earned €4.80: expense of the program → pending');
  await expect(trace).toContainText('Kilns above €2,000: another offer');
  await trace.getByText('GET, raw').click();
  await expect(trace).toContainText(`order=${order}`);
  // The customer's ID was hashed, so it was written anew: without the key.
  await expect(trace).toContainText(/customer_id=%7E[0-9a-f]{32}/);
  await expect(trace).not.toContainText('key=');
  await expect(trace).toContainText(code);
  await expect(trace).toContainText('{{keyword}}');
  await page.keyboard.press('Escape');
  await expect(trace).toBeHidden();
  await page.keyboard.press('Control+k');
  await page.getByRole('textbox', { name: 'Find' }).fill(order);
  await expect(
    page.getByRole('list', { name: 'Found' }).getByText('conversion · order · Slow Wheel Journal'),
  ).toBeVisible();
  await page.keyboard.press('Escape');
});

test('what is due is approved, and one is taken back with a reason', async ({ manager: page }) => {
  await page.goto('/commissions?shelf=due&from=2000-01-01&to=2999-12-31');
  const approve = page.getByRole('button', { name: /^Approve \d+ due$/ });
  const count = /\d+/.exec((await approve.textContent()) ?? '')?.[0] ?? '';
  const inReview = page.getByRole('link', { name: /\d+ of them in review/ });
  const left = /\d+/.exec((await inReview.textContent()) ?? '')?.[0] ?? '';
  await approve.click();
  await expect(page.getByRole('dialog')).toContainText('go into the next payout run');
  await page
    .getByRole('dialog')
    .getByRole('button', { name: /^Approve/ })
    .click();
  await expect(page.getByText(`Approved ${count} commissions. ${left} stay in review.`)).toBeVisible();
  await expect(page.getByRole('table', { name: 'Commissions' }).locator('tbody tr')).toHaveCount(Number(left));

  await page.goto('/commissions?shelf=approved&from=2000-01-01&to=2999-12-31');
  await page.locator('tbody tr').first().focus();
  await page.keyboard.press('t');
  const trace = page.getByRole('complementary', { name: 'Trace' });
  await trace.getByRole('button', { name: 'Reverse' }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByLabel('Amount').fill('0.005');
  await dialog.getByRole('button', { name: 'Reverse' }).click();
  await expect(dialog).toContainText('Reason is missing');
  await dialog.getByLabel('Reason').fill('The box was sent back.');
  await dialog.getByLabel('Amount').fill('0.005');
  await dialog.getByRole('button', { name: 'Reverse' }).click();
  await expect(dialog).toContainText('EUR has at most 2 decimals');
  await dialog.getByLabel('Amount').fill('');
  await dialog.getByLabel('Reason').fill('The box was sent back.');
  await dialog.getByRole('button', { name: 'Reverse' }).click();
  await expect(trace).toContainText('(The box was sent back.)');
  await expect(trace).toContainText('reversed');
});

test('a run that waits for the books shows so, keeps nobody else waiting, and is cancelled with nothing lost', async ({
  manager,
  finance,
}) => {
  await finance.goto('/payouts');
  await finance.getByRole('button', { name: 'Draft a run' }).click();
  const dialog = finance.getByRole('dialog');
  await dialog.getByLabel(/Cut-off/).fill('2026-11-20');
  const books = new Database(join(DATA, 'books.db'));
  books.exec('BEGIN IMMEDIATE');
  try {
    await dialog.getByRole('button', { name: 'Draft a run' }).click();
    await expect(dialog.getByRole('status')).toContainText('Putting their commissions into the run');
    await manager.goto('/payouts');
    await expect(manager.getByRole('row', { name: /^Run/ })).toHaveCount(4);
    await dialog.getByRole('status').getByRole('button', { name: 'Cancel' }).click();
  } finally {
    books.exec('ROLLBACK');
    books.close();
  }
  await expect(dialog.getByRole('alert')).toHaveText('Cancelled. Nothing was written.');
  await expect(dialog.getByLabel(/Cut-off/)).toHaveValue('2026-11-20');
  await dialog.getByRole('button', { name: 'Cancel' }).click();
  await expect(finance.getByRole('button', { name: 'Draft a run' })).toBeVisible();
});

test('a run is drafted by one, approved by another, exported, paid, and each partner has a statement', async ({
  manager,
  finance,
}) => {
  await finance.goto('/payouts');
  await finance.getByRole('button', { name: 'Draft a run' }).click();
  await finance.getByRole('dialog').getByRole('button', { name: 'Draft a run' }).click();
  await expect(finance.getByText(/Drafted run 4: \d+ in, \d+ out\./)).toBeVisible();
  await finance.getByRole('link', { name: 'Run 4 is drafted' }).click();
  await expect(finance.getByText('A second person approves it.')).toBeVisible();
  await expect(finance.getByRole('row', { name: /Ashwork Notes.*no payout details/ })).toBeVisible();
  await expect(finance.getByRole('row', { name: /One Kiln Town.*on hold/ })).toBeVisible();
  await expect(
    finance.getByRole('table', { name: 'Partners left out' }).getByText('below the minimum').first(),
  ).toBeVisible();

  await manager.goto(finance.url());
  await manager.getByRole('button', { name: 'Approve run' }).click();
  await manager.getByRole('dialog').getByRole('button', { name: 'Approve run' }).click();
  await expect(manager.getByText('Run 4 is approved.')).toBeVisible();
  await expect(manager.getByRole('link', { name: 'Payment file' })).toBeHidden();

  await finance.reload();
  const [payments] = await Promise.all([
    finance.waitForEvent('download'),
    finance.getByRole('link', { name: 'Payment file' }).click(),
  ]);
  const file = await text(payments);
  expect(file).toMatch(/^reference,holder,account,amount,currency\r\n4-\w+,/);
  const paid = file.trim().split('\r\n').slice(1);
  expect(paid.length).toBeGreaterThan(5);
  for (const line of paid) expect(line).toMatch(/^4-\w+,[^,]+,\w{10,34},\d+\.\d\d,(EUR|GBP|USD)$/);
  await finance.reload();
  await finance.getByRole('button', { name: 'Mark paid' }).click();
  await finance.getByRole('dialog').getByRole('button', { name: 'Mark paid' }).click();
  await expect(finance.getByText('Run 4 is paid.')).toBeVisible();

  const row = finance.getByRole('row', { name: /Slow Wheel Journal/ });
  const [pdf] = await Promise.all([finance.waitForEvent('download'), row.getByRole('link', { name: 'PDF' }).click()]);
  expect((await text(pdf)).slice(0, 5)).toBe('%PDF-');
  const [csv] = await Promise.all([finance.waitForEvent('download'), row.getByRole('link', { name: 'CSV' }).click()]);
  const lines = (await text(csv)).trim().split('\r\n').slice(1);
  const sum = lines.reduce((all, line) => all + Math.round(Number(/,(-?\d+\.\d\d),EUR/.exec(line)?.[1]) * 100), 0);
  const balance = Math.round(Number((await row.getByRole('cell').nth(1).textContent())?.replace(',', '')) * 100);
  expect(sum).toBe(balance);
});

test('afterwards the books still prove themselves', () => {
  const secret = execFileSync('cat', [`${DATA}/secret`])
    .toString()
    .trim();
  const said = execFileSync(process.execPath, ['dist/verify.mjs'], {
    env: { ...process.env, BRIVET_DATA: DATA, BRIVET_SECRET: secret },
  }).toString();
  expect(said.match(/^ok /gm)?.length).toBe(9);
  expect(said).not.toContain('WRONG');
});

async function text(download: import('@playwright/test').Download): Promise<string> {
  const chunks: Buffer[] = [];
  for await (const chunk of await download.createReadStream()) chunks.push(chunk as Buffer);
  return Buffer.concat(chunks).toString('latin1');
}
