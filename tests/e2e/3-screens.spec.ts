import { AxeBuilder } from '@axe-core/playwright';
import { expect, test } from './signed_in';

const SCREENS = [
  '/today',
  '/links?partner=1',
  '/links/1',
  '/links/many',
  '/links/destinations',
  '/links/mail',
  '/links/mail/1',
  '/apply',
  '/clicks',
  '/clicks?shelf=set_aside',
  '/clicks?shelf=explore&by=sub1,device',
  '/clicks?where=sub1%3Dash%2520glaze&upto=500&from=2000-01-01&to=2999-12-31',
  '/conversions?shelf=unmatched&from=2000-01-01&to=2999-12-31',
  '/conversions?trace=conversion:40',
  '/conversions?shelf=waiting',
  '/conversions?shelf=review&from=2000-01-01&to=2999-12-31',
  '/conversions?shelf=calls',
  '/conversions?where=state%3Dpending',
  '/conversions/reconcile',
  '/conversions?shelf=calendar&from=2026-01-01&to=2999-12-31',
  '/conversions/import',
  '/commissions',
  '/commissions?shelf=sheet',
  '/payouts',
  '/payouts/2',
  '/partners',
  '/partners/1',
  '/partners/25',
  '/partners/import?what=channels',
  '/partners/coupons',
  '/setup',
  '/setup?shelf=offers',
  '/setup/offers/1',
  '/setup/offers/1/routing',
  '/setup?shelf=sources',
  '/setup/sources/1',
  '/setup?shelf=terms',
  '/setup?shelf=postback',
  '/setup?shelf=calls',
  '/setup?shelf=suspicion',
  '/setup?shelf=rates',
  '/setup?shelf=tokens',
  '/setup?shelf=audit',
];

for (const scheme of ['light', 'dark'] as const)
  test(`every screen is accessible and without errors in the ${scheme} scheme`, async ({ manager: page }) => {
    test.setTimeout(300_000);
    const errors: string[] = [];
    page.on('console', (message) => message.type() === 'error' && errors.push(message.text()));
    page.on('pageerror', (error) => errors.push(error.message));
    await page.evaluate((mode) => localStorage.setItem('mui-mode', mode), scheme);
    // What an earlier action said would fade away while its contrast is measured.
    await page.context().clearCookies({ name: 'brivet_notice' });
    for (const screen of scheme === 'light' ? SCREENS : SCREENS.filter((each) => !each.includes('shelf='))) {
      await page.goto(screen);
      await expect(page.locator('html')).toHaveAttribute('data-scheme', scheme);
      // Rows beyond the first dozen are like them, and nothing is framed. The schemes differ in colour alone.
      const axe = new AxeBuilder({ page })
        .options({ resultTypes: ['violations'] })
        .exclude('tbody tr:nth-child(n + 13)')
        .setLegacyMode(true);
      const { violations } = await (
        scheme === 'light'
          ? axe.withTags(['wcag2a', 'wcag2aa', 'wcag21aa', 'wcag22aa'])
          : axe.withRules(['color-contrast'])
      ).analyze();
      expect(
        violations.map(
          ({ id, nodes }) =>
            `${screen} ${id}: ${nodes[0]?.html.slice(0, 160)} ${nodes[0]?.failureSummary?.slice(0, 200)}`,
        ),
      ).toEqual([]);
    }
    expect(errors).toEqual([]);
  });

test('the scope is in the address and holds while walking along the Line', async ({ manager: page }) => {
  await page.goto('/links');
  await page.getByRole('button', { name: 'Partner: any' }).click();
  await page.getByRole('combobox', { name: 'Find a partner' }).fill('brightbid');
  await page.getByRole('option', { name: /Brightbid/ }).click();
  await expect(page).toHaveURL(/partner=2/);
  for (const key of ['2', '3', '4']) {
    await page.keyboard.press(key);
    await expect(page.getByRole('group', { name: 'Looking at' })).toContainText('Brightbid Media');
    await expect(page.locator('tbody tr').first()).toContainText('Brightbid Media');
  }
  await page.keyboard.press('?');
  await expect(page.getByRole('dialog', { name: 'Keys' })).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(page.getByRole('dialog', { name: 'Keys' })).toBeHidden();
  await page.keyboard.press('0');
  await expect(page).toHaveURL(/today\?.*partner=2/);
});

test('a screen is kept under a name with all that is looked at, found again, and dropped', async ({
  manager: page,
}) => {
  await page.goto('/clicks?shelf=explore&by=sub1,device&partner=2');
  await page.getByRole('button', { name: /^Views/ }).click();
  await page.getByLabel('Name of this view').fill('Keywords of Brightbid');
  await page.getByRole('button', { name: 'Keep', exact: true }).click();
  await expect(page.getByRole('dialog', { name: 'Views' }).getByRole('link')).toHaveText('Keywords of Brightbid');
  await page.goto('/today');
  await page.getByRole('button', { name: /^Views 1/ }).click();
  await page.getByRole('link', { name: 'Keywords of Brightbid' }).click();
  await expect(page).toHaveURL(/by=sub1,device&partner=2/);
  await page.getByRole('button', { name: /^Views/ }).click();
  await page.getByRole('button', { name: 'Drop Keywords of Brightbid' }).click();
  await expect(page.getByText('What you look at often can be kept under a name.')).toBeVisible();
});

test('lists page on the server, and pages answer quickly', async ({ manager: page }) => {
  await page.goto('/clicks?from=2000-01-01&to=2999-12-31');
  await expect(page.getByText(/^1–50 of \d\d,\d{3}$/)).toBeVisible();
  await page.getByRole('link', { name: 'Next' }).click();
  await expect(page.getByText(/^51–100 of/)).toBeVisible();
});

test('nothing that draws charts is shipped, and the policy keeps foreign scripts out', async ({ manager: page }) => {
  const scripts: number[] = [];
  page.on('response', async (answer) => {
    if (answer.url().endsWith('.js')) scripts.push((await answer.body().catch(() => Buffer.alloc(0))).length);
  });
  const answer = await page.goto('/links');
  await page.waitForLoadState('networkidle');
  const policy = answer?.headers()['content-security-policy'] ?? '';
  expect(policy).toMatch(/script-src 'self' 'nonce-[\w+/=]+' 'strict-dynamic'/);
  expect(policy).not.toContain('unsafe-eval');
  expect(scripts.reduce((sum, size) => sum + size, 0)).toBeLessThan(1_600_000);
});
