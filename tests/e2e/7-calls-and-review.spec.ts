import { EDGE, PORTS } from './places';
import { expect, test } from './signed_in';

test.describe.configure({ mode: 'serial' });

const OUTSIDE = `http://localhost:${PORTS.BRIVET_STANDINS_PORT}`;
const ALL = 'from=2000-01-01&to=2999-12-31';
const countIn = (text: string | null): number => Number((/([\d,]+)\s*$/.exec(text ?? '')?.[1] ?? '0').replace(',', ''));

test('a visit is shown a number of its own; its call is the channel’s, and pays when it is long enough', async ({
  browser,
  manager: page,
}) => {
  const visitor = await (await browser.newContext()).newPage();
  await visitor.goto(`${EDGE}/slow-wheel-kilns`);
  const shown = visitor.locator('[data-brivet-number]');
  await expect(shown).toHaveText(/^\+1555012\d$/);
  const number = (await shown.textContent()) ?? '';
  for (const seconds of ['61', '240']) {
    await visitor.goto(`${OUTSIDE}/exchange`);
    await visitor.getByLabel('Number that is dialled').fill(number);
    await visitor.getByLabel('Seconds it was talked for').fill(seconds);
    await visitor.getByLabel('Began, minutes ago').fill('0');
    await visitor.getByRole('button', { name: 'Call' }).click();
    await expect(visitor.getByRole('status')).toContainText('202');
  }
  await visitor.context().close();
  await page.goto('/conversions?shelf=calls');
  const rows = page.getByRole('table', { name: 'Calls' }).locator('tbody tr');
  await expect(rows.filter({ hasText: number }).filter({ hasText: '1:01' })).toContainText(
    /too short|outside the hours/,
  );
  const long = rows.filter({ hasText: number }).filter({ hasText: '4:00' });
  await expect(long).toContainText('Main site');
  await expect(long).toContainText(/a conversion|outside the hours/);
});

test('the shop refunds one item of an order, and tells when the parcel arrived', async ({ browser, manager: page }) => {
  const visitor = await (await browser.newContext()).newPage();
  await visitor.goto(`${EDGE}/slow-wheel-kilns`);
  const kiln = visitor.locator('article', { hasText: 'Studio kiln, 60 litres' });
  await kiln.getByLabel('Number').fill('2');
  await kiln.getByLabel('as').selectOption('cleo');
  await kiln.getByRole('button', { name: /^Order/ }).click();
  const order = (await visitor.getByRole('strong').textContent()) ?? '';
  await visitor.goto(`${OUTSIDE}/desk`);
  await visitor.getByRole('button', { name: `Delivered today: ${order}` }).click();
  await visitor.getByRole('button', { name: `Refund one item: ${order}` }).click();
  await expect(visitor.getByRole('status')).toContainText(`${order}: 202`);
  await visitor.context().close();
  const row = page.getByRole('table', { name: 'Conversions' }).locator('tbody tr', { hasText: order });
  // Two kilns at 4 % of 2,900.00, less one.
  await expect
    .poll(
      async () => {
        await page.goto(`/conversions?where=order%3D${order}`);
        return row.textContent();
      },
      { timeout: 15_000 },
    )
    .toContain('58.00');
  await row.getByRole('link', { name: '58.00' }).click();
  await expect(page.getByRole('complementary', { name: 'Trace' })).toContainText('Completed');
});

test('an ad platform fills the placeholders of a link for each visitor', async ({ browser, manager: page }) => {
  const visitor = await (await browser.newContext()).newPage();
  await visitor.goto(`${OUTSIDE}/ads`);
  await visitor
    .getByLabel('Address of the ad')
    .fill(`${EDGE}/craftfeed-glaze?sub1={{keyword}}&sub2=[PLACE]&sub3=from-ads&pcid=\${clickid}`);
  await visitor.getByLabel('Visitors').fill('12');
  await visitor.getByRole('button', { name: 'Send them' }).click();
  await expect(visitor.getByRole('status')).toContainText('12 × 302; 1 ordered');
  await visitor.context().close();
  await page.goto('/clicks?where=sub3%3Dfrom-ads');
  const pages = page.getByRole('navigation', { name: 'Pages' });
  await expect(pages).toContainText('of 12');
  await expect(page.getByRole('table', { name: 'Clicks' })).not.toContainText('{{keyword}}');
});

