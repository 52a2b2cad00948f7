import Joi from 'joi';
import type { Currency } from '@/core/money/currency';
import { dayField, reason } from '@/core/schema/fields';
import type { Actor } from '@/services/actor';
import { readScope } from '@/services/scope';
import type { Stores } from '@/services/stores';

/** A call as it arrives: path parameters are whole numbers or texts, the query is checked, the body is the use case's to check. */
export interface Call {
  readonly stores: Stores;
  readonly actor: Actor;
  readonly ids: readonly number[];
  readonly text: string;
  readonly query: Readonly<Record<string, unknown>>;
  readonly params: Readonly<Record<string, string>>;
  readonly body: unknown;
}
export interface Operation {
  readonly method: 'GET' | 'POST' | 'PUT' | 'DELETE';
  /** "/partners/{id}": each {…} takes one segment. */
  readonly path: string;
  readonly summary: string;
  /** Which screen's words group it. */
  readonly tag: string;
  readonly query?: Joi.ObjectSchema;
  readonly body?: (currency: Currency) => Joi.Schema;
  readonly created?: true;
  run(call: Call): unknown;
}

export const paging = {
  limit: Joi.number().integer().min(1).max(500).default(50),
  offset: Joi.number().integer().min(0).default(0),
};
export const scope = {
  from: dayField('from'),
  to: dayField('to'),
  partner: Joi.number().integer().min(1),
  channel: Joi.number().integer().min(1),
  offer: Joi.number().integer().min(1),
};
export const text = Joi.string().allow('').max(200).default('');
export const pagingOf = ({ query }: Call) => ({ limit: Number(query.limit), offset: Number(query.offset) });
export const id = ({ ids }: Call): number => ids[0] ?? 0;
export const inScope = ({ stores, actor, params }: Call) => readScope(stores, actor, params);
export const withReason = () => Joi.object({ reason });
export const rowsOf = <T>(rows: T[]): { rows: T[]; total: number } => ({ rows, total: rows.length });
