import Joi from 'joi';
import type { RateSheet } from '@/core/commissions/sheet';
import { currency } from '@/core/money/currency';
import { parseExchangeRate } from '@/core/money/text';
import { day } from '@/core/time/days';
import { currencyField, dayField, id, line, oneOf } from '@/core/schema/fields';
import { check } from '@/core/schema/problems';
import type { SheetVersion } from '@/store/books/terms';
import { type Actor, audit, requireRight } from './actor';
import { checked } from './programs';
import { invalidField } from './refusal';
import { type Stores, programOf } from './stores';

const minor = (label: string): Joi.NumberSchema => Joi.number().integer().min(0).label(label);
const rate = Joi.number().integer().min(0).max(1_000_000).required().label('Rate (ppm)');
const pay = Joi.alternatives().conditional('.kind', {
  switch: [
    {
      is: 'percent',
      then: Joi.object({ kind: Joi.valid('percent'), rate, least: minor('Least'), most: minor('Most') }),
    },
    {
      is: 'fixed',
      then: Joi.object({
        kind: Joi.valid('fixed'),
        amount: minor('Amount').required(),
        per: oneOf('Per', 'conversion', 'unit').required(),
      }),
    },
    {
      is: 'bands',
      then: Joi.object({
        kind: Joi.valid('bands'),
        by: oneOf('By', 'count', 'base').required(),
        bands: Joi.array()
          .items(Joi.object({ upTo: Joi.number().integer().min(1).allow(null).required(), rate }))
          .min(1)
          .required()
          .label('Bands'),
      }),
    },
  ],
  otherwise: Joi.forbidden(),
});

export const sheetRowsSchema = Joi.array<RateSheet['rows']>()
  .items(
    Joi.object({
      id: Joi.string()
        .pattern(/^[a-z0-9-]{1,30}$/, 'lower-case letters, digits and "-"')
        .required()
        .label('Row ID'),
      label: line('Label').required(),
      when: Joi.object({
        offerId: id('Offer'),
        event: Joi.string().label('Event'),
        partnerId: id('Partner'),
        channelId: id('Channel'),
        sku: Joi.string().label('SKU'),
        category: Joi.string().label('Category'),
        country: Joi.string().length(2).label('Country'),
        customer: oneOf('Customer', 'new', 'returning'),
        leastAmount: minor('Least amount'),
        leastCallLength: minor('Least call length'),
        renewalFrom: minor('Renewal from'),
        renewalTo: minor('Renewal to'),
      }).required(),
      pay: pay.required(),
    }),
  )
  .min(1)
  .unique('id')
  .required()
  .label('Rows');

/** Stores a new version of the terms. It rates conversions from its date on; those before keep their version. */
export function putSheetInForce(stores: Stores, actor: Actor, rows: unknown, inForceFrom: number): SheetVersion {
  requireRight(stores, actor, 'manage_setup', 'rate sheet');
  const checkedRows = checked(check<RateSheet['rows']>(sheetRowsSchema, rows));
  const { terms } = stores.books;
  const latest = terms.sheets(actor.programId)[0];
  if (latest && inForceFrom < latest.inForceFrom)
    throw invalidField('inForceFrom', 'A new version cannot be in force before the one it follows.');
  const stored = stores.books.inTransaction(() => {
    const created = terms.insertSheet({
      programId: actor.programId,
      inForceFrom,
      rows: checkedRows,
      createdBy: actor.userId,
      now: stores.now(),
    });
    audit(stores, actor, 'put in force', `rate sheet ${created}`);
    return created;
  });
  const sheet = terms.sheet(stored);
  if (!sheet) throw new Error(`Rate sheet ${stored} was not stored.`);
  return sheet;
}

export const sheetInForce = (stores: Stores, actor: Actor): SheetVersion | undefined =>
  stores.books.terms.sheetInForce(actor.programId, stores.now());
export const listSheets = (stores: Stores, actor: Actor): SheetVersion[] => stores.books.terms.sheets(actor.programId);

const rateSchema = Joi.object<{ from: string; to: string; day: string; rate: string }>({
  from: currencyField.required(),
  to: currencyField.required(),
  day: dayField('Day').required(),
  rate: Joi.string().required().label('Rate'),
});

/** Keeps a rate of exchange for a day. The worker then rates what waited for it. */
export function putExchangeRate(stores: Stores, actor: Actor, input: unknown): void {
  requireRight(stores, actor, 'manage_setup', 'exchange rate');
  const { from, to, day: of, rate: text } = checked(check(rateSchema, input));
  const parsed = parseExchangeRate(text);
  if (!parsed.ok || parsed.value <= 0) throw invalidField('rate', parsed.ok ? 'A rate is above zero.' : parsed.reason);
  stores.books.inTransaction(() => {
    stores.books.terms.putExchangeRate(currency(from), currency(to), day(of), parsed.value);
    audit(stores, actor, 'stored', `exchange rate ${from}/${to}`, `${of}: ${text}`);
  });
}

export const programCurrency = (stores: Stores, actor: Actor) => programOf(stores, actor.programId).currency;
