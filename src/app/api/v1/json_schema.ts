import type Joi from 'joi';

/** JSON Schema of a Joi schema, as Joi itself derives it. */
export const jsonSchema = (schema: Joi.Schema): object =>
  schema['~standard'].jsonSchema.input({ target: 'draft-2020-12' }) as object;
