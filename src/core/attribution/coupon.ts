import Joi from 'joi';
import { dayField, id, refusedWhen } from '../schema/fields';

export interface CouponFields {
  code: string;
  partnerId: number;
  channelId: number;
  offerId: number;
  /** Days in the program's zone, both inclusive; empty for no limit. */
  startsOn: string;
  endsOn: string;
}
const datesInOrder = refusedWhen<Pick<CouponFields, 'startsOn' | 'endsOn'>>(({ startsOn, endsOn }) =>
  startsOn !== '' && endsOn !== '' && endsOn < startsOn ? `The last day, ${endsOn}, lies before the first.` : undefined,
);
const dates = {
  startsOn: dayField('First day').allow('').default(''),
  endsOn: dayField('Last day').allow('').default(''),
};

/** As customers type it: letters, digits, "-" and "_"; capitals do not count. */
export const couponCode = Joi.string()
  .trim()
  .pattern(/^[\p{L}\p{N}][\p{L}\p{N}_-]{1,39}$/u, '2 to 40 letters, digits, "-" or "_"')
  .label('Code');

export const couponSchema: Joi.ObjectSchema<CouponFields> = Joi.object<CouponFields>({
  code: couponCode.required(),
  partnerId: id('Partner').required(),
  channelId: id('Channel').required(),
  offerId: id('Offer').required(),
  ...dates,
}).custom(datesInOrder);

/** What may be changed later: a code stands for whom it stands. */
export const couponDatesSchema: Joi.ObjectSchema<Pick<CouponFields, 'startsOn' | 'endsOn'>> =
  Joi.object<Pick<CouponFields, 'startsOn' | 'endsOn'>>(dates).custom(datesInOrder);
