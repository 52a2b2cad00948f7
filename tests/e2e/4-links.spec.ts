import { readFileSync } from 'node:fs';
import { DATA, EDGE, WEB } from './places';
import { expect, test } from './signed_in';

const AGENT = { 'User-Agent': 'Mozilla/5.0 (X11; Linux x86_64; rv:143.0) Gecko/20100101 Firefox/143.0' };
const token = (): string => JSON.parse(readFileSync(`${DATA}/demo.json`, 'utf8')).token;
const api = async (path: string, body?: unknown) => {
  const answer = await fetch(`${WEB}/api/v1${path}`, {
    method: body === undefined ? 'GET' : 'POST',
    headers: { Authorization: `Bearer ${token()}` },
    ...(body !== undefined && { body: JSON.stringify(body) }),
  });
  return { status: answer.status, body: await answer.json() };
};

test('the workbench finds what is wrong with a page and mends it, and takes a pasted link of ours apart', async ({
  manager: page,
}) => {
  await page.goto('/links?partner=2');
  await page.getByLabel('Offer', { exact: true }).selectOption('Glaze box');
  const to = page.getByLabel('Page, empty for the landing page');
  const findings = page.getByRole('list', { name: 'Findings' });
  await to.fill('https://larkmoor.example/glaze?size=2?box=1&sub2=late');
  await expect(findings).toContainText('A second "?" begins nothing');
  await expect(page.getByText('2 errors to mend first')).toBeVisible();
  await page.getByRole('button', { name: 'Put "&" there' }).click();
  await expect(to).toHaveValue('https://larkmoor.example/glaze?size=2&box=1&sub2=late');
  await page.getByRole('button', { name: 'Move it into its slot' }).click();
  await expect(to).toHaveValue('https://larkmoor.example/glaze?size=2&box=1');
  await expect(page.getByLabel('Sub-ID 2', { exact: true })).toHaveValue('late');
  await expect(findings.getByRole('listitem')).toHaveCount(0);

  await to.fill(
    'https://go.larkmoor.example/k7Qm2xTf?sub1={{keyword}}&to=https%3A%2F%2Flarkmoor.example%2Fglaze%2Fash',
  );
  await expect(page.getByText('This was the link k7Qm2xTf of ours')).toBeVisible();
  await expect(page.getByLabel('Page', { exact: true })).toHaveValue('https://larkmoor.example/glaze/ash');
  await page.getByRole('button', { name: 'Use Quillsearch' }).click();
  await expect(page.getByTestId('link')).toContainText('?keyword={{keyword}}');
  await expect(page.getByLabel('Traffic source')).toHaveValue(/\d/);
  await expect(page.getByText('sub3=glaze-nl')).toBeVisible();

  await page.getByRole('button', { name: 'Channel: Choose a channel' }).click();
  await page.getByRole('option', { name: /Quillsearch glaze/ }).click();
  await page
    .getByRole('group')
    .filter({ hasText: 'Example values' })
    .evaluate((fold: HTMLDetailsElement) => (fold.open = true));
  await page.getByRole('button', { name: 'Take them from the last click' }).click();
  await expect(page.getByText('Taken from the last real click')).toBeVisible();

  await page.getByRole('radio', { name: 'Direct' }).click();
  await expect(page.getByText('Cannot be led elsewhere once it is out.')).toBeVisible();
  await expect(page.getByTestId('link')).toContainText('https://larkmoor.example/glaze/ash?ref=········');
  await page.getByRole('radio', { name: 'Referral' }).click();
  await page.getByLabel('Page, empty for the landing page').fill('https://larkmoor.example/kilns/studio-40');
  await page.getByRole('button', { name: 'Follow it for real' }).click();
  await expect(page.getByText('The page is not there (404).')).toBeVisible();
});

