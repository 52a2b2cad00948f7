import {
  COUPONS,
  CUSTOMERS,
  type CustomerName,
  MODES,
  type Mode,
  PRODUCTS,
  STEPS,
  type Step,
  orders,
  placeOrder,
  settings,
  stepsOf,
  take,
} from './orders';
import { type Asked, type Said, escape, euros, field, options, page as pageOf, told } from './web';

/**
 * A small shop, an outsider: it knows the tracking host's postback address and key, keeps the click ID it finds in
 * a landing address in a cookie of its own, and reports each order from its server.
 */
const LOOK = { name: 'Larkmoor Kilns', ink: '#33261C', paper: '#FBF7F0', main: '#6B3E26' };
const tag = (): string => `<script src="${escape(told().tagUrl)}" async></script>`;
const page = (title: string, body: string, tail = ''): string => pageOf(LOOK, title, body, `${tag()}${tail}`);

const people = Object.entries(CUSTOMERS).map(([id, { name }]) => [id, name] as const);
const isCustomer = (text: string): text is CustomerName => Object.hasOwn(CUSTOMERS, text);
const kept = (cookie: string, name: string): string =>
  new RegExp(`(?:^|;\\s*)${name}=([0-9A-Z]{26})`).exec(cookie)?.[1] ?? '';
const clickIdOf = (cookie: string): string => kept(cookie, 'bclid') || kept(cookie, 'brivet_click');

export function shopPage({ url, cookie }: Asked): Said {
  if (url.pathname === '/kilns/studio-40')
    return {
      status: 404,
      html: page('Gone', '<h1>We no longer make this kiln</h1><p><a href="/kilns">All kilns</a></p>'),
    };
  const arrived = url.searchParams.get('bclid') ?? '';
  const fresh = /^[0-9A-Z]{26}$/.test(arrived);
  const clickId = fresh ? arrived : clickIdOf(cookie);
  const fitting = PRODUCTS.filter(({ paths }) => paths.test(url.pathname));
  const rows = (fitting.length > 0 ? fitting : PRODUCTS).map(
    ({ sku, name, price }) => `<article><h2>${escape(name)}</h2><span>€${euros(price)} excl. tax</span>
<form method="post" action="/order"><input type="hidden" name="sku" value="${sku}">
<label>Number <input name="quantity" value="1" size="2" inputmode="numeric"></label>
<label>Coupon <input name="coupon" size="10"></label>
<label>as <select name="customer">${options(people, 'ada')}</select></label>
<button aria-label="Order ${escape(name)}">Order</button></form></article>`,
  );
  const from = clickId ? `click ID ${escape(clickId)} kept for this visit` : 'no click ID: you came by yourself';
  return {
    html: page(
      'Shop',
      `<h1>From clay to kiln</h1><p>Questions? Call <a data-brivet-number href="tel:+15550199">+1 555 0199</a>. Coupons: ${Object.keys(COUPONS).join(', ')}.</p>
${rows.join('')}<aside>${escape(url.pathname)} · ${from}</aside>`,
    ),
    ...(fresh && { headers: { 'Set-Cookie': `bclid=${arrived}; Path=/; Max-Age=2592000; SameSite=Lax; HttpOnly` } }),
  };
}

/** The thank-you page: in the mode of the tag it reports the order from the page. */
export async function order({ form, cookie }: Asked): Promise<Said> {
  const customer = field(form, 'customer');
  const placed = await placeOrder({
    ...{ sku: field(form, 'sku'), coupon: field(form, 'coupon') },
    quantity: Math.min(20, Math.max(1, Math.floor(Number(field(form, 'quantity'))) || 1)),
    customer: isCustomer(customer) ? customer : 'ada',
    ...{ clickId: clickIdOf(cookie), visitor: kept(cookie, 'brivet_visitor') },
  });
  if (!placed) return { status: 404, html: page('Not found', '<h1>We do not sell that</h1>') };
  const { number, product, fields } = placed.order;
  const { event, order: reference, amount, currency, tax, shipping } = fields;
  const said = JSON.stringify({ order: reference, amount, currency, tax, shipping });
  const byTag = `<script>var tries=setInterval(function(){if(!window.brivet)return;clearInterval(tries);brivet.convert(${JSON.stringify(event)},${said})},50)</script>`;
  return {
    html: page(
      'Thank you',
      `<h1>Thank you</h1><p>Your order <strong>${number}</strong> of ${escape(product.name)} comes to €${amount ?? ''} with tax and shipping.</p>
<p><a href="/">Back to the shop</a></p><aside>The shop told the partner program: ${escape(placed.answer)}</aside>`,
      settings.mode === 'tag' ? byTag : '',
    ),
  };
}

/** The back office: how the shop reports, and its refund desk. */
export function desk(note = ''): Said {
  const rows = orders.map(
    (
      each,
    ) => `<tr><td>${each.number}<br>${escape(each.product.name)} × ${each.quantity}<br>${escape(CUSTOMERS[each.customer].name)}</td>
<td>€${each.fields.amount ?? ''}<br>${escape(each.state)}</td><td><form method="post" action="/desk"><input type="hidden" name="order" value="${each.number}">
${stepsOf(each)
  .map(
    (step) => `<button name="step" value="${step}" aria-label="${STEPS[step]}: ${each.number}">${STEPS[step]}</button>`,
  )
  .join(' ')}</form><small>${each.said.map(escape).join('<br>')}</small></td></tr>`,
  );
  return {
    html: page(
      'Back office',
      `<h1>Back office</h1><form method="post" action="/desk"><label>The server reports new orders <select name="mode" aria-label="How new orders are reported">${options(
        Object.entries(MODES),
        settings.mode,
      )}</select></label><button>Keep</button></form>${note && `<p role="status">${escape(note)}</p>`}
<h2>Orders</h2>${rows.length > 0 ? `<table><tbody>${rows.join('')}</tbody></table>` : '<p>None since the shop opened.</p>'}`,
    ),
  };
}

export async function deskWork({ form }: Asked): Promise<Said> {
  const mode = field(form, 'mode');
  if (Object.hasOwn(MODES, mode)) {
    settings.mode = mode as Mode;
    return desk(`New orders are reported ${MODES[settings.mode]}.`);
  }
  const found = orders.find(({ number }) => number === field(form, 'order'));
  const step = field(form, 'step');
  if (!found || !stepsOf(found).includes(step as Step)) return { ...desk('There is no such order.'), status: 404 };
  return desk(`${found.number}: ${await take(found, step as Step)}`);
}
