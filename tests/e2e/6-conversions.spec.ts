import { EDGE } from './places';
import { expect, test } from './signed_in';

test.describe.configure({ mode: 'serial' });

const ALL = 'from=2000-01-01&to=2999-12-31';
const UNMATCHED = `/conversions?shelf=unmatched&${ALL}`;
/** A number in "Unmatched 28" and the like. */
const countIn = (text: string | null): number => Number((/([\d,]+)\s*$/.exec(text ?? '')?.[1] ?? '').replace(',', ''));

test('the postback is written for the developer, tried, and what was received is explained', async ({
  manager: page,
}) => {
  await page.goto('/setup?shelf=postback');
  await page.getByRole('combobox', { name: 'Event', exact: true }).selectOption('booking');
  await page.getByRole('combobox', { name: 'Sent' }).selectOption('json');
  await page.getByRole('combobox', { name: 'Proved by' }).selectOption('signature');
  await page.getByRole('checkbox', { name: 'completed' }).check();
  await page.getByLabel('Fields of your own').fill('x_place Place');
  await expect(page.getByText('begins with x_')).toBeVisible();
  await page.getByLabel('Fields of your own').fill('x_place');
  const written = page.getByLabel('The postback');
  for (const part of ['"event": "booking"', '"completed": "COMPLETED"', '"x_place": "PLACE"', 'sig=SIGNATURE'])
    await expect(written).toContainText(part);
  await page.getByRole('button', { name: 'Send a test' }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByRole('button', { name: 'The newest counted click' }).click();
  await expect(dialog.getByLabel('click_id')).toHaveValue(/^[0-9A-Z]{26}$/);
  await dialog.getByRole('button', { name: 'Send it' }).click();
  await expect(dialog.getByRole('status')).toContainText('Answered with 202');
  await expect(dialog.getByRole('status')).toContainText('It would be recorded for');
  await dialog.getByLabel('amount').fill('12,x0');
  await dialog.getByRole('button', { name: 'Send it' }).click();
  await expect(dialog.getByRole('status')).toContainText('Answered with 400');
  await page.keyboard.press('Escape');
  const received = page.getByRole('table', { name: 'Received' });
  await expect(received.locator('tbody tr').first()).toContainText('a test, without effect');
  await received.locator('tbody tr').first().getByText('GET').click();
  await expect(received.locator('tbody tr').first()).not.toContainText(/sig=[0-9a-f]/);
  await page.getByRole('button', { name: 'Show the signing secret' }).click();
  await expect(page.getByText(/bvs_/)).toBeVisible();
});

test('what found no partner is repaired by its cause, and taken back', async ({ manager: page }) => {
  await page.goto(UNMATCHED);
  const shelf = page.getByRole('navigation', { name: 'Shelves' }).getByRole('link', { name: /Unmatched/ });
  const before = countIn(await shelf.textContent());
  const causes = page.getByRole('group', { name: 'Causes' });
  await causes.getByRole('link', { name: /never recorded here/ }).click();
  const rows = page.getByRole('table', { name: 'Unmatched' }).locator('tbody tr');
  await expect(rows.first()).toContainText('unknown click');
  const boxes = page.getByRole('checkbox', { name: /^Choose/ });
  for (const at of [0, 1]) await boxes.nth(at).check();
  await page.getByRole('button', { name: 'Repair…' }).click();
  const dialog = page.getByRole('dialog');
  await expect(dialog).toContainText('The 2 you have ticked');
  await dialog.getByRole('button', { name: 'Give 2 away' }).click();
  await expect(dialog.locator('.bad').first()).toBeVisible();
  await dialog.getByRole('button', { name: 'They are nobody’s' }).click();
  await dialog.getByLabel(/Reason/).fill('tests of the shop');
  await dialog.getByRole('button', { name: 'Take 2 off the shelf' }).click();
  await expect(dialog).toBeHidden();
  await expect.poll(async () => countIn(await shelf.textContent())).toBe(before - 2);
  const repaired = page.locator('.repaired', { hasText: 'tests of the shop' }).first();
  await repaired.getByRole('button', { name: 'Undo' }).click();
  await expect(repaired).toContainText('taken back');
  await expect.poll(async () => countIn(await shelf.textContent())).toBe(before);
  await causes
    .getByRole('button', { name: /Extend to 45 days/ })
    .first()
    .click();
  await page
    .getByRole('dialog')
    .getByRole('button', { name: /Extend/ })
    .click();
  await expect.poll(async () => countIn(await shelf.textContent())).toBeLessThan(before);
});

test('a merchant’s file: read as it is written, previewed, imported, taken back', async ({ manager: page }) => {
  const clicked = await fetch(`${EDGE}/pixel.gif`);
  expect(clicked.status).toBe(200);
  await page.goto('/clicks');
  const clickId = (await page.locator('tbody tr', { hasText: 'Glaze box' }).first().getAttribute('data-trace'))?.slice(
    6,
  );
  const day = new Date(Date.now() + 60_000).toISOString();
  await page.goto('/conversions/import');
  await page.getByLabel(/Whose file/).fill('Larkmoor shop');
  await page
    .getByLabel('CSV with a head')
    .fill(`Order number;Total;Click ID;When\nFILE-1;1.299,00;${clickId};${day}\nFILE-2;12,x0;${clickId};${day}`);
  await page.getByRole('button', { name: 'See how it is read' }).click();
  await expect(page.getByRole('combobox', { name: 'Decimal sign' })).toHaveValue(',');
  await expect(page.getByLabel('Order number says')).toHaveValue('order');
  await page.getByLabel('When says').selectOption('time');
  await page.getByLabel('Event of lines without one').fill('order');
  await page.getByRole('button', { name: 'Look what becomes of each line' }).click();
  await expect(page.getByRole('button', { name: /would be new 1/ })).toBeVisible();
  await expect(page.getByText(/is not a decimal amount/)).toBeVisible();
  await expect(page.getByRole('button', { name: /^Import/ })).toBeHidden();
  await page.getByLabel(/Leave what is refused out/).check();
  await page.getByRole('button', { name: 'Import 1' }).click();
  await expect(page.getByRole('status').filter({ hasText: 'Imported 1 new' })).toBeVisible();
  const row = page.getByRole('table', { name: 'Imports' }).locator('tbody tr').first();
  await expect(row).toContainText('Larkmoor shop');
  await row.getByRole('button', { name: 'Take back' }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Take back' }).click();
  await expect(row).toContainText('taken back');
});

test('conversions are recorded by hand, shown by chosen columns, and decided on together', async ({
  manager: page,
}) => {
  await page.goto(`/conversions?${ALL}`);
  await page.getByRole('button', { name: 'Record by hand' }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByLabel('Order', { exact: true }).fill('HAND-1');
  await dialog.getByLabel('Click ID').fill('someone-called');
  await dialog.getByLabel('Amount').fill('12,5x');
  await dialog.getByRole('button', { name: 'Record it' }).click();
  await expect(dialog.locator('.bad')).toContainText('decimal amount');
  await dialog.getByLabel('Amount').fill('120.00');
  await dialog.getByRole('button', { name: 'Record it' }).click();
  await expect(page.locator('tbody tr', { hasText: 'HAND-1' })).toContainText('unknown click');
  await page.getByRole('button', { name: /^Columns/ }).click();
  await page.getByRole('button', { name: '+ Place' }).click();
  await page.getByRole('button', { name: '+ Reported by' }).click();
  await page.getByRole('button', { name: 'Keep these columns' }).click();
  await expect(page.locator('tbody tr', { hasText: 'HAND-1' })).toContainText('by hand');
  await expect(page.locator('tbody tr', { hasText: 'Classes' }).first()).toContainText(/Breda|Utrecht|Zwolle/);
  const held = page.locator('tbody tr', { hasText: 'held' });
  const order = (await held.first().locator('td').nth(3).textContent()) ?? '';
  await held.first().getByRole('checkbox').check();
  await page.getByRole('button', { name: 'Decide…' }).click();
  await dialog.getByRole('button', { name: 'Approve 1' }).click();
  await expect(dialog.locator('.bad')).toContainText('not due before');
  await dialog.getByRole('button', { name: 'Reject' }).first().click();
  await dialog.getByLabel('Reason').fill('ordered by the shop itself');
  await dialog.getByRole('button', { name: 'Reject 1' }).click();
  await expect(dialog).toBeHidden();
  await expect(page.locator('tbody tr', { hasText: order }).first()).toContainText('rejected');
  await page.getByRole('link', { name: 'Validation calendar' }).click();
  await expect(page.getByRole('table', { name: 'Validation calendar' })).toContainText('2026');
});
