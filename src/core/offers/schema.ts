import Joi from 'joi';
import { CREDITED_CLICKS, type CreditedClick } from '../attribution/match';
import type { Hold } from '../commissions/hold';
import { appendedParametersProblem, landingPageProblem } from '../links/destination';
import { webAddress } from '../programs/schema';
import { dayField, flag, line, oneOf, permanentCode, refusedWhen } from '../schema/fields';
import { type OfferEvent, holdSchema, offerEventSchema } from './events';

export type { OfferEvent };

export const OFFER_STATES = ['live', 'paused'] as const;

export interface LandingPage {
  name: string;
  address: string;
}

export interface OfferFields {
  code: string;
  name: string;
  state: (typeof OFFER_STATES)[number];
  /** Days in the program's zone, both inclusive; empty for no limit. Outside them visitors go to the fallback. */
  startsOn: string;
  endsOn: string;
  /** The first is where links without a page of their own lead. */
  landingPages: LandingPage[];
  landingHosts: string[];
  appended: string;
  clickWindowDays: number;
  hold: Hold;
  autoApprove: boolean;
  fallback: string;
  /** The merchant's pages do not learn which page the visitor came from. */
  hideReferrer: boolean;
  /** Where a click and a coupon speak for different partners, the coupon does. */
  couponFirst: boolean;
  /** Which of a visitor's clicks is credited, where a conversion names only the visitor. */
  creditedClick: CreditedClick;
  events: OfferEvent[];
}

/** A host as addresses carry it: names in other scripts in their ASCII form (RFC 5891). */
function asciiHost(host: string): string {
  const [, below = '', name = ''] = /^(\*\.)?(.*)$/.exec(host) ?? [];
  return /[^ -~]/.test(name) && URL.canParse(`http://${name}`) ? below + new URL(`http://${name}`).host : host;
}

const landingHost = Joi.string()
  .trim()
  .lowercase()
  .custom(asciiHost)
  .pattern(
    /^(\*\.)?([a-z0-9]([a-z0-9-]*[a-z0-9])?\.)*[a-z0-9]([a-z0-9-]*[a-z0-9])?(:\d{1,5})?$/,
    'a host like larkmoor.example or *.larkmoor.example',
  )
  .label('Landing host');

export const offerSchema: Joi.ObjectSchema<OfferFields> = Joi.object<OfferFields>({
  code: permanentCode('Code').required(),
  name: line('Name').required(),
  state: oneOf('State', ...OFFER_STATES).required(),
  startsOn: dayField('First day').allow('').default(''),
  endsOn: dayField('Last day').allow('').default(''),
  landingPages: Joi.array()
    .items(
      Joi.object<LandingPage>({
        name: line('Name of the page', 80).required(),
        address: Joi.string()
          .trim()
          .max(2000)
          .custom(refusedWhen<string>(landingPageProblem))
          .required()
          .label('Landing page'),
      }),
    )
    .min(1)
    .max(50)
    .unique('name')
    .required()
    .label('Landing pages'),
  landingHosts: Joi.array().items(landingHost).min(1).unique().required().label('Landing hosts'),
  appended: Joi.string()
    .trim()
    .max(500)
    .allow('')
    .custom(refusedWhen<string>(appendedParametersProblem))
    .required()
    .label('Appended parameters'),
  clickWindowDays: Joi.number().integer().min(1).max(365).required().label('Click window'),
  hold: holdSchema.required().label('Hold'),
  autoApprove: flag('Approves by itself').required(),
  fallback: webAddress('Fallback address').allow('').required(),
  hideReferrer: flag('Hides the referrer').default(false),
  couponFirst: flag('Coupon before click').default(false),
  creditedClick: oneOf('Credited click', ...CREDITED_CLICKS).default('last'),
  events: Joi.array().items(offerEventSchema).min(1).unique('event').required().label('Events'),
}).custom(
  refusedWhen<OfferFields>(({ startsOn, endsOn }) =>
    startsOn !== '' && endsOn !== '' && endsOn < startsOn
      ? `The last day, ${endsOn}, lies before the first.`
      : undefined,
  ),
);

/** The address of a landing page by its name; the first one's where the name is empty or gone. */
export function landingPageOf({ landingPages }: Pick<OfferFields, 'landingPages'>, name: string): string {
  const page = landingPages.find((each) => each.name === name) ?? landingPages[0];
  if (!page) throw new Error('An offer has at least one landing page.');
  return page.address;
}
