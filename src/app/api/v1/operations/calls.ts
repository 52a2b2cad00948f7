import Joi from 'joi';
import { oneOf } from '@/core/schema/fields';
import {
  CALL_SHELVES,
  addNumbers,
  callCounts,
  listCalls,
  listNumbers,
  numbersSchema,
  readCallById,
  removeNumber,
} from '@/services/calls';
import { type Operation, id, inScope, paging, pagingOf, rowsOf, scope } from './operation';

/** Calls that the exchange reported, and the numbers they are counted by. */
export const CALL_OPERATIONS: readonly Operation[] = [
  {
    method: 'GET',
    path: '/calls',
    tag: 'Conversions',
    summary: 'Calls of a scope with what became of each, newest first',
    query: Joi.object({ ...paging, ...scope, outcome: oneOf('outcome', ...CALL_SHELVES) }),
    run: (call) => listCalls(call.stores, call.actor, inScope(call), call.params.outcome ?? null, pagingOf(call)),
  },
  {
    method: 'GET',
    path: '/calls/outcomes',
    tag: 'Conversions',
    summary: 'How many calls of a scope became what',
    query: Joi.object(scope),
    run: (call) => rowsOf(callCounts(call.stores, call.actor, inScope(call))),
  },
  {
    method: 'GET',
    path: '/calls/{id}',
    tag: 'Conversions',
    summary: 'One call',
    run: (call) => readCallById(call.stores, call.actor, id(call)),
  },
  {
    method: 'GET',
    path: '/call-numbers',
    tag: 'Setup',
    summary: 'Telephone numbers that calls are counted by',
    run: ({ stores, actor }) => rowsOf(listNumbers(stores, actor)),
  },
  {
    method: 'POST',
    path: '/call-numbers',
    tag: 'Setup',
    summary: 'Add numbers, for a channel or for one visit at a time; all or none',
    body: () => numbersSchema,
    created: true,
    run: ({ stores, actor, body }) => ({ added: addNumbers(stores, actor, body) }),
  },
  {
    method: 'DELETE',
    path: '/call-numbers/{id}',
    tag: 'Setup',
    summary: 'Take a number out of the pool',
    run: (call) => {
      removeNumber(call.stores, call.actor, id(call));
      return { removed: id(call) };
    },
  },
];
