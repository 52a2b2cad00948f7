import Joi from 'joi';
import { oneOf } from '../schema/fields';

/** What makes a call a conversion: that it was put through, how long it was, or the merchant's word. */
export const CALL_CONVERTS = {
  connection: 'when it is answered',
  length: 'when it is long enough',
  merchant: 'when the merchant says so',
} as const;

/** When a call counts, and when not. */
export interface CallTerms {
  readonly converts: keyof typeof CALL_CONVERTS;
  /** Seconds; asked for where calls convert by length. */
  readonly leastSeconds: number;
  /** The same caller within so many hours counts once; 0 is no limit. */
  readonly repeatHours: number;
  /** Days of the week in the program's zone, 1 is Monday (ISO 8601); none is every day. */
  readonly days: readonly number[];
  /** Times of these days, "HH:MM"; empty is the whole day. */
  readonly opens: string;
  readonly closes: string;
  /** Calls that count a day, and calls that go on at once; 0 is no limit. */
  readonly mostADay: number;
  readonly mostAtOnce: number;
}
export const USUAL_CALL_TERMS: CallTerms = {
  ...{ converts: 'connection', leastSeconds: 0, repeatHours: 24, days: [], opens: '', closes: '' },
  ...{ mostADay: 0, mostAtOnce: 0 },
};

const clock = (label: string): Joi.StringSchema =>
  Joi.string()
    .trim()
    .pattern(/^([01]\d|2[0-3]):[0-5]\d$/, 'a time like 09:00')
    .allow('')
    .default('')
    .label(label);
const whole = (label: string, most: number): Joi.NumberSchema =>
  Joi.number().integer().min(0).max(most).default(0).label(label);

export const callTermsSchema: Joi.ObjectSchema<CallTerms> = Joi.object<CallTerms>({
  converts: oneOf('Calls convert', 'connection', 'length', 'merchant').required(),
  leastSeconds: whole('Least length in seconds', 7200),
  repeatHours: whole('Hours until a caller counts again', 8760),
  days: Joi.array().items(Joi.number().integer().min(1).max(7)).unique().default([]).label('Days with calls'),
  opens: clock('Calls from'),
  closes: clock('Calls until'),
  mostADay: whole('Calls a day at most', 100_000),
  mostAtOnce: whole('Calls at once at most', 10_000),
});
