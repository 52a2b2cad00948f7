import Joi from 'joi';
import type { Figures, Item } from '../commissions/base';
import { type Currency, isCurrency } from '../money/currency';
import { parseAmount } from '../money/text';
import { type Checked, check } from '../schema/problems';
import { couponCode } from '../attribution/coupon';
import { dayField, refusedWhen } from '../schema/fields';
import { personalOrder } from './personal';

/** States a merchant may report; without one a postback reports a new conversion. */
export const POSTBACK_STATES = ['pending', 'approved', 'rejected', 'reversed'] as const;
export type PostbackState = (typeof POSTBACK_STATES)[number];

/** A well-formed postback: text fields read once, amounts exact. */
export interface Postback {
  readonly clickId?: string;
  /** Code of a coupon the customer gave. */
  readonly coupon?: string;
  readonly event: string;
  /** Taken and explained, and without effect. */
  readonly test?: boolean;
  readonly order?: string;
  readonly status?: PostbackState;
  readonly figures: Figures;
  /** Milliseconds; absent means the time of receipt. */
  readonly time?: number;
  readonly completed?: string;
  readonly customer?: 'new' | 'returning';
  /** The page tag's. */
  readonly visitor?: string;
  /** Keyed hashes of the customer's ID, and of what the merchant knows the card by. */
  readonly customerHash?: string;
  readonly cardHash?: string;
  readonly renewal?: number;
  readonly callLength?: number;
  /** Of a chargeback, charged to the partner: minor units of the program. */
  readonly fee?: number;
  readonly custom: Readonly<Record<string, string>>;
}

const text = (most: number): Joi.StringSchema => Joi.string().trim().max(most);
const amount = Joi.string().trim();
const item = Joi.object({
  sku: text(100).required(),
  category: text(100),
  quantity: Joi.number().integer().min(1).max(100_000).default(1),
  // Refunded items need none: what they cost was reported with the sale.
  price: Joi.alternatives(Joi.string(), Joi.number()),
});

/** Fields of a postback as they arrive: all text, apart from `items` in a JSON body. */
export const postbackSchema = Joi.object({
  key: text(200),
  // One of another form is taken as well: whoever looks at what was not matched sees what it is.
  click_id: text(100).label('click_id'),
  code: couponCode.label('code'),
  visitor: text(60).label('visitor'),
  event: text(30).lowercase().required().label('event'),
  order: text(100).custom(refusedWhen<string>(personalOrder)).label('order'),
  sig: text(64),
  ts: text(11),
  test: Joi.string().valid('1').label('test'),
  program: text(20),
  customer_id: text(200).label('customer_id'),
  card: text(200).label('card'),
  amount: amount.label('amount'),
  tax: amount.label('tax'),
  shipping: amount.label('shipping'),
  discount: amount.label('discount'),
  fee: amount.label('fee'),
  currency: text(3).uppercase().label('currency'),
  items: Joi.array().items(item).max(500).label('items'),
  status: text(20)
    .lowercase()
    .valid(...POSTBACK_STATES)
    .label('status'),
  time: Joi.date().iso().label('time'),
  completed: dayField('completed'),
  customer: text(10).lowercase().valid('new', 'returning').label('customer'),
  renewal: Joi.number().integer().min(0).max(1000).label('renewal'),
  call_length: Joi.number().integer().min(0).max(86_400).label('call_length'),
})
  .pattern(/^x_[a-z0-9_]{1,40}$/, text(500))
  .or('click_id', 'order', 'code', 'visitor')
  .messages({
    'object.missing':
      'A postback needs a click_id, a coupon code or a visitor, or the order of a conversion reported before.',
    'date.format': 'time must be ISO 8601, like 2026-11-24T14:05:00+01:00.',
  });

interface RawItem {
  sku: string;
  category?: string;
  quantity: number;
  price?: string | number;
}
interface Raw {
  [name: string]: unknown;
  items?: RawItem[];
}

/**
 * Reads the fields of a postback.
 * @param programCurrency stands where the postback names none
 */
