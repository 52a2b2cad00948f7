import Joi from 'joi';
import { CARRIED, CLICK_NAMES, type Carried, RESERVED_PARAMETERS, isCarried } from '../placeholders/names';
import { compileTemplate } from '../placeholders/template';
import { id, line, oneOf, refusedWhen } from '../schema/fields';
import { isLinkCode } from './code';
import { LINK_KINDS, type LinkKind, type ParameterNames } from './parts';
import { type SlotValue, isSeparator, sourceTextProblem } from './values';

export interface Labels {
  campaign?: string;
  ad?: string;
  product?: string;
  tags?: string[];
}
export interface Utm {
  source?: string;
  medium?: string;
  campaign?: string;
  term?: string;
  content?: string;
}
export interface LinkFields {
  kind: LinkKind;
  partnerId: number;
  channelId: number;
  offerId: number;
  /** Name of one of the offer's landing pages; empty for its first. */
  landing: string;
  /** The page it leads to; empty for the landing page. */
  to: string;
  values: Partial<Record<Carried, SlotValue>>;
  names?: ParameterNames;
  sourceId?: number | null;
  alias: string;
  labels: Labels;
  utm: Utm;
  utmForm: 'short' | 'long';
  /** Origin of the tracking host; empty or absent for the program's first. */
  host?: string;
}

const text = (label: string): Joi.StringSchema => Joi.string().max(300).allow('').label(label);
const sourceText = (label: string): Joi.StringSchema =>
  text(label).when('kind', { is: 'source', then: Joi.string().custom(refusedWhen<string>(sourceTextProblem)) });

export const slotValue = (label: string): Joi.AlternativesSchema =>
  Joi.alternatives()
    .conditional('.kind', {
      switch: [
        { is: 'partner', then: Joi.object({ kind: oneOf('Kind', 'partner').required() }) },
        {
          is: 'composite',
          then: Joi.object({
            kind: oneOf('Kind', 'composite').required(),
            separator: Joi.string()
              .custom(
                refusedWhen<string>((sign) =>
                  isSeparator(sign)
                    ? undefined
                    : `A separator is one to three of - _ . ~, because no program encodes those; "${sign}" may not arrive as it was written.`,
                ),
              )
              .required()
              .label('Separator'),
            parts: Joi.array()
              .items(
                Joi.object({
                  name: Joi.string()
                    .trim()
                    .pattern(/^[a-z][a-z0-9_ ]{0,29}$/i, 'a name of at most 30 letters, digits or "_"')
                    .required()
                    .label('Part'),
                  kind: oneOf('Kind', 'fixed', 'source').required(),
                  text: sourceText(label).required(),
                }),
              )
              .min(2)
              .max(6)
              .unique('name')
              .required()
              .label('Parts'),
          }),
        },
      ],
      otherwise: Joi.object({ kind: oneOf('Kind', 'fixed', 'source').required(), text: sourceText(label).required() }),
    })
    .label(label);

/** Why a parameter cannot bear a name, or undefined. */
export function parameterNameProblem(slot: Carried, name: string): string | undefined {
  if (!/^[A-Za-z][\w.-]{0,39}$/.test(name))
    return `"${name}" is not a name for a parameter: a letter, then letters, digits, "_", "-" or ".".`;
  if (name !== slot && (isCarried(name) || RESERVED_PARAMETERS.some((each) => each === name)))
    return `"${name}" has a meaning of its own in links. Choose another name.`;
  return undefined;
}

export const parameterNames = Joi.object<ParameterNames>(
  Object.fromEntries(
    CARRIED.map((slot) => [
      slot,
      Joi.string()
        .custom(refusedWhen<string>((name) => parameterNameProblem(slot, name)))
        .label(`Parameter for ${slot}`),
    ]),
  ),
)
  .custom(
    refusedWhen<ParameterNames>((names) => {
      const given = Object.values(names);
      const twice = given.find((name, i) => given.indexOf(name) !== i);
      return twice === undefined ? undefined : `The parameter "${twice}" stands for two values.`;
    }),
  )
  .label('Parameter names');

/** Why an alias cannot be given, or undefined. Paths of the tracking host and what looks like a code stay free. */
export function aliasProblem(alias: string): string | undefined {
  if (!/^[a-z0-9]([a-z0-9-]{1,38}[a-z0-9])$/.test(alias))
    return 'An alias has 3 to 40 lower-case letters, digits or "-", and begins and ends with a letter or digit.';
  if (['postback', 'healthz', 'hit', 'tag', 'pixel', 'robots', 'favicon'].includes(alias))
    return `"${alias}" is a path of the tracking host itself. Choose another.`;
  if (isLinkCode(alias))
    return 'This could be the code of another link. Use a "-", or another length than eight characters.';
  return undefined;
}

export const aliasField = Joi.string()
  .trim()
  .lowercase()
  .custom(refusedWhen<string>(aliasProblem))
  .allow('')
  .label('Alias');

const label = (name: string): Joi.StringSchema => line(name, 80).allow('');
export const labelsSchema = Joi.object<Labels>({
  campaign: label('Campaign'),
  ad: label('Ad'),
  product: label('Product group'),
  tags: Joi.array().items(line('Tag', 40)).max(12).unique().label('Tags'),
}).label('Labels');

const utmText = (name: string): Joi.StringSchema =>
  Joi.string()
    .trim()
    .max(200)
    .allow('')
    .custom(
      refusedWhen<string>((given) => {
        const template = compileTemplate(given, CLICK_NAMES);
        return template.ok ? undefined : template.reason;
      }),
    )
    .label(name);
export const utmSchema = Joi.object<Utm>({
  source: utmText('utm_source'),
  medium: utmText('utm_medium'),
  campaign: utmText('utm_campaign'),
  term: utmText('utm_term'),
  content: utmText('utm_content'),
}).label('UTM parameters');

export const linkSchema: Joi.ObjectSchema<LinkFields> = Joi.object<LinkFields>({
  kind: oneOf('Kind', ...LINK_KINDS).default(
    // A page without a kind is a deep link, as it always was.
    (parent: { to?: string }) => (parent.to ? 'deep' : 'referral'),
  ),
  partnerId: id('Partner').required(),
  channelId: id('Channel').required(),
  offerId: id('Offer').required(),
  landing: line('Landing page', 80).allow('').default(''),
  to: Joi.string().trim().max(2000).allow('').default('').label('Deep link'),
  values: Joi.object(Object.fromEntries(CARRIED.map((slot) => [slot, slotValue(slot)])))
    .default({})
    .label('Sub-IDs'),
  names: parameterNames,
  sourceId: id('Source').allow(null),
  alias: aliasField.default(''),
  labels: labelsSchema.default({}),
  utm: utmSchema.default({}),
  utmForm: oneOf('UTM form', 'short', 'long').default('short'),
  host: Joi.string().trim().max(200).allow('').default('').label('Tracking host'),
});