test('a link is led elsewhere and follows at once; its QR code is drawn here', async ({ manager: page }) => {
  await page.goto('/links?partner=1');
  await page.getByRole('link', { name: 'slow-wheel-kilns' }).click();
  await expect(page).toHaveURL(/\/links\/\d+$/);
  const follow = async (): Promise<string> =>
    (await fetch(`${EDGE}/slow-wheel-kilns`, { redirect: 'manual', headers: AGENT })).headers.get('location') ?? '';
  expect(await follow()).toContain('/kilns?bclid=');
  const form = page.getByRole('form', { name: 'Destination' });
  await form.getByLabel('Page, empty for the landing page').fill('https://evil.example/');
  await form.getByRole('button', { name: 'Lead there' }).click();
  await expect(form.getByText('is not among the offer’s landing hosts')).toBeVisible();
  await form.getByLabel('Page, empty for the landing page').fill('https://larkmoor.example/kilns/studio-60');
  await form.getByLabel('Why').fill('Autumn offer');
  await form.getByRole('button', { name: 'Lead there' }).click();
  await expect(page.getByRole('row', { name: /studio-60.*Autumn offer/ })).toContainText('Ines Okafor');
  expect(await follow()).toContain('/kilns/studio-60?bclid=');
  await page.getByRole('button', { name: 'QR code' }).click();
  await expect(
    page.getByRole('img', { name: /QR code of https:\/\/go\.larkmoor\.example\/slow-wheel-kilns/ }),
  ).toBeVisible();
  const [saved] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('link', { name: 'Save SVG' }).click(),
  ]);
  expect(saved.suggestedFilename()).toBe('slow-wheel-kilns.svg');
});

test('a direct link leads straight into the shop, where the page tag reports it and the order finds its click', async ({
  manager: page,
}) => {
  await page.goto('/links?partner=1');
  await page.getByRole('button', { name: 'Channel: Choose a channel' }).click();
  await page.getByRole('option', { name: /Main site/ }).click();
  await page.getByLabel('Offer', { exact: true }).selectOption('Glaze box');
  await page.getByRole('radio', { name: 'Direct' }).click();
  await page.getByLabel('Page, empty for the landing page').fill('https://larkmoor.example/glaze/ash?size=2');
  await page.getByLabel('Sub-ID 1', { exact: true }).fill('straight');
  await page.getByRole('button', { name: 'Issue link' }).click();
  const reported = page.context().waitForEvent('request', (request) => request.url().endsWith('/hit'));
  const [shop] = await Promise.all([
    page.waitForEvent('popup'),
    page.getByRole('link', { name: 'Open on this machine' }).click(),
  ]);
  await expect(shop).toHaveURL(/\/glaze\/ash\?size=2&ref=\w{8}&sub1=straight$/);
  await reported;
  const id = /brivet_click=(\w{26})/.exec(await shop.evaluate(() => document.cookie))?.[1] ?? '';
  await shop.reload();
  await shop.getByRole('button', { name: 'Order Glaze box, first month' }).click();
  const order = (await shop.getByRole('strong').textContent()) ?? '';
  await shop.close();
  await page.goto('/conversions');
  await expect(page.getByRole('row', { name: new RegExp(order) })).toContainText('Slow Wheel Journal');
  await page.goto(`/clicks?trace=click:${id}`);
  await expect(page.getByRole('complementary', { name: 'Trace' })).toContainText('straight');
});

test('many at once: what becomes of each line, then the good ones, and never twice', async ({ manager: page }) => {
  const lines = `partner,channel,destination,sub1
SLOWWHEEL,MAIN,https://larkmoor.example/kilns/studio-60,review
SLOWWHEEL,NOWHERE,https://larkmoor.example/kilns,
CLAYCAST,EP,https://clay.example/raku,`;
  const look = async (): Promise<void> => {
    await page.goto('/links/many');
    await page.getByLabel(/CSV with a head/).fill(lines);
    await page.getByLabel('Offer', { exact: true }).selectOption('Studio kilns');
    await page.getByRole('button', { name: 'Look what becomes of them' }).click();
  };
  await look();
  const table = page.getByRole('table', { name: 'What becomes of each line' });
  await expect(table.getByText('has no channel "NOWHERE"')).toBeVisible();
  await expect(table.getByText('is not among the offer’s landing hosts')).toBeVisible();
  await page.getByRole('button', { name: 'Issue 1 link' }).click();
  await expect(page.getByText('Issued 1. Reading the same lines again issues nothing twice.')).toBeVisible();
  await expect(table.getByText(/https:\/\/go\.larkmoor\.example\/\w{8}\?sub1=review&to=/)).toBeVisible();
  const [csv] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('link', { name: 'Export as CSV' }).click(),
  ]);
  expect(csv.suggestedFilename()).toBe('links.csv');
  await look();
  await expect(page.getByRole('button', { name: 'there already 1' })).toBeVisible();
  await page.getByRole('radio', { name: 'Partners × channels × pages' }).click();
  await page.getByLabel('Group').selectOption('Makers');
  await page.getByRole('button', { name: 'Look what becomes of them' }).click();
  await expect(page.getByRole('button', { name: /Issue \d+ links/ })).toBeVisible();
});

