import Joi from 'joi';
import { SYSTEMS } from '../clicks/machine';
import { webAddress } from '../programs/schema';
import { dayField, flag, line, oneOf, refusedWhen } from '../schema/fields';

/** Conditions on one of several values; all others of a rule must hold as well. */
export const LIST_FIELDS = ['country', 'device', 'os', 'language', 'weekday', 'partner', 'channel', 'source'] as const;
export type ListField = (typeof LIST_FIELDS)[number];
/** Known with the link and not with the visitor. Their values are IDs of the books. */
export const LINK_FIELDS = ['partner', 'channel', 'source'] as const;
export type LinkField = (typeof LINK_FIELDS)[number];

export type Condition =
  | { readonly field: ListField; readonly is: boolean; readonly values: readonly string[] }
  /** "22:00" to before "06:00" by the program's clock; it may run over midnight. */
  | { readonly field: 'hours'; readonly from: string; readonly to: string }
  /** Days of the program, both inclusive. */
  | { readonly field: 'dates'; readonly from: string; readonly to: string };

/** One of the offer's landing pages, by its name, and its share among its neighbours. */
export interface Destination {
  readonly page: string;
  readonly weight: number;
  /** Off: kept, and nobody is sent there. */
  readonly on: boolean;
}
/** Moves weights towards the page that is likely best, within limits. */
export interface Shift {
  /** No destination falls below this share, in percent. */
  readonly least: number;
  /** No weight moves by more percentage points a day. */
  readonly step: number;
}
/** Destinations among which visitors are dealt out. */
export interface Mix {
  readonly to: readonly Destination[];
  /** Part of the hash: raised to deal all visitors out anew. */
  readonly round: number;
  readonly shift?: Shift;
}
export interface Rule {
  /** Permanent within the offer; reports count by it. */
  readonly id: string;
  readonly name: string;
  readonly on: boolean;
  readonly when: readonly Condition[];
  /** Also for links that have a page of their own. */
  readonly overOwn: boolean;
  readonly mix: Mix;
}

export const CAP_OF = ['clicks', 'conversions', 'spend'] as const;
export const CAP_PER = ['day', 'month', 'total'] as const;
export interface Cap {
  readonly of: (typeof CAP_OF)[number];
  readonly per: (typeof CAP_PER)[number];
  /** Clicks, conversions, or minor units of the program's currency. */
  readonly most: number;
}

/** How an offer's visitors are dealt out among its landing pages. Plain data; `route.ts` is its one interpreter. */
export interface RoutingPlan {
  readonly rules: readonly Rule[];
  /** For visitors whom no rule takes. Without a destination: the offer's first landing page. */
  readonly otherwise: Mix;
  readonly caps: readonly Cap[];
  /** Clicks of one visitor within 24 hours; more go to the overflow. 0 is no limit. */
  readonly visitorMost: number;
  /** Where visitors go when a cap is reached; empty for the fallback. */
  readonly overflow: string;
}

export const DEFAULT_RULE = 'default';
export const EMPTY_PLAN: RoutingPlan = {
  rules: [],
  otherwise: { to: [], round: 1 },
  caps: [],
  visitorMost: 0,
  overflow: '',
};

const VALUE_FORMS: Record<ListField, Joi.StringSchema> = {
  country: Joi.string()
    .uppercase()
    .pattern(/^[A-Z]{2}$/, 'a two-letter country code like BE'),
  device: Joi.string().valid('phone', 'tablet', 'desktop', 'television'),
  os: Joi.string().valid(...SYSTEMS),
  language: Joi.string()
    .lowercase()
    .pattern(/^[a-z]{2,3}$/, 'a language code like nl'),
  weekday: Joi.string().valid('1', '2', '3', '4', '5', '6', '7'),
  partner: Joi.string().pattern(/^\d+$/, 'a partner'),
  channel: Joi.string().pattern(/^\d+$/, 'a channel'),
  source: Joi.string().pattern(/^\d+$/, 'a source'),
};
const clock = (label: string): Joi.StringSchema =>
  Joi.string()
    .pattern(/^([01]\d|2[0-3]):[0-5]\d$/, 'a time like 22:00')
    .required()
    .label(label);