export function readPostback(fields: Record<string, unknown>, programCurrency: Currency): Checked<Postback> {
  const flat: Record<string, unknown> = {};
  for (const [name, value] of Object.entries(fields))
    if (value !== '' && value !== null) flat[name] = typeof value === 'number' ? String(value) : value;
  if (typeof flat.items === 'string') {
    try {
      flat.items = JSON.parse(flat.items);
    } catch {
      return { ok: false, problems: [{ field: 'items', reason: 'items is not valid JSON.' }] };
    }
  }
  const checked = check<Raw>(postbackSchema, flat);
  if (!checked.ok) return checked;
  const raw = checked.value;
  const code = typeof raw.currency === 'string' ? raw.currency : programCurrency;
  if (!isCurrency(code))
    return {
      ok: false,
      problems: [{ field: 'currency', reason: `"${code}" is not an ISO 4217 currency code like EUR.` }],
    };
  const figures = readFigures(raw, code);
  if (!figures.ok) return figures;
  const fee = readFee(raw, programCurrency);
  if (!fee.ok) return fee;
  const string = (name: string): string | undefined => (typeof raw[name] === 'string' ? raw[name] : undefined);
  const number = (name: string): number | undefined => (typeof raw[name] === 'number' ? raw[name] : undefined);
  const custom = Object.fromEntries(
    Object.entries(raw).filter(
      (entry): entry is [string, string] => entry[0].startsWith('x_') && typeof entry[1] === 'string',
    ),
  );
  return {
    ok: true,
    value: {
      clickId: string('click_id'),
      coupon: string('code'),
      ...(string('visitor') !== undefined && { visitor: string('visitor') }),
      event: string('event') ?? '',
      ...(raw.test === '1' && { test: true }),
      order: string('order'),
      status: POSTBACK_STATES.find((state) => state === raw.status),
      figures: figures.value,
      time: raw.time instanceof Date ? raw.time.getTime() : undefined,
      completed: string('completed'),
      customer: raw.customer === 'new' || raw.customer === 'returning' ? raw.customer : undefined,
      ...(string('customer_id') !== undefined && { customerHash: string('customer_id') }),
      ...(string('card') !== undefined && { cardHash: string('card') }),
      renewal: number('renewal'),
      callLength: number('call_length'),
      ...(fee.value > 0 && { fee: fee.value }),
      custom,
    },
  };
}

/** What a chargeback cost, in the currency of the program. */
function readFee(raw: Raw, program: Currency): Checked<number> {
  if (raw.fee === undefined) return { ok: true, value: 0 };
  const refused = (reason: string): Checked<number> => ({ ok: false, problems: [{ field: 'fee', reason }] });
  if (raw.status !== 'reversed') return refused('fee belongs to a chargeback: send it with status=reversed.');
  const parsed = parseAmount(String(raw.fee), program);
  if (!parsed.ok) return refused(`fee: ${parsed.reason}`);
  return parsed.value.minor < 0 ? refused('fee cannot be negative.') : { ok: true, value: parsed.value.minor };
}

function readFigures(raw: Raw, currency: Currency): Checked<Figures> {
  const problems: { field: string; reason: string }[] = [];
  const read = (field: string, value: unknown): number => {
    if (value === undefined) return 0;
    const parsed = parseAmount(String(value), currency);
    if (!parsed.ok) problems.push({ field, reason: `${field}: ${parsed.reason}` });
    else if (parsed.value.minor < 0)
      problems.push({ field, reason: `${field} cannot be negative; report a refund with status=reversed.` });
    else return parsed.value.minor;
    return 0;
  };
  const missing = (field: string): number => {
    problems.push({ field, reason: `${field} is missing: an item of a sale needs its price.` });
    return 0;
  };
  const items: Item[] = (raw.items ?? []).map((one, index) => ({
    sku: one.sku,
    category: one.category,
    quantity: one.quantity,
    price:
      one.price === undefined && raw.status !== 'reversed'
        ? missing(`items.${index}.price`)
        : read(`items.${index}.price`, one.price),
  }));
  const [tax, shipping, discount] = [
    read('tax', raw.tax),
    read('shipping', raw.shipping),
    read('discount', raw.discount),
  ];
  const goods = items.reduce((sum, { price, quantity }) => sum + price * quantity, 0);
  const amount =
    raw.amount === undefined && items.length > 0 ? goods - discount + tax + shipping : read('amount', raw.amount);
  const parts = items.length > 0 ? discount - goods : tax + shipping + discount - amount;
  if (problems.length === 0 && parts > 0)
    problems.push({
      field: 'amount',
      reason: 'amount is smaller than tax, shipping and discount together; it includes all three.',
    });
  return problems.length > 0
    ? { ok: false, problems }
    : { ok: true, value: { currency, amount, tax, shipping, discount, items } };
}
