import Joi from 'joi';
import type { CustomField } from '@/core/offers/events';
import { check } from '@/core/schema/problems';
import type { Actor } from './actor';
import { listOffers } from './offers';
import { checked } from './programs';
import type { Stores } from './stores';

/** What the log of conversions can show beside the merchant's own fields, in the order in which it is offered. */
export const CONVERSION_COLUMNS = {
  time: 'Time',
  event: 'Event',
  order: 'Order',
  partner: 'Partner',
  channel: 'Channel',
  offer: 'Offer',
  amount: 'Sale',
  commission: 'Commission',
  state: 'State',
  payable_on: 'Payable from',
  completed: 'Completed',
  click_id: 'Click ID',
  coupon: 'Coupon',
  matched_by: 'Matched by',
  reported_by: 'Reported by',
  customer: 'Customer',
  renewal: 'Renewal',
} as const;
export type ConversionColumn = keyof typeof CONVERSION_COLUMNS;
/** What the log can be narrowed by, beside the merchant's own fields; partner, channel and offer are the scope's. */
export const CONVERSION_FILTERS = {
  event: 'Event',
  state: 'State',
  order: 'Order',
  click_id: 'Click ID',
  coupon: 'Coupon',
  matched_by: 'Matched by',
  reported_by: 'Reported by',
  unmatched: 'Why unmatched',
  customer: 'Customer',
  visitor: 'Visitor',
  completed: 'Completed',
  payable_on: 'Payable from',
  amount_currency: 'Currency',
} as const;
const USUAL: readonly ConversionColumn[] = [
  ...(['time', 'event', 'order', 'partner', 'channel', 'offer', 'amount', 'commission', 'state'] as const),
];
const LIST = 'conversions';

/** The merchant's own fields of all offers, each name once. */
export function customFields(stores: Stores, actor: Actor): CustomField[] {
  const all = listOffers(stores, actor).flatMap(({ events }) => events.flatMap(({ fields = [] }) => fields));
  return [...new Map(all.map((field) => [field.name, field])).values()];
}

const known = (fields: readonly CustomField[]): string[] => [
  ...Object.keys(CONVERSION_COLUMNS),
  ...fields.map(({ name }) => name),
];

/** The columns a person chose, in order. */
export function conversionColumns(stores: Stores, actor: Actor, fields: readonly CustomField[]): string[] {
  const kept = stores.books.views.columns(actor.userId, LIST)?.filter((name) => known(fields).includes(name));
  return kept && kept.length > 0 ? kept : [...USUAL];
}

/** Keeps a person's choice; none goes back to the usual. */
export function chooseConversionColumns(stores: Stores, actor: Actor, columns: unknown): void {
  const schema = Joi.object<{ columns: string[] }>({
    columns: Joi.array()
      .items(Joi.string().valid(...known(customFields(stores, actor))))
      .min(1)
      .unique()
      .required()
      .label('Columns'),
  });
  const chosen = columns === undefined ? undefined : checked(check(schema, { columns })).columns;
  stores.books.inTransaction(() => stores.books.views.setColumns(actor.userId, LIST, chosen));
}
