import Joi from 'joi';
import { type Currency, currencyCodes, isCurrency } from '../money/currency';
import { parseAmount } from '../money/text';
import { isDay } from '../time/calendar';
import { isZone } from '../time/zones';

/** A check of ours as a Joi rule: returns the reason why a value is refused, or undefined. */
export const refusedWhen =
  <T>(reasonFor: (value: T) => string | undefined): Joi.CustomValidator<T> =>
  (value, helpers) => {
    const reason = reasonFor(value);
    return reason === undefined ? value : helpers.error('refused', { reason });
  };

export const line = (label: string, most = 120): Joi.StringSchema => Joi.string().trim().min(1).max(most).label(label);
export const longText = (label: string): Joi.StringSchema => Joi.string().trim().max(2000).allow('').label(label);

export const permanentCode = (label: string): Joi.StringSchema =>
  Joi.string()
    .trim()
    .uppercase()
    .pattern(/^[A-Z0-9][A-Z0-9-]{1,19}$/, '2 to 20 letters, digits or "-"')
    .label(label);

export const email = Joi.string().trim().email({ tlds: false }).max(200).label('E-mail');
export const country = Joi.string()
  .trim()
  .uppercase()
  .pattern(/^[A-Z]{2}$/, 'a two-letter country code like NL')
  .label('Country');
export const currencyField = Joi.string()
  .trim()
  .uppercase()
  .custom(
    refusedWhen<string>((code) =>
      isCurrency(code) ? undefined : `"${code}" is not an ISO 4217 currency code like EUR.`,
    ),
  )
  .label('Currency')
  .example(currencyCodes()[0] ?? 'EUR');
export const timeZone = Joi.string()
  .trim()
  .custom(
    refusedWhen<string>((zone) => (isZone(zone) ? undefined : `"${zone}" is not a time zone like Europe/Amsterdam.`)),
  )
  .label('Time zone');
export const dayField = (label: string): Joi.StringSchema =>
  Joi.string()
    .trim()
    .custom(refusedWhen<string>((text) => (isDay(text) ? undefined : `"${text}" is not a day like 2026-11-24.`)))
    .label(label);

/** A positive decimal amount as text, with no more decimals than its currency has. Empty means none. */
export const amountField = (label: string, currency: Currency): Joi.StringSchema =>
  Joi.string()
    .trim()
    .custom(
      refusedWhen<string>((text) => {
        const amount = parseAmount(text, currency);
        if (!amount.ok) return amount.reason;
        return amount.value.minor < 0 ? `${label} cannot be negative.` : undefined;
      }),
    )
    .label(label);

export const id = (label: string): Joi.NumberSchema => Joi.number().integer().min(1).label(label);
export const flag = (label: string): Joi.BooleanSchema => Joi.boolean().label(label);
export const oneOf = (label: string, ...values: readonly string[]): Joi.StringSchema =>
  Joi.string()
    .valid(...values)
    .label(label);
export const reason = Joi.string().trim().min(3).max(500).required().label('Reason');
/** A reason that some decisions need, and others may have. */
export const reasonWhere = (decision: string, needed: readonly string[]): Joi.Schema =>
  Joi.when(decision, {
    is: Joi.valid(...needed).required(),
    then: reason,
    otherwise: Joi.string().trim().allow('').max(500).default(''),
  });
