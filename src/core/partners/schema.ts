import Joi from 'joi';
import type { Currency } from '../money/currency';
import {
  amountField,
  country,
  currencyField,
  email,
  line,
  longText,
  oneOf,
  permanentCode,
  refusedWhen,
} from '../schema/fields';
import { webAddress } from '../programs/schema';

export const PARTNER_KINDS = ['business', 'person'] as const;
export const PARTNER_STATES = ['applied', 'active', 'refused', 'paused', 'closed'] as const;
export type PartnerState = (typeof PARTNER_STATES)[number];
export const CHANNEL_KINDS = [
  'website',
  'newsletter',
  'podcast',
  'video',
  'social',
  'search ads',
  'coupons',
  'comparison',
  'directory',
  'app',
  'other',
] as const;

const STATE_STEPS: Record<PartnerState, readonly PartnerState[]> = {
  applied: ['active', 'refused'],
  active: ['paused', 'closed'],
  paused: ['active', 'closed'],
  refused: [],
  closed: [],
};
export const partnerMayBecome = (from: PartnerState, to: PartnerState): boolean => STATE_STEPS[from].includes(to);

export interface PartnerFields {
  code: string;
  name: string;
  kind: (typeof PARTNER_KINDS)[number];
  email: string;
  country: string;
  payoutCurrency: string;
  ownMinimum: string;
  notes: string;
}

export const partnerSchema = (currency: Currency): Joi.ObjectSchema<PartnerFields> =>
  Joi.object<PartnerFields>({
    code: permanentCode('Code').required(),
    name: line('Name').required(),
    kind: oneOf('Kind', ...PARTNER_KINDS).required(),
    email: email.required(),
    country: country.required(),
    payoutCurrency: currencyField.required().label('Payout currency'),
    ownMinimum: amountField('Own minimum', currency).allow('').default(''),
    notes: longText('Notes').default(''),
  });

export interface ChannelFields {
  code: string;
  name: string;
  kind: (typeof CHANNEL_KINDS)[number];
  address: string;
}

export const channelSchema: Joi.ObjectSchema<ChannelFields> = Joi.object<ChannelFields>({
  code: permanentCode('Code').required(),
  name: line('Name').required(),
  kind: oneOf('Kind', ...CHANNEL_KINDS).required(),
  address: webAddress('Address').allow('').default(''),
});

export interface PayoutDetailsFields {
  holder: string;
  account: string;
}

/** The account is an IBAN (checked by mod-97), or for other countries the bank's own account number. */
export const payoutDetailsSchema = (isIban: (text: string) => boolean): Joi.ObjectSchema<PayoutDetailsFields> =>
  Joi.object<PayoutDetailsFields>({
    holder: line('Account holder', 70).required(),
    account: Joi.string()
      .trim()
      .replace(/\s+/g, '')
      .uppercase()
      .max(34)
      .pattern(/^[A-Z0-9]{6,34}$/, 'an IBAN or an account number of 6 to 34 letters and digits')
      .custom(
        refusedWhen<string>((text) =>
          /^[A-Z]{2}\d{2}/.test(text) && !isIban(text)
            ? 'The check digits of this IBAN do not fit: a character is wrong or missing.'
            : undefined,
        ),
      )
      .required()
      .label('Account'),
  });
