import Joi from 'joi';
import { HASHED } from '../conversions/personal';
import { type Checked, check } from '../schema/problems';

/** A call as the telephone exchange reports it, once it is over. */
export interface CallReport {
  /** The exchange's own name for it. */
  readonly call: string;
  /** The number that was dialled, in E.164. */
  readonly number: string;
  /** A keyed hash; absent where the caller hid the number. */
  readonly callerHash?: string;
  /** The last two digits of the caller's number. */
  readonly callerEnd: string;
  /** When it began. */
  readonly started: number;
  readonly answered: boolean;
  /** Seconds it was talked for. */
  readonly length: number;
  readonly place: string;
}

/** A telephone number with only its digits, as E.164 writes it: "+1 555 0100" → "+15550100". */
export const plainNumber = (text: string): string => `+${text.replaceAll(/\D/g, '')}`;
export const phoneNumber = Joi.string()
  .trim()
  .pattern(/^\+[\d ()./-]{6,30}$/, 'a number with its country code, like +1 555 0100')
  .custom(plainNumber)
  .pattern(/^\+\d{7,15}$/, '7 to 15 digits');

const reportSchema = Joi.object({
  key: Joi.string(),
  sig: Joi.string(),
  ts: Joi.string(),
  program: Joi.string(),
  call: Joi.string().trim().max(100).required().label('call'),
  number: phoneNumber.required().label('number'),
  caller: Joi.string().allow('').max(80).label('caller'),
  caller_end: Joi.string().max(2).allow(''),
  started: Joi.date().iso().required().label('started'),
  answered: Joi.string().valid('0', '1').required().label('answered'),
  length: Joi.number().integer().min(0).max(86_400).required().label('length'),
  place: Joi.string().trim().allow('').max(80).default('').label('place'),
}).messages({ 'date.format': 'started must be ISO 8601, like 2026-11-24T14:05:00+01:00.' });

/** Reads the fields of a call report. */
export function readCall(fields: Record<string, unknown>): Checked<CallReport> {
  const flat = Object.fromEntries(
    Object.entries(fields).map(([name, value]) => [
      name,
      typeof value === 'number' || typeof value === 'boolean' ? String(Number(value)) : value,
    ]),
  );
  const read = check<Record<string, unknown>>(reportSchema, flat);
  if (!read.ok) return read;
  const { call, number, caller, caller_end: end, started, answered, length, place } = read.value;
  const hash = typeof caller === 'string' && HASHED.test(caller) ? caller : undefined;
  return {
    ok: true,
    value: {
      ...{ call: String(call), number: String(number), callerEnd: String(end ?? ''), place: String(place) },
      ...(hash && { callerHash: hash }),
      ...{
        started: started instanceof Date ? started.getTime() : NaN,
        answered: answered === '1',
        length: Number(length),
      },
    },
  };
}

/** Takes the caller's number out of a report before it is kept: a hash knows the caller again, two digits show it. */
export function withoutCaller(
  fields: Readonly<Record<string, unknown>>,
  hash: (caller: string) => string,
): Record<string, unknown> {
  const { caller, ...rest } = fields;
  const digits = typeof caller === 'string' || typeof caller === 'number' ? String(caller).replaceAll(/\D/g, '') : '';
  if (typeof caller === 'string' && HASHED.test(caller)) return { ...fields };
  // Hidden numbers come as nothing, or as a word like "anonymous".
  if (digits.length < 5) return { ...rest, caller: '', caller_end: '' };
  return { ...rest, caller: `~${hash(digits)}`, caller_end: digits.slice(-2) };
}