test('a failing page stands in Today; its links are led elsewhere together', async ({ manager: page }) => {
  await page.goto('/today');
  await page
    .getByRole('listitem')
    .filter({ hasText: 'larkmoor.example/kilns/studio-40 does not answer well' })
    .getByRole('link')
    .click();
  const row = page.getByRole('row', { name: /studio-40/ });
  await expect(row).toContainText('The page is not there (404).');
  await row.getByRole('button', { name: 'Lead elsewhere' }).click();
  await page.getByRole('dialog').getByLabel('Page, empty for a landing page').fill('https://larkmoor.example/kilns');
  await page.getByRole('dialog').getByRole('button', { name: 'Lead 1 elsewhere' }).click();
  await expect(page.getByText('1 links lead elsewhere from now on.')).toBeVisible();
  await expect(page.getByText('Every page answers')).toBeVisible();
});

test('mail copy shows each partner’s own link once it is issued', async ({ manager: page }) => {
  await page.goto('/links/mail');
  await page.getByRole('link', { name: 'Autumn glaze box' }).click();
  await page.getByLabel('Page the links lead to').fill('https://larkmoor.example/glaze/celadon');
  await page.getByRole('textbox', { name: 'Text' }).fill('Dear {partner_name}');
  await page.getByRole('button', { name: 'Save' }).click();
  await expect(page.getByText('The text has no {link}')).toBeVisible();
  await page.getByRole('textbox', { name: 'Text' }).fill('Dear {partner_name}, {link}');
  await page.getByRole('button', { name: 'Save' }).click();
  await page.getByRole('button', { name: /^Issue \d+ missing$/ }).click();
  await page
    .getByRole('dialog')
    .getByRole('button', { name: /^Issue/ })
    .click();
  await page
    .getByRole('button', { name: /^Partner:/ })
    .last()
    .click();
  await page.getByRole('combobox', { name: 'Find a partner' }).fill('claycast');
  await page.getByRole('option', { name: /Claycast/ }).click();
  await expect(page.getByText(/^Dear Claycast, https:\/\/go\.larkmoor\.example\/\w{8}$/)).toBeVisible();
});

