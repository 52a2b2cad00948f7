import { readFileSync } from 'node:fs';
import { type IncomingMessage, type ServerResponse, createServer } from 'node:http';

/**
 * A small shop, an outsider: it knows the tracking host's postback address and key, keeps the click ID it finds in
 * a landing address in a cookie of its own, and reports each order from its server.
 */
interface Product {
  sku: string;
  name: string;
  category: string;
  /** Cents without tax. */
  price: number;
  event: string;
  paths: RegExp;
}
const PRODUCTS: Product[] = [
  {
    sku: 'kiln-60',
    name: 'Studio kiln, 60 litres',
    category: 'kilns',
    price: 145_000,
    event: 'order',
    paths: /^\/kilns/,
  },
  {
    sku: 'kiln-120',
    name: 'Studio kiln, 120 litres',
    category: 'kilns',
    price: 285_000,
    event: 'order',
    paths: /^\/kilns/,
  },
  { sku: 'shelf-set', name: 'Kiln shelf set', category: 'kilns', price: 6500, event: 'order', paths: /^\/kilns/ },
  {
    sku: 'glaze-box',
    name: 'Glaze box, first month',
    category: 'glaze',
    price: 3200,
    event: 'order',
    paths: /^\/glaze/,
  },
  { sku: 'raku-day', name: 'Raku day class', category: 'classes', price: 8000, event: 'booking', paths: /^\/classes/ },
];
const TAX_PERCENT = 21;
const SHIPPING = 1900;

const config = (): { postbackUrl: string; key: string; tagUrl: string } =>
  JSON.parse(readFileSync(process.env.BRIVET_STANDINS_FILE ?? 'data/standins.json', 'utf8'));
const euros = (cents: number): string => (cents / 100).toFixed(2);
const escape = (text: string): string => text.replace(/[&<>"']/g, (sign) => `&#${sign.charCodeAt(0)};`);
let orders = 0;

const page = (title: string, body: string): string => `<!doctype html><html lang="en"><head><meta charset="utf-8">
<meta name="viewport" content="width=device-width"><title>${escape(title)} · Larkmoor Kilns</title><style>
body{margin:0;font:16px/1.5 Georgia,serif;background:#FBF7F0;color:#33261C}header{background:#6B3E26;color:#FBF7F0;padding:18px 32px;font-size:22px}
main{max-width:760px;margin:32px auto;padding:0 24px}article{display:flex;align-items:center;gap:16px;border-bottom:1px solid #E3D6C5;padding:14px 0}
article h2{font-size:18px;margin:0;flex:1;font-weight:normal}button{font:inherit;background:#6B3E26;color:#fff;border:0;border-radius:4px;padding:8px 16px;cursor:pointer}
aside{margin-top:32px;font:13px/1.6 monospace;color:#6E5B4B;overflow-wrap:anywhere}a{color:#6B3E26}</style></head>
<body><header>Larkmoor Kilns</header><main>${body}</main><script src="${escape(config().tagUrl)}" async></script></body></html>`;

function shopPage(url: URL, clickId: string): string {
  const fitting = PRODUCTS.filter(({ paths }) => paths.test(url.pathname));
  const shown = fitting.length > 0 ? fitting : PRODUCTS;
  const rows = shown.map(
    ({ sku, name, price }) => `<article><h2>${escape(name)}</h2><span>€${euros(price)} excl. tax</span>
<form method="post" action="/order"><input type="hidden" name="sku" value="${sku}"><button aria-label="Order ${escape(name)}">Order</button></form></article>`,
  );
  const from = clickId ? `click ID ${escape(clickId)} kept for this visit` : 'no click ID: you came by yourself';
  return page('Shop', `<h1>From clay to kiln</h1>${rows.join('')}<aside>${escape(url.pathname)} · ${from}</aside>`);
}

async function placeOrder(product: Product, clickId: string): Promise<string> {
  orders += 1;
  const order = `W${Date.now().toString(36).toUpperCase()}${orders}`;
  const shipping = product.category === 'classes' ? 0 : SHIPPING;
  const tax = Math.round(((product.price + shipping) * TAX_PERCENT) / 100);
  const fields: Record<string, string> = {
    event: product.event,
    order,
    currency: 'EUR',
    amount: euros(product.price + shipping + tax),
    tax: euros(tax),
    shipping: euros(shipping),
    items: JSON.stringify([{ sku: product.sku, category: product.category, quantity: 1, price: euros(product.price) }]),
    customer: 'new',
  };
  if (clickId) fields.click_id = clickId;
  const { postbackUrl, key } = config();
  const answer = await fetch(`${postbackUrl}?${new URLSearchParams({ ...fields, key }).toString()}`).then(
    async (response) => `${response.status} ${await response.text()}`,
    (error: unknown) => `not reached: ${String(error)}`,
  );
  return page(
    'Thank you',
    `<h1>Thank you</h1><p>Your order <strong>${order}</strong> of ${escape(product.name)} comes to €${fields.amount ?? ''} with tax and shipping.</p>
<p><a href="/">Back to the shop</a></p><aside>The shop told the partner program: ${escape(answer)}</aside>`,
  );
}

const clickIdOf = (request: IncomingMessage): string =>
  /(?:^|;\s*)(?:bclid|brivet_click)=([0-9A-Z]{26})/.exec(request.headers.cookie ?? '')?.[1] ?? '';

function readForm(request: IncomingMessage): Promise<URLSearchParams> {
  return new Promise((resolve) => {
    let text = '';
    request.on('data', (chunk: Buffer) => (text = (text + chunk.toString()).slice(0, 10_000)));
    request.on('end', () => resolve(new URLSearchParams(text)));
  });
}

async function answer(request: IncomingMessage, response: ServerResponse): Promise<void> {
  const url = new URL(request.url ?? '/', 'http://shop.invalid');
  const html = (status: number, text: string, headers: Record<string, string> = {}): void =>
    void response
      .writeHead(status, { 'Content-Type': 'text/html; charset=utf-8', 'Cache-Control': 'no-store', ...headers })
      .end(text);
  if (url.pathname === '/healthz') return void response.end('{"ok":true,"service":"shop"}');
  if (request.method === 'POST' && url.pathname === '/order') {
    const sku = (await readForm(request)).get('sku');
    const product = PRODUCTS.find((each) => each.sku === sku);
    return product
      ? html(200, await placeOrder(product, clickIdOf(request)))
      : html(404, page('Not found', '<h1>We do not sell that</h1>'));
  }
  if (url.pathname === '/kilns/studio-40')
    return html(404, page('Gone', '<h1>We no longer make this kiln</h1><p><a href="/kilns">All kilns</a></p>'));
  const arrived = url.searchParams.get('bclid') ?? '';
  const clickId = /^[0-9A-Z]{26}$/.test(arrived) ? arrived : clickIdOf(request);
  html(
    200,
    shopPage(url, clickId),
    arrived === clickId && clickId
      ? { 'Set-Cookie': `bclid=${clickId}; Path=/; Max-Age=2592000; SameSite=Lax; HttpOnly` }
      : {},
  );
}

const port = Number(process.env.BRIVET_STANDINS_PORT ?? 3200);
const server = createServer(
  (request, response) => void answer(request, response).catch(() => response.writeHead(500).end('The shop stumbled.')),
);
server.listen(port);
for (const signal of ['SIGTERM', 'SIGINT'] as const)
  process.on(signal, () => {
    server.close(() => process.exit(0));
    server.closeAllConnections();
  });
