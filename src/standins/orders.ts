import { euros, send, told } from './web';

/** The three things the shop sells. Prices in cents without tax. */
export interface Product {
  readonly sku: string;
  readonly name: string;
  readonly category: string;
  readonly price: number;
  readonly event: string;
  /** Pages on which it is shown. */
  readonly paths: RegExp;
  /** Sent by parcel, or a box every month, or a day in the studio. */
  readonly kind: 'parcel' | 'box' | 'class';
}
export const PRODUCTS: readonly Product[] = [
  {
    ...{ sku: 'kiln-60', name: 'Studio kiln, 60 litres', category: 'kilns', price: 145_000 },
    ...{ event: 'order', paths: /^\/kilns/, kind: 'parcel' },
  },
  {
    ...{ sku: 'glaze-box', name: 'Glaze box, first month', category: 'glaze', price: 3200 },
    ...{ event: 'order', paths: /^\/glaze/, kind: 'box' },
  },
  {
    ...{ sku: 'raku-day', name: 'Raku day class', category: 'classes', price: 8000 },
    ...{ event: 'booking', paths: /^\/classes/, kind: 'class' },
  },
];
/** Made-up customers: what the shop knows them and their cards by. */
export const CUSTOMERS = {
  ada: { name: 'Ada, new here', id: 'C-1001', card: 'card-ada', kind: 'new' },
  bo: { name: 'Bo, has bought before', id: 'C-1002', card: 'card-bo', kind: 'returning' },
  cleo: { name: 'Cleo, with Bo’s card', id: 'C-1003', card: 'card-bo', kind: 'new' },
} as const;
export type CustomerName = keyof typeof CUSTOMERS;
export const COUPONS: Readonly<Record<string, number>> = { CLAYCAST: 10, VALE10: 10, UNBOX: 5 };

/** How the shop's server reports, for trying what becomes of it. */
export const MODES = {
  at_once: 'at once',
  late: 'half a minute late',
  twice: 'twice',
  failing: 'not at all, until sent by hand',
  tag: 'by the page tag only',
} as const;
export type Mode = keyof typeof MODES;

export interface Order {
  readonly number: string;
  readonly product: Product;
  readonly quantity: number;
  readonly customer: CustomerName;
  readonly fields: Readonly<Record<string, string>>;
  readonly time: Date;
  /** Of goods in cents, after the discount. */
  readonly goods: number;
  state: string;
  renewals: number;
  /** What was sent of it, and what was answered. */
  readonly said: string[];
}

const TAX_PERCENT = 21;
const SHIPPING = 1900;
const LATE_MS = 30_000;
const KEPT = 200;
export const orders: Order[] = [];
let counted = 0;
export const settings: { mode: Mode } = { mode: 'at_once' };

/** Money fields of a sale: amounts with tax and shipping, as the shop charges them. */
function moneyOf(
  { price, kind }: Product,
  quantity: number,
  percent: number,
): Record<string, string> & { goods: string } {
  const full = price * quantity;
  const discount = Math.round((full * percent) / 100);
  const shipping = kind === 'class' ? 0 : SHIPPING;
  const tax = Math.round(((full - discount + shipping) * TAX_PERCENT) / 100);
  return {
    ...{ currency: 'EUR', amount: euros(full - discount + shipping + tax), tax: euros(tax), shipping: euros(shipping) },
    ...(discount > 0 && { discount: euros(discount) }),
    goods: String(full - discount),
  };
}

export const dayOf = (time: Date): string => time.toISOString().slice(0, 10);

interface Placed {
  readonly sku: string;
  readonly quantity: number;
  readonly coupon: string;
  readonly customer: CustomerName;
  readonly clickId: string;
  readonly visitor: string;
}

