import Joi from 'joi';
import { dayField, oneOf } from '@/core/schema/fields';
import {
  approveCommissions,
  listCommissions,
  readCommission,
  rejectCommission,
  reverseCommission,
  reverseSchema,
} from '@/services/commissions';
import { approveRun, exportRun, listItems, listRuns, readRun, returnPayment } from '@/services/payouts';
import { runStep } from '@/services/run_steps';
import type { CommissionShelf } from '@/store/books/commissions';
import { type Operation, id, inScope, paging, pagingOf, rowsOf, scope, withReason } from './operation';

const COMMISSION_SHELVES = [
  'all',
  'due',
  'waiting',
  'needs_rate',
  'pending',
  'approved',
  'in_payout',
  'paid',
  'rejected',
  'reversed',
];

/** Commissions and payout runs. */
export const MONEY_OPERATIONS: readonly Operation[] = [
  {
    method: 'GET',
    path: '/commissions',
    tag: 'Commissions',
    summary: 'Commissions of a scope',
    query: Joi.object({ ...paging, ...scope, shelf: oneOf('shelf', ...COMMISSION_SHELVES).default('all') }),
    run: (call) =>
      listCommissions(call.stores, call.actor, inScope(call), call.query.shelf as CommissionShelf, pagingOf(call)),
  },
  {
    method: 'POST',
    path: '/commissions/approve',
    tag: 'Commissions',
    summary: 'Approve commissions that are due, all or none',
    body: () => Joi.object({ ids: Joi.array().items(Joi.number().integer().min(1)).min(1).max(10_000).required() }),
    run: ({ stores, actor, body }) => ({
      approved: approveCommissions(stores, actor, (body as { ids: number[] }).ids),
    }),
  },
  {
    method: 'GET',
    path: '/commissions/{id}',
    tag: 'Commissions',
    summary: 'One commission with the explanation of its amount',
    run: (call) => ({
      ...readCommission(call.stores, call.actor, id(call)),
      rating: call.stores.books.commissions.latestRating(id(call)),
    }),
  },
  {
    method: 'POST',
    path: '/commissions/{id}/reject',
    tag: 'Commissions',
    summary: 'Reject with a reason',
    body: withReason,
    run: (call) => rejectCommission(call.stores, call.actor, id(call), call.body),
  },
  {
    method: 'POST',
    path: '/commissions/{id}/reverse',
    tag: 'Commissions',
    summary: 'Take back, wholly or by an amount, with a reason',
    body: () => reverseSchema,
    run: (call) => reverseCommission(call.stores, call.actor, id(call), call.body),
  },
  {
    method: 'GET',
    path: '/payout-runs',
    tag: 'Payouts',
    summary: 'Payout runs',
    run: ({ stores, actor }) => rowsOf(listRuns(stores, actor)),
  },
  {
    method: 'POST',
    path: '/payout-runs',
    tag: 'Payouts',
    summary: 'Draft a run',
    body: () => Joi.object({ cutOff: dayField('Cut-off').required() }),
    created: true,
    run: ({ stores, actor, body }) => runStep(stores, actor, 'draft_run', body as object),
  },
  {
    method: 'GET',
    path: '/payout-runs/{id}',
    tag: 'Payouts',
    summary: 'One run with who is in, who is out and why',
    run: (call) => ({
      ...readRun(call.stores, call.actor, id(call)),
      items: listItems(call.stores, call.actor, id(call)),
    }),
  },
  {
    method: 'POST',
    path: '/payout-runs/{id}/approve',
    tag: 'Payouts',
    summary: 'Approve, by a second person',
    run: (call) => approveRun(call.stores, call.actor, id(call)),
  },
  {
    method: 'POST',
    path: '/payout-runs/{id}/export',
    tag: 'Payouts',
    summary: 'Mark as handed to the bank',
    run: (call) => exportRun(call.stores, call.actor, id(call)),
  },
  {
    method: 'POST',
    path: '/payout-runs/{id}/settle',
    tag: 'Payouts',
    summary: 'Mark as paid',
    run: (call) => runStep(call.stores, call.actor, 'settle_run', { run: id(call) }),
  },
  {
    method: 'POST',
    path: '/payout-runs/{id}/abandon',
    tag: 'Payouts',
    summary: 'Abandon before export',
    body: withReason,
    run: (call) => runStep(call.stores, call.actor, 'abandon_run', { ...(call.body as object), run: id(call) }),
  },
  {
    method: 'POST',
    path: '/payout-runs/{id}/partners/{partner}/return',
    tag: 'Payouts',
    summary: 'Note a payment that came back',
    body: withReason,
    run: (call) => returnPayment(call.stores, call.actor, id(call), call.ids[1] ?? 0, call.body),
  },
];
