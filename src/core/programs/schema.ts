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

/** @param currency of the program; its amounts are checked against the digits of that currency */
export const programSchema = (currency: Currency): Joi.ObjectSchema<ProgramFields> =>
  Joi.object<ProgramFields>({
    name: line('Name').required(),
    timeZone: timeZone.required(),
    country: country.required(),
    trackingOrigin: webAddress('Tracking host')
      .custom(
        refusedWhen<string>((text) =>
          new URL(text).origin === text
            ? undefined
            : 'A tracking host is written like https://go.larkmoor.example, without a path.',
        ),
      )
      .required(),
    fallback: webAddress('Fallback address').required(),
    minimumPayout: amountField('Minimum payout', currency).required(),
    payoutDay: Joi.number().integer().min(1).max(28).required().label('Payout day'),
    privacy: oneOf('Visitor addresses', ...PRIVACY).required(),
    takesApplications: flag('Takes applications').default(true),
  });
