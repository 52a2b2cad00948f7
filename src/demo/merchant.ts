import { currency } from '@/core/money/currency';
import { DAY_MS, dayOf, isoTime } from '@/core/time/days';
import { checkPostback } from '@/services/postbacks';
import type { PostbackRow } from '@/store/traffic';
import type { Exchange } from './calls';
import type { Chance } from './chance';
import { COUPONS, type OfferCode } from './scenario/offers';
import { PROGRAM } from './scenario/program';

export interface Sale {
  clickId: string;
  clickTime: number;
  offer: OfferCode;
  partner: string;
}
/** Whom the merchant knows a customer and the card by. */
type Buyer = Readonly<{ customer_id: string; card: string }>;

const HOUR = 3_600_000;
const PROGRAM_CURRENCY = currency('EUR');
/** A partner whose customers look like himself, and one with whose coupon a single card goes shopping. */
const SELF_BUYER = 'POTTERDEN';
const CARD_SHARER = 'GLAZEDAYS';
const cents = (amount: number): string => (amount / 100).toFixed(2);
const GOODS = [
  { sku: 'kiln-60', category: 'kilns', price: 145_000, weight: 5 },
  { sku: 'kiln-120', category: 'kilns', price: 285_000, weight: 2 },
  { sku: 'shelf-set', category: 'kilns', price: 6500, weight: 9 },
  { sku: 'pyrometer', category: 'kilns', price: 11_900, weight: 6 },
];

/** The merchant's server: reports what was sold, sometimes late, twice, in another currency, or about nobody. */
export class Merchant {
  private queue: { time: number; fields: Record<string, string> }[] = [];
  private orders = 4100;
  private customers = 700;

  constructor(
    private readonly chance: Chance,
    private readonly key: string,
    private readonly newId: (time: number) => string,
    private readonly hash: (customer: string) => string,
    private readonly exchange: Exchange,
  ) {}

  /** The postbacks that arrive within a stretch of time. */
  reports(from: number, to: number): PostbackRow[] {
    const now = this.queue.filter(({ time }) => time < to);
    this.queue = this.queue.filter(({ time }) => time >= to);
    if (this.chance.happens(0.12)) now.push(this.strayReport(from + this.chance.below(20) * HOUR));
    return now.filter(({ time }) => time < to).map(({ time, fields }) => this.received(time, fields));
  }

  /** A postback as the tracking host keeps it: without anything personal. */
  private received(time: number, fields: Record<string, string>): PostbackRow {
    const query = new URLSearchParams({ ...fields, key: this.key }).toString();
    const kept = checkPostback({ query, body: '', contentType: null }, PROGRAM_CURRENCY, this.hash);
    if (!kept.ok) throw new Error(`A postback of the demonstration is malformed: ${JSON.stringify(kept.problems)}`);
    const receipt = { receiptId: this.newId(time), time, programId: 1, client: '192.0.2.0' };
    const { contentType, body } = kept.value;
    return {
      ...receipt,
      via: 'server',
      about: 'conversion',
      method: 'GET',
      contentType,
      query: kept.value.query,
      body,
    };
  }

  /** Nearly everybody is somebody else; one partner buys through his own links, and one card has several owners. */
  private buyer(partner: string): Buyer {
    if (partner === SELF_BUYER && this.chance.happens(0.5))
      return { customer_id: `pay@${partner.toLowerCase()}.example`, card: 'fp-2207' };
    this.customers += 1;
    const shared = partner === CARD_SHARER && this.chance.happens(0.3);
    return { customer_id: `LC-${this.customers}`, card: shared ? 'fp-0001' : `fp-${10_000 + this.customers}` };
  }

  private report(time: number, fields: Record<string, string>): void {
    this.queue.push({ time, fields: { ...fields, time: isoTime(time) } });
    // A retry says the same, a little later.
    if (this.chance.happens(0.05)) this.queue.push({ time: time + 90_000, fields: { ...fields, time: isoTime(time) } });
  }

  private newOrder(): string {
    this.orders += 1 + this.chance.below(3);
    return `LK-${this.orders}`;
  }

  /** A customer who heard or read a code, and came without a link; one code is a partner's own invention. */
  spoken(time: number): void {
    const code = this.chance.pick([...COUPONS.map((each) => each.code), 'CLAYFAN']);
    const order = this.newOrder();
    this.report(time, {
      code,
      event: 'order',
      order,
      amount: '39.26',
      tax: '6.81',
      shipping: '4.05',
      discount: '4.36',
    });
  }

  /** A conversion of a click that no one here ever recorded. */
  private strayReport(time: number): { time: number; fields: Record<string, string> } {
    const id = this.newId(time - DAY_MS);
    return {
      time,
      fields: {
        click_id: id,
        event: 'order',
        order: this.newOrder(),
        amount: '38.72',
        tax: '6.72',
        time: isoTime(time),
      },
    };
  }

