import Joi from 'joi';
import type { Currency } from '../money/currency';
import {
  amountField,
  country,
  currencyField,
  email,
  id,
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
  /** Name of a group, empty for none; groups are made by naming them. */
  group: string;
  /** Code of the partner who referred this one, empty for none. */
  referrer: string;
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
    group: line('Group', 60).allow('').default(''),
    referrer: permanentCode('Referred by').allow('').default(''),
  });

/** What an applicant tells; an account comes later, after approval. */
export interface ApplicationFields {
  name: string;
  kind: (typeof PARTNER_KINDS)[number];
  email: string;
  country: string;
  /** Where the applicant would publish. */
  address: string;
  channelKind: (typeof CHANNEL_KINDS)[number];
  /** How the applicant would send people. */
  about: string;
  referrer: string;
  /** Version of the terms that was on screen. */
  termsVersion: number;
  accepted: boolean;
}

export const applicationSchema: Joi.ObjectSchema<ApplicationFields> = Joi.object<ApplicationFields>({
  name: line('Name').required(),
  kind: oneOf('You are', ...PARTNER_KINDS).required(),
  email: email.required(),
  country: country.required(),
  address: webAddress('Where you publish').required(),
  channelKind: oneOf('What it is', ...CHANNEL_KINDS).required(),
  about: longText('How you would send people').min(20).required(),
  referrer: permanentCode('Code of who sent you').allow('').default(''),
  termsVersion: Joi.number().integer().min(0).required().label('Version of the terms'),
  accepted: Joi.boolean()
    .valid(true)
    .required()
    .label('Terms')
    .messages({ 'any.only': 'The terms have to be accepted to apply.' }),
});

/** A first proposal for a permanent code, from a name. @example proposedCode('The Potter’s Den') // 'THEPOTTERSDEN' */
export const proposedCode = (name: string): string =>
  name
    .normalize('NFKD')
    .toUpperCase()
    .replace(/[^A-Z0-9]/g, '')
    .slice(0, 16)
    .padEnd(2, 'X');

export interface ChannelFields {
  code: string;
  name: string;
  kind: (typeof CHANNEL_KINDS)[number];
  address: string;
  /** The source preset that links for this channel begin with. */
  sourceId: number | null;
}

export const channelSchema: Joi.ObjectSchema<ChannelFields> = Joi.object<ChannelFields>({
  code: permanentCode('Code').required(),
  name: line('Name').required(),
  kind: oneOf('Kind', ...CHANNEL_KINDS).required(),
  address: webAddress('Address').allow('').default(''),
  sourceId: id('Default source').allow(null).empty('').default(null),
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
