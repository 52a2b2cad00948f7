import Joi from 'joi';
import { CARRIED, CLICK_NAMES, CONVERSION_NAMES, type Carried } from '../placeholders/names';
import { compileTemplate } from '../placeholders/template';
import { flag, line, longText, refusedWhen } from '../schema/fields';
import type { ParameterNames } from '../links/parts';
import { parameterNameProblem, slotValue } from '../links/schema';
import { type SlotValue, sourceTextProblem } from '../links/values';

/** A placeholder in the source's own syntax: opaque text that it replaces when the ad is clicked. */
export interface SourceToken {
  readonly token: string;
  /** What it stands for, in a word or two: "keyword". */
  readonly meaning: string;
  readonly example: string;
  /** A different value on every click, like a click ID: never for a grouped slot. */
  readonly unique: boolean;
}

/** How links for one traffic source are written. */
export interface SourcePreset {
  readonly name: string;
  /** Where the link is pasted and how; shown beside Copy. */
  readonly paste: string;
  readonly tokens: readonly SourceToken[];
  /** What goes into which value, and the parameter name it is written under. */
  readonly values: Partial<Record<Carried, { readonly parameter?: string; readonly value: SlotValue }>>;
  /** Where conversions are reported to the source; an RFC 6570 template, empty for none. */
  readonly postback: string;
}

export const SOURCE_FORMAT = 'brivet-source';
/** A preset as a file: what it is, so that another kind of file is recognised, and the preset. */
export interface SourceFile extends SourcePreset {
  readonly $schema?: string;
  readonly format: typeof SOURCE_FORMAT;
  readonly version: 1;
}

const token: Joi.ObjectSchema<SourceToken> = Joi.object<SourceToken>({
  token: Joi.string().trim().max(100).custom(refusedWhen<string>(sourceTextProblem)).required().label('Placeholder'),
  meaning: line('Meaning', 40).required(),
  example: line('Example', 80).allow('').default(''),
  unique: flag('Different on every click').default(false),
});

const carriedValue = (slot: Carried): Joi.ObjectSchema =>
  Joi.object({
    parameter: Joi.string()
      .trim()
      .allow('')
      .custom(refusedWhen<string>((name) => (name === '' ? undefined : parameterNameProblem(slot, name))))
      .label(`Parameter for ${slot}`),
    value: slotValue(slot).required(),
  }).label(slot);

const fields = {
  name: line('Name', 60).required(),
  paste: longText('Where it is pasted').default(''),
  tokens: Joi.array().items(token).max(40).unique('token').required().label('Placeholders'),
  values: Joi.object(Object.fromEntries(CARRIED.map((slot) => [slot, carriedValue(slot)])))
    .custom(
      refusedWhen<SourcePreset['values']>((values) => {
        const given = Object.values(values).flatMap(({ parameter }) => (parameter ? [parameter] : []));
        const twice = given.find((name, i) => given.indexOf(name) !== i);
        return twice === undefined ? undefined : `The parameter "${twice}" stands for two values.`;
      }),
    )
    .required()
    .label('Values'),
  postback: Joi.string()
    .trim()
    .max(2000)
    .allow('')
    .default('')
    .custom(
      refusedWhen<string>((text) => {
        if (text === '') return undefined;
        const template = compileTemplate(text, [...CLICK_NAMES, ...CONVERSION_NAMES]);
        if (!template.ok) return template.reason;
        return /^https?:\/\//i.test(text) ? undefined : 'An outbound postback begins with https:// (or http://).';
      }),
    )
    .label('Outbound postback'),
};

export const sourceSchema: Joi.ObjectSchema<SourcePreset> = Joi.object<SourcePreset>(fields);
export const sourceFileSchema: Joi.ObjectSchema<SourceFile> = Joi.object<SourceFile>({
  $schema: Joi.string().uri({ allowRelative: true }).max(300).label('$schema'),
  format: Joi.string().valid(SOURCE_FORMAT).required().label('format'),
  version: Joi.number().valid(1).required().label('version'),
  ...fields,
});

/** The parameter names a preset gives, as links keep them. */
export const namesOf = ({ values }: SourcePreset): ParameterNames =>
  Object.fromEntries(
    CARRIED.flatMap((slot) => {
      const parameter = values[slot]?.parameter;
      return parameter && parameter !== slot ? [[slot, parameter]] : [];
    }),
  );

/** What a link for this source carries to begin with. */
export const valuesOf = ({ values }: SourcePreset): Partial<Record<Carried, SlotValue>> =>
  Object.fromEntries(
    CARRIED.flatMap((slot) => {
      const set = values[slot];
      return set ? [[slot, set.value]] : [];
    }),
  );

/** Examples for the proof, by placeholder. */
export const examplesOf = ({ tokens }: SourcePreset): Record<string, string> =>
  Object.fromEntries(tokens.flatMap(({ token: text, example }) => (example ? [[text, example]] : [])));
