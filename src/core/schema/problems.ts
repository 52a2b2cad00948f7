import Joi from 'joi';

/** What is wrong with one field, and what would be right, in a sentence for the person who typed it. */
export interface Problem {
  /** Path of the field: "email", "events.0.event". */
  readonly field: string;
  readonly reason: string;
}

export type Checked<T> = { ok: true; value: T } | { ok: false; problems: Problem[] };

export const MESSAGES: Record<string, string> = {
  'any.required': '{{#label}} is missing.',
  'any.only': '{{#label}} must be one of {{#valids}}.',
  'object.unknown': '{{#label}} is not a field that is known here.',
  'object.base': '{{#label}} must be an object with named fields.',
  'string.base': '{{#label}} must be text.',
  'string.empty': '{{#label}} is missing.',
  'string.min': '{{#label}} needs at least {{#limit}} characters.',
  'string.max': '{{#label}} can have at most {{#limit}} characters.',
  'string.email': '{{#label}} is not an e-mail address like name@studio.example.',
  'string.pattern.name': '{{#label}} must be {{#name}}.',
  'number.base': '{{#label}} must be a number.',
  'number.integer': '{{#label}} must be a whole number.',
  'number.min': '{{#label}} must be at least {{#limit}}.',
  'number.max': '{{#label}} can be at most {{#limit}}.',
  'number.unsafe': '{{#label}} is too large.',
  'number.infinity': '{{#label}} must be a number.',
  'boolean.base': '{{#label}} must be true or false.',
  'array.base': '{{#label}} must be a list.',
  'array.sparse': '{{#label}} is missing.',
  'array.min': '{{#label}} needs at least {{#limit}}.',
  'array.max': '{{#label}} can have at most {{#limit}}.',
  'array.unique': '{{#label}} stands twice.',
  refused: '{{#reason}}',
};

/** A schema with our way of checking; the messages are parsed once a schema and not on every check. */
const prepared = new WeakMap<Joi.Schema, Joi.Schema>();
function prepare(schema: Joi.Schema): Joi.Schema {
  const known = prepared.get(schema);
  if (known) return known;
  const ready = schema.prefs({
    abortEarly: false,
    convert: true,
    messages: MESSAGES,
    errors: { wrap: { label: false, array: false } },
  });
  prepared.set(schema, ready);
  return ready;
}

/** Checks a value and gives every problem at once, each with its field. */
export function check<T>(schema: Joi.Schema<T>, value: unknown): Checked<T> {
  const result = prepare(schema).validate(value);
  if (!result.error) return { ok: true, value: result.value };
  return {
    ok: false,
    problems: result.error.details.map(({ path, message }) => ({ field: path.join('.'), reason: capital(message) })),
  };
}

const capital = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1);
