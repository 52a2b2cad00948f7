import Joi from 'joi';
import type { Currency } from '../money/currency';
import { amountField, country, flag, line, oneOf, refusedWhen, timeZone } from '../schema/fields';

export const PRIVACY = ['whole', 'cut', 'hash'] as const;

export interface ProgramFields {
  name: string;
  timeZone: string;
  country: string;
  trackingOrigin: string;
  fallback: string;
  minimumPayout: string;
  payoutDay: number;
  privacy: (typeof PRIVACY)[number];
  /** Whether the public form takes applications. */
  takesApplications: boolean;
  /** Tracking hosts beside the first, which new links bear unless told otherwise. */
  otherOrigins: string[];
  /** Hours within which a visitor's second click on an offer is a repeat. */
  uniqueHours: number;
  /** Clicks a minute from one address on one link, beyond which they are set aside; 0 is no limit. */
  floodMost: number;
}

export const webAddress = (label: string): Joi.StringSchema =>
  Joi.string()
    .trim()
    .max(2000)
    .custom(
      refusedWhen<string>((text) => {
        if (!/^https?:\/\//i.test(text)) return `${label} begins with https:// (or http://).`;
        return URL.canParse(text) ? undefined : `"${text}" is not a complete web address.`;
      }),
    )
    .label(label);

const trackingHost = webAddress('Tracking host').custom(
  refusedWhen((text: string) =>
    // What is no address at all was said already.
    !URL.canParse(text) || new URL(text).origin === text
      ? undefined
      : 'A tracking host is written like https://go.larkmoor.example, without a path.',
  ),
);

/** @param currency of the program; its amounts are checked against the digits of that currency */
export const programSchema = (currency: Currency): Joi.ObjectSchema<ProgramFields> =>
  Joi.object<ProgramFields>({
    name: line('Name').required(),
    timeZone: timeZone.required(),
    country: country.required(),
    trackingOrigin: trackingHost.required(),
    otherOrigins: Joi.array().items(trackingHost).max(20).unique().default([]).label('Other tracking hosts'),
    uniqueHours: Joi.number().integer().min(1).max(24).default(24).label('Unique within (hours)'),
    floodMost: Joi.number().integer().min(0).max(100_000).default(0).label('Clicks a minute'),
    fallback: webAddress('Fallback address').required(),
    minimumPayout: amountField('Minimum payout', currency).required(),
    payoutDay: Joi.number().integer().min(1).max(28).required().label('Payout day'),
    privacy: oneOf('Visitor addresses', ...PRIVACY).required(),
    takesApplications: flag('Takes applications').default(true),
  });