  sells(sale: Sale): void {
    const late = this.chance.happens(0.012) ? 34 * DAY_MS : 0;
    const delay = this.chance.happens(0.7) ? this.chance.next() * 2 * HOUR : this.chance.next() * 9 * DAY_MS;
    const buyer = this.buyer(sale.partner);
    const self = buyer.customer_id.includes('@');
    // He knows his way, and needs no time to look around.
    const time = Math.floor(sale.clickTime + (self ? 9000 : 120_000 + delay + late));
    if (sale.offer === 'KILNS' && this.chance.happens(0.3))
      return this.exchange.visitCalls(sale.clickId, sale.clickTime);
    const sell = { KILNS: this.kiln, GLAZE: this.glazeBox, CLASSES: this.booking, PLANNER: this.app }[sale.offer];
    sell.call(this, sale.clickId, time, buyer);
  }

  private kiln(clickId: string, time: number, buyer: Buyer): void {
    const { chance } = this;
    const order = this.newOrder();
    const items = Array.from({ length: chance.happens(0.2) ? 2 : 1 }, () => chance.weighted(GOODS));
    const lines = items.map(({ sku, category, price }) => ({
      sku,
      category,
      quantity: sku === 'shelf-set' ? 1 + chance.below(3) : 1,
      price: cents(price),
    }));
    const goods = lines.reduce((sum, line, i) => sum + line.quantity * (items[i]?.price ?? 0), 0);
    const discount = chance.happens(0.15) ? Math.round(goods * 0.05) : 0;
    const shipping = 4900;
    const tax = Math.round((goods - discount + shipping) * 0.21);
    const money = {
      currency: 'EUR',
      amount: cents(goods - discount + shipping + tax),
      tax: cents(tax),
      shipping: cents(shipping),
      ...(discount > 0 && { discount: cents(discount) }),
    };
    if (chance.happens(0.05)) Object.assign(money, { currency: chance.happens(0.7) ? 'GBP' : 'NOK' });
    this.report(time, {
      click_id: clickId,
      event: 'order',
      order,
      ...buyer,
      ...money,
      items: JSON.stringify(lines),
      customer: chance.happens(0.8) ? 'new' : 'returning',
    });
    const delivered = time + (3 + chance.below(9)) * DAY_MS;
    // Delivery is reported when it happened; for a few it never is.
    if (chance.happens(0.94))
      this.report(delivered, {
        event: 'order',
        order,
        status: 'approved',
        completed: dayOf(delivered, PROGRAM.timeZone),
      });
    if (chance.happens(0.06)) this.report(delivered + 6 * DAY_MS, { event: 'order', order, status: 'reversed' });
    else if (chance.happens(0.05))
      this.report(delivered + 5 * DAY_MS, {
        event: 'order',
        order,
        status: 'reversed',
        amount: cents(Math.round(goods * 0.3)),
        currency: money.currency,
      });
    if (chance.happens(0.03))
      this.report(time + DAY_MS, {
        click_id: clickId,
        event: 'order',
        order: this.newOrder(),
        amount: '78.65',
        tax: '13.65',
        customer: 'returning',
      });
  }

  private glazeBox(clickId: string, time: number, buyer: Buyer): void {
    const order = this.newOrder();
    const box = { click_id: clickId, ...buyer, currency: 'EUR', amount: '43.62', tax: '7.57', shipping: '4.05' };
    this.report(time, { ...box, event: 'order', order, customer: 'new' });
    for (let month = 2; month <= 4 && this.chance.happens(0.55); month++)
      this.report(time + (month - 1) * 28 * DAY_MS, {
        ...box,
        event: 'renewal',
        order: `${order}-${month}`,
        renewal: String(month),
        customer: 'returning',
      });
    if (this.chance.happens(0.03)) this.report(time + 2 * DAY_MS, { event: 'order', order, status: 'rejected' });
  }

  private booking(clickId: string, time: number, buyer: Buyer): void {
    const seats = this.chance.happens(0.2) ? 2 : 1;
    const order = this.newOrder();
    const held = dayOf(time + (5 + this.chance.below(40)) * DAY_MS, PROGRAM.timeZone);
    const tax = Math.round(8000 * seats * 0.21);
    const booking = {
      click_id: clickId,
      ...buyer,
      event: 'booking',
      order,
      currency: 'EUR',
      amount: cents(8000 * seats + tax),
      tax: cents(tax),
      completed: held,
      x_place: this.chance.pick(['Breda', 'Utrecht', 'Zwolle']),
    };
    this.report(time, booking);
    if (this.chance.happens(0.05)) this.report(time + 3 * DAY_MS, { event: 'booking', order, status: 'reversed' });
    // A friend joins: the same order with other figures.
    else if (this.chance.happens(0.06))
      this.report(time + DAY_MS, { ...booking, amount: cents(16_000 + 3360), tax: cents(3360) });
    // A confirmation that overtakes its order.
    else if (this.chance.happens(0.04)) this.report(time - 40_000, { event: 'booking', order, status: 'approved' });
  }

  private app(clickId: string, time: number): void {
    this.report(time, { click_id: clickId, event: 'install' });
    if (this.chance.happens(0.3)) this.report(time + 600_000, { click_id: clickId, event: 'sign-up' });
  }
}