const listCondition = (field: ListField) =>
  Joi.object({
    field: Joi.valid(field).required(),
    is: flag('Is or is not').required(),
    values: Joi.array()
      .items(VALUE_FORMS[field].trim().label('Value'))
      .min(1)
      .max(300)
      .unique()
      .required()
      .label('Values'),
  });
const condition = Joi.alternatives()
  .conditional('.field', {
    switch: [
      ...LIST_FIELDS.map((field) => ({ is: field, then: listCondition(field) })),
      { is: 'hours', then: Joi.object({ field: Joi.valid('hours'), from: clock('From'), to: clock('To') }) },
      {
        is: 'dates',
        then: Joi.object({
          field: Joi.valid('dates'),
          from: dayField('First day').required(),
          to: dayField('Last day').required(),
        }).custom(
          refusedWhen<{ from: string; to: string }>(({ from, to }) =>
            to < from ? `The last day, ${to}, lies before the first.` : undefined,
          ),
        ),
      },
    ],
    otherwise: Joi.forbidden(),
  })
  .label('Condition');

const mix = Joi.object<Mix>({
  to: Joi.array()
    .items(
      Joi.object<Destination>({
        page: line('Landing page', 80).required(),
        weight: Joi.number().integer().min(0).max(10_000).required().label('Weight'),
        on: flag('On').default(true),
      }),
    )
    .max(20)
    .unique('page')
    .required()
    .label('Destinations'),
  round: Joi.number().integer().min(1).max(1_000_000).default(1).label('Round'),
  shift: Joi.object<Shift>({
    least: Joi.number().integer().min(1).max(50).required().label('Least share'),
    step: Joi.number().integer().min(1).max(50).required().label('Most a day'),
  }).label('Shift of weights'),
}).custom(
  refusedWhen<Mix>(({ to }) =>
    to.length > 0 && !to.some(({ on, weight }) => on && weight > 0)
      ? 'At least one destination has to be on with a weight above 0.'
      : undefined,
  ),
);

export const planSchema: Joi.ObjectSchema<RoutingPlan> = Joi.object<RoutingPlan>({
  rules: Joi.array()
    .items(
      Joi.object<Rule>({
        id: Joi.string()
          .pattern(/^r\d{1,6}$/, 'an ID like r1')
          .required()
          .label('Rule'),
        name: Joi.string().trim().max(80).allow('').default('').label('Name'),
        on: flag('On').default(true),
        when: Joi.array().items(condition).max(12).required().label('Conditions'),
        overOwn: flag('Also for links with a page of their own').default(false),
        mix: mix
          .custom(refusedWhen<Mix>(({ to }) => (to.length === 0 ? 'A rule needs a page to lead to.' : undefined)))
          .required(),
      }),
    )
    .max(100)
    .unique('id')
    .required()
    .label('Rules'),
  otherwise: mix.required(),
  caps: Joi.array()
    .items(
      Joi.object<Cap>({
        of: oneOf('Cap of', ...CAP_OF).required(),
        per: oneOf('Cap per', ...CAP_PER).required(),
        most: Joi.number().integer().min(1).max(1e12).required().label('At most'),
      }),
    )
    .max(9)
    .unique((a: Partial<Cap> | null, b: Partial<Cap> | null) => a?.of === b?.of && a?.per === b?.per)
    .required()
    .label('Caps'),
  visitorMost: Joi.number().integer().min(0).max(10_000).required().label('Clicks of one visitor'),
  overflow: webAddress('Overflow address').allow('').required(),
});

/** Every mix of a plan with the rule it belongs to. */
export const mixesOf = (plan: RoutingPlan): { rule: string; name: string; mix: Mix }[] => [
  ...plan.rules.map(({ id, name, mix: own }) => ({ rule: id, name, mix: own })),
  { rule: DEFAULT_RULE, name: 'Everybody else', mix: plan.otherwise },
];

/** The names of landing pages a plan leads to. */
export const pagesOf = (plan: RoutingPlan): Set<string> =>
  new Set(mixesOf(plan).flatMap(({ mix: { to } }) => to.map(({ page }) => page)));
