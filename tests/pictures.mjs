// Takes the pictures of docs/screenshots from a running, fresh demo: node tests/pictures.mjs [name …]
import { chromium } from '@playwright/test';

const WEB = `http://localhost:${process.env.BRIVET_WEB_PORT ?? '3000'}`;
const all = '?from=2000-01-01&to=2999-12-31';
const PICTURES = {
  today: { path: '/today' },
  links: { path: '/links?partner=2', prepare: compose },
  clicks: { path: '/clicks?partner=2' },
  explorer: { path: `/clicks${all}&shelf=explore&by=sub1,device&partner=2` },
  'set-aside': { path: `/clicks${all}&shelf=set_aside`, dark: true },
  routing: { path: '/setup/offers/2/routing' },
  conversions: { path: '/conversions' },
  unmatched: { path: `/conversions${all}&shelf=unmatched` },
  review: { path: `/conversions${all}&shelf=review` },
  calls: { path: '/conversions?shelf=calls' },
  reconciliation: { path: '/conversions/reconcile', prepare: reconcile },
  import: { path: '/conversions/import', prepare: importFile },
  postback: { path: '/setup?shelf=postback' },
  commissions: { path: `/commissions${all}&shelf=due` },
  'rate-sheet': { path: '/commissions?shelf=sheet' },
  trace: { path: '/conversions', prepare: traceOfKiln },
  'payout-run': { path: '/payouts/3' },
  partner: { path: '/partners/17' },
  offer: { path: '/setup/offers/1' },
};

const FILE = `Order number;Total;Date;Click ID;Supplier
LK-9001;1.299,00;24-11-2026 14:05;of-another-program-1;Clay & Co
LK-9002;39,50;23-11-2026 09:12;of-another-program-2;Clay & Co
LK-9003;12,x0;23-11-2026;of-another-program-3;
`;
async function importFile(page) {
  await page.getByLabel(/Whose file/).fill('Larkmoor shop');
  await page.getByLabel('CSV with a head').fill(FILE);
  await page.getByRole('button', { name: 'See how it is read' }).click();
  await page.getByLabel('Event of lines').fill('order');
  await page.getByRole('button', { name: 'Look what becomes of each line' }).click();
  await page.getByText('is not a decimal amount').waitFor();
  await page.evaluate(() => document.querySelector('#import-lines')?.scrollIntoView());
}

async function compose(page) {
  await page.getByRole('button', { name: 'Channel: Choose a channel' }).click();
  await page.getByRole('option', { name: /Quillsearch glaze/ }).click();
  await page.getByLabel('Offer', { exact: true }).selectOption('Glaze box');
  await page.getByRole('radio', { name: 'Deep link' }).click();
  await page.getByLabel('Page', { exact: true }).fill('https://larkmoor.example/glaze/ash?size=2');
  await page.getByLabel('Sub-ID 4 is').waitFor({ state: 'detached' });
  await page.getByLabel('Sale in EUR').fill('32.00');
  await page.evaluate(() => {
    document.activeElement?.blur();
    window.scrollTo(0, 0);
  });
}

/** A report made of what is recorded: some lines are dearer, refunded or unknown, some are left out. */
async function reconcile(page) {
  const csv = await (await page.request.get(`${WEB}/export/conversions?from=2026-10-01&to=2026-10-31&offer=2`)).text();
  const [head, ...rows] = csv
    .trim()
    .split('\r\n')
    .map((line) => line.split(','));
  const cell = (row, name) => row[head.indexOf(name)];
  const lines = rows
    .filter((row) => cell(row, 'order') && cell(row, 'partner') && cell(row, 'currency') === 'EUR')
    .filter((_, i) => i % 17 !== 0)
    .map((row, i) => {
      const amount = i % 13 === 0 ? (Number(cell(row, 'amount')) + 4.05).toFixed(2) : cell(row, 'amount');
      const lost = ['rejected', 'reversed'].includes(cell(row, 'state'));
      return [cell(row, 'order'), cell(row, 'event'), amount, lost !== (i % 19 === 3) ? 'refunded' : 'confirmed'].join(
        ';',
      );
    });
  await page.getByLabel(/Whose file/).fill('Larkmoor shop, October');
  await page
    .getByLabel(/CSV with a head/)
    .fill(['Order;Event;Total;Status', ...lines, 'LK-0001;order;43.62;confirmed'].join('\n'));
  await page.getByRole('button', { name: 'See how it is read' }).click();
  await page.getByRole('combobox', { name: 'of', exact: true }).selectOption('Glaze box');
  await page.getByRole('button', { name: 'Compare' }).click();
  await page.getByRole('link', { name: 'Look at what was found' }).click();
  await page.getByRole('table', { name: 'Differs' }).waitFor();
}

async function traceOfKiln(page) {
  await page
    .getByRole('row', { name: /Studio kilns.*approved|Studio kilns/ })
    .first()
    .focus();
  await page.keyboard.press('t');
  await page.getByRole('complementary', { name: 'Trace' }).waitFor();
}

const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox'] });
const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
const page = await context.newPage();
page.on('console', (message) => message.type() === 'error' && console.log('console:', message.text()));
const wanted = process.argv.slice(2);
const folder = process.env.PICTURES ?? 'docs/screenshots';
let signedIn = false;
for (const [name, { path, prepare, dark }] of Object.entries(PICTURES)) {
  if (wanted.length > 0 && !wanted.includes(name)) continue;
  if (!signedIn) {
    await page.goto(`${WEB}/sign-in`);
    await page.getByLabel('E-mail').fill('ines@larkmoor.example');
    await page.getByLabel('Password').fill('kiln-and-clay');
    await page.getByRole('button', { name: 'Sign in' }).click();
    await page.waitForURL('**/today');
    signedIn = true;
  }
  await page.goto(WEB + path);
  await page.evaluate((mode) => localStorage.setItem('mui-mode', mode), dark ? 'dark' : 'light');
  await page.goto(WEB + path);
  await prepare?.(page);
  await page.waitForTimeout(400);
  await page.screenshot({ path: `${folder}/${name}.png` });
  console.log(name);
}
await browser.close();
