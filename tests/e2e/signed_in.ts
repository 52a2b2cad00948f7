import { type Browser, type Page, expect, test as base } from '@playwright/test';
import { PEOPLE } from './places';

export type Person = keyof typeof PEOPLE;

/** A page of its own for a person who is signed in. */
export async function pageOf(browser: Browser, person: Person): Promise<Page> {
  const context = await browser.newContext({ acceptDownloads: true });
  await context.grantPermissions(['clipboard-read', 'clipboard-write']);
  const page = await context.newPage();
  await page.goto('/sign-in');
  await page.getByLabel('E-mail').fill(PEOPLE[person].email);
  await page.getByLabel('Password').fill(PEOPLE[person].password);
  await page.getByRole('button', { name: 'Sign in' }).click();
  await expect(page).toHaveURL(/\/today/);
  return page;
}

export const test = base.extend<object, { manager: Page; finance: Page }>({
  manager: [
    async ({ browser }, use) => {
      const page = await pageOf(browser, 'manager');
      await use(page);
      await page.context().close();
    },
    { scope: 'worker' },
  ],
  finance: [
    async ({ browser }, use) => {
      const page = await pageOf(browser, 'finance');
      await use(page);
      await page.context().close();
    },
    { scope: 'worker' },
  ],
});
export { expect };