test('what looks odd is explained, and a person says what it means', async ({ manager: page }) => {
  await page.goto(`/conversions?shelf=review&${ALL}`);
  const shelf = page.getByRole('navigation', { name: 'Shelves' }).getByRole('link', { name: /In review/ });
  const before = countIn(await shelf.textContent());
  const rows = page.getByRole('table', { name: 'In review' }).locator('tbody tr');
  await expect(rows.first()).toContainText('the partner’s own');
  const file = await (await page.request.get(`/export/reviews?${ALL}`)).text();
  expect(file.trim().split('\r\n')).toHaveLength(1 + before);
  expect(file).toMatch(/,commission_currency,score,seen,state,.*[^]*the partner’s own/);
  await rows.first().getByRole('checkbox').check();
  await page.getByRole('button', { name: 'Decide…' }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByRole('button', { name: 'Reject', exact: true }).click();
  await dialog.getByRole('button', { name: 'Reject 1' }).click();
  await expect(dialog.locator('.bad')).toContainText('Reason');
  await dialog.getByRole('button', { name: 'Nothing wrong', exact: true }).click();
  await dialog.getByRole('button', { name: 'Nothing wrong 1' }).click();
  await expect(shelf).toContainText(String(before - 1));
  await page.getByRole('link', { name: 'Nothing wrong' }).click();
  await page.getByRole('button', { name: 'Undo' }).first().click();
  await expect(shelf).toContainText(String(before));
  await page.goto('/setup?shelf=suspicion');
  await page.getByLabel('A person is asked from').fill('much');
  await page.getByRole('button', { name: 'Save' }).click();
  await expect(page.locator('.bad')).toContainText('must be a number');
  await page.getByRole('button', { name: 'Usual values' }).click();
  await page.getByRole('button', { name: 'Save' }).click();
  await expect(page.getByRole('status').filter({ hasText: 'looked at again' }).first()).toBeVisible();
});

test('a report of the merchant is compared, decided on in bulk, and exported', async ({ finance: page }) => {
  const logged = await page.request.get(`/export/conversions?from=2000-01-01&to=2999-12-31&where=state%3Dpending`);
  const lines = (await logged.text())
    .trim()
    .split('\r\n')
    .map((line) => line.split(','));
  const [head = [], ...rows] = lines;
  const cell = (row: string[], name: string): string => row[head.indexOf(name)] ?? '';
  const orders = rows
    .filter((row) => cell(row, 'order').startsWith('LK-') && cell(row, 'currency') === 'EUR')
    .slice(0, 3);
  expect(orders).toHaveLength(3);
  const report = orders.map((row, i) => {
    const amount = i === 0 ? (Number(cell(row, 'amount')) + 10).toFixed(2) : cell(row, 'amount');
    return `${cell(row, 'order')};${cell(row, 'event')};${amount.replace('.', ',')};confirmed`;
  });
  const day = cell(orders[0] ?? [], 'time').slice(0, 10);
  await page.goto('/conversions/reconcile');
  await page.getByLabel(/Whose file/).fill('Larkmoor books');
  await page
    .getByLabel(/CSV with a head/)
    .fill(`Order number;Event;Total;Status\n${report.join('\n')}\nNEW-1;order;12,00;confirmed`);
  await page.getByRole('button', { name: 'See how it is read' }).click();
  await page.getByLabel('It holds what happened from').fill(day);
  await page.getByLabel('to', { exact: true }).fill(day);
  await page.getByRole('button', { name: 'Compare' }).click();
  await page.getByRole('link', { name: 'Look at what was found' }).click();
  const findings = page.getByRole('navigation', { name: 'Findings' });
  await expect(findings.getByRole('link', { name: /Differs/ })).toContainText('1');
  await expect(findings.getByRole('link', { name: /Equal/ })).toContainText('2');
  await page.getByRole('button', { name: 'Decide…' }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Take theirs 1' }).click();
  await expect(page.getByRole('table', { name: 'Differs' })).toContainText('taken as the report says');
  await findings.getByRole('link', { name: /Only there/ }).click();
  await expect(page.getByRole('table', { name: 'Only there' })).toContainText('NEW-1');
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('link', { name: 'Export as CSV' }).first().click(),
  ]);
  expect(download.suggestedFilename()).toMatch(/^reconciliation-\d+\.csv$/);
});

test('numbers are added for an offer, and its calls get their terms', async ({ manager: page }) => {
  await page.goto('/setup?shelf=calls');
  await page.getByRole('button', { name: 'Add numbers' }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByLabel(/Numbers, one a line/).fill('0555 0130');
  await dialog.getByRole('button', { name: 'Add them' }).click();
  await expect(dialog.locator('.bad')).toContainText('country code');
  await dialog.getByLabel(/Numbers, one a line/).fill('+1 555 0130\n+1 555 0131');
  await dialog.getByRole('button', { name: 'Add them' }).click();
  const table = page.getByRole('table', { name: 'Telephone numbers' });
  await expect(table).toContainText('+15550131');
  await table.locator('tr', { hasText: '+15550131' }).getByRole('button', { name: 'Remove' }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Remove' }).click();
  await expect(table).not.toContainText('+15550131');
  await page.goto('/setup?shelf=offers');
  await page.getByRole('link', { name: 'Studio kilns' }).click();
  const events = page.getByRole('group', { name: 'Events' });
  await events.getByText('Name, kind, hold, approval and fields').nth(1).click();
  await expect(events.getByLabel('Least length (seconds)')).toHaveValue('90');
  await events.getByLabel('A call converts').selectOption('merchant');
  await page.getByRole('button', { name: 'Save' }).click();
  await expect(page.getByText('Saved the offer Studio kilns.')).toBeVisible();
});