/** Takes an order in and reports it as the mode says. @returns the order and what the partner program answered */
export async function placeOrder(placed: Placed): Promise<{ order: Order; answer: string } | undefined> {
  const product = PRODUCTS.find(({ sku }) => sku === placed.sku);
  if (!product) return undefined;
  counted += 1;
  const number = `W${Date.now().toString(36).toUpperCase()}${counted}`;
  const code = placed.coupon.toUpperCase();
  const { goods, ...money } = moneyOf(product, placed.quantity, COUPONS[code] ?? 0);
  const { id, card, kind } = CUSTOMERS[placed.customer];
  const item = { sku: product.sku, category: product.category, quantity: placed.quantity, price: euros(product.price) };
  const fields = {
    ...{ event: product.event, order: number, ...money, items: JSON.stringify([item]) },
    ...{ customer: kind, customer_id: id, card, time: new Date().toISOString() },
    // A class takes place on its day; a parcel is delivered later, and that is told then.
    ...(product.kind === 'class' && { completed: dayOf(new Date(Date.now() + 14 * 86_400_000)), x_place: 'Breda' }),
    ...(placed.clickId && { click_id: placed.clickId }),
    ...(placed.visitor && { visitor: placed.visitor }),
    ...(code && { code }),
  };
  const order: Order = {
    ...{ number, product, quantity: placed.quantity, customer: placed.customer, fields, time: new Date() },
    ...{ goods: Number(goods), state: 'placed', renewals: 1, said: [] },
  };
  orders.unshift(order);
  orders.length = Math.min(orders.length, KEPT);
  return { order, answer: await report(order, fields) };
}

/** Reports by the shop's server, in the mode that is set. */
async function report(order: Order, fields: Record<string, string>): Promise<string> {
  const { mode } = settings;
  if (mode === 'tag') return 'nothing from the server: the page tag reports it';
  if (mode === 'failing') return 'nothing: the server of the shop is out of order';
  if (mode === 'late') {
    setTimeout(() => void tell(order, fields), LATE_MS);
    return 'nothing yet: it is told in half a minute';
  }
  const answer = await tell(order, fields);
  return mode === 'twice' ? `${answer}; then again ${await tell(order, fields)}` : answer;
}

/** Tells the partner program something of an order. */
export async function tell(order: Order, fields: Record<string, string>): Promise<string> {
  const { postbackUrl, key } = told();
  const answer = await send(postbackUrl, { ...fields, key });
  order.said.unshift(`${fields.event ?? ''} ${fields.status ?? ''}: ${answer}`);
  return answer;
}

/** What the back office can do with an order, in words. */
export const STEPS = {
  again: 'Send it again',
  deliver: 'Delivered today',
  refund: 'Refund it whole',
  part: 'Refund a third',
  item: 'Refund one item',
  renew: 'Next box',
  chargeback: 'Chargeback with a fee',
} as const;
export type Step = keyof typeof STEPS;
export const stepsOf = ({ product, quantity }: Order): Step[] => [
  'again',
  ...(product.kind === 'parcel' ? (['deliver'] as const) : []),
  ...(product.kind === 'box' ? (['renew'] as const) : []),
  ...(['refund', 'part'] as const),
  ...(quantity > 1 ? (['item'] as const) : []),
  'chargeback',
];

/** Does something with an order and tells the partner program. */
export async function take(order: Order, step: Step): Promise<string> {
  const { product, fields } = order;
  const about = { event: product.event, order: order.number, time: new Date().toISOString() };
  const refund = { ...about, status: 'reversed' };
  const one = JSON.stringify([{ sku: product.sku, quantity: 1 }]);
  if (step === 'renew') {
    order.renewals += 1;
    const { completed: _, code: _code, ...first } = fields as Record<string, string>;
    const again = { ...first, event: 'renewal', order: `${order.number}-${order.renewals}`, customer: 'returning' };
    return tell(order, { ...again, renewal: String(order.renewals), time: about.time });
  }
  const says: Record<Exclude<Step, 'renew'>, { state: string; fields: Record<string, string> }> = {
    again: { state: order.state, fields },
    deliver: { state: 'delivered', fields: { ...about, status: 'approved', completed: dayOf(new Date()) } },
    refund: { state: 'refunded', fields: refund },
    part: {
      state: 'partly refunded',
      fields: { ...refund, amount: euros(Math.round(order.goods / 3)), currency: 'EUR' },
    },
    item: { state: 'partly refunded', fields: { ...refund, items: one, currency: 'EUR' } },
    chargeback: { state: 'charged back', fields: { ...refund, fee: '15.00' } },
  };
  order.state = says[step].state;
  return tell(order, says[step].fields);
}