test('somebody applies in public, is approved, and has a channel', async ({ browser, manager: page }) => {
  const context = await browser.newContext();
  const visitor = await context.newPage();
  await visitor.goto(`${WEB}/apply?by=MUDRING`);
  const form = visitor.getByRole('form', { name: 'Application' });
  await form.getByLabel('Your name, or your company’s').fill('Wood & Ash');
  await form.getByLabel('E-mail').fill('wood@ash.example');
  await form.getByLabel('Country').fill('nl');
  await form.getByLabel('Where you publish').fill('ash.example');
  await form.getByLabel('How you would send people').fill('A club of 300 wood-firing potters.');
  await form.getByRole('button', { name: 'Send application' }).click();
  await expect(form.getByText('Where you publish begins with https://')).toBeVisible();
  await expect(form.getByText('The terms have to be accepted to apply.')).toBeVisible();
  await form.getByLabel('Where you publish').fill('https://ash.example/');
  await form.getByLabel(/I accept the terms/).check();
  await form.getByRole('button', { name: 'Send application' }).click();
  await expect(visitor.getByText('Thank you, your application is here')).toBeVisible();
  await context.close();

  await page.goto('/today');
  await page.getByRole('listitem').filter({ hasText: 'Wood & Ash applied' }).getByRole('link').click();
  await expect(page.getByText('A club of 300 wood-firing potters.')).toBeVisible();
  await expect(page.getByText('version 1')).toBeVisible();
  await page.getByRole('button', { name: 'Approve' }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Approve' }).click();
  await expect(page.getByRole('row', { name: /ash\.example.*MAIN/ })).toBeVisible();
});

test('a source comes from a file; a bad file names the path of what is wrong', async ({ manager: page }) => {
  await page.goto('/setup?shelf=sources');
  const [file] = await Promise.all([
    page.waitForEvent('download'),
    page
      .getByRole('row', { name: /Plazafeed/ })
      .getByRole('link', { name: 'JSON' })
      .click(),
  ]);
  const preset = JSON.parse(readFileSync((await file.path()) ?? '', 'utf8'));
  await page.getByRole('button', { name: 'Import' }).click();
  const dialog = page.getByRole('dialog');
  await dialog
    .getByLabel('A source preset as JSON')
    .fill(JSON.stringify({ ...preset, values: { sub1: { parameter: 'to', value: { kind: 'partner' } } } }));
  await dialog.getByRole('button', { name: 'Import source' }).click();
  await expect(dialog.getByText('At values.sub1.parameter: "to" has a meaning of its own')).toBeVisible();
  await dialog.getByLabel('A source preset as JSON').fill(JSON.stringify(preset));
  await dialog.getByRole('button', { name: 'Import source' }).click();
  await page.getByRole('link', { name: 'Plazafeed 2' }).click();
  await page.getByLabel('Placeholder 1', { exact: true }).fill('[POSTING]');
  await page.getByRole('button', { name: 'Save' }).click();
  await expect(page.getByText('Saved the source Plazafeed 2.')).toBeVisible();
  await page.goto('/setup?shelf=sources');
  await page.getByRole('button', { name: 'Take Plazafeed 2 out of use' }).click();
  await expect(page.getByRole('link', { name: 'Plazafeed 2' })).toBeHidden();
  await page.getByRole('button', { name: 'Take Plazafeed 2 into use again' }).click();
  await expect(page.getByRole('link', { name: 'Plazafeed 2' })).toBeVisible();
  const described = await (await fetch(`${WEB}/schemas/source-preset`)).json();
  expect([described.$schema, Object.keys(described.properties)]).toEqual([
    'https://json-schema.org/draft/2020-12/schema',
    expect.arrayContaining(['format', 'tokens', 'values']),
  ]);
});

test('partners come from a file, seen before they are written', async ({ manager: page }) => {
  await page.goto('/partners/import');
  await page
    .getByLabel(/CSV with a head/)
    .fill(
      'code,name,kind,email,country\nRAKUCLUB,Raku Club,business,club@raku.example,NL\nBADONE,Bad,business,nobody,NL',
    );
  await page.getByRole('button', { name: 'Look what becomes of them' }).click();
  await expect(page.getByText('E-mail is not an e-mail address')).toBeVisible();
  await page.getByRole('button', { name: 'Import 1' }).click();
  await expect(page.getByText('Imported 1 new, changed 0.')).toBeVisible();
  await page.goto('/partners?name=rakuclub');
  await expect(page.getByRole('row', { name: /Raku Club.*applied/ })).toBeVisible();
});

test('the API proves, follows, and works on many lines', async () => {
  const link = { partnerId: 1, channelId: 1, offerId: 1, kind: 'deep', to: 'https://larkmoor.example/kilns?a=1?b=2' };
  const proof = await api('/links/prove', { link, event: 'order', amount: '100.00' });
  expect([proof.status, proof.body.findings[0].code, proof.body.findings[0].fix.change.to]).toEqual([
    200,
    'second_question_mark',
    'https://larkmoor.example/kilns?a=1&b=2',
  ]);
  const chain = await api('/links/follow', { address: 'http://127.0.0.1/' });
  expect(chain.body[0].problem).toContain('inside a network');
  const begun = await api('/links/many', {
    write: false,
    input: {
      form: 'lines',
      text: 'https://larkmoor.example/kilns/x',
      defaults: { partnerId: 1, channelId: 1, offerId: 1 },
    },
  });
  expect(begun.status).toBe(201);
  await expect.poll(async () => (await api(`/jobs/${begun.body.id}`)).body.state).toBe('done');
  expect((await api(`/jobs/${begun.body.id}/lines`)).body.rows).toMatchObject([{ line: 1, outcome: 'new' }]);
  expect((await api('/sources/1/export')).body).toMatchObject({ format: 'brivet-source', version: 1 });
  const stranger = await fetch(`${WEB}/jobs`, {
    method: 'POST',
    headers: { Origin: 'https://evil.example' },
    body: '{}',
  });
  expect(stranger.status).toBe(401);
});
