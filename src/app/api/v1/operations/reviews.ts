import Joi from 'joi';
import { FINDINGS, type Finding } from '@/core/conversions/reconcile';
import { suspicionSchema } from '@/core/conversions/suspicion';
import { oneOf } from '@/core/schema/fields';
import { decideLines, lineDecisionSchema } from '@/services/reconcile_decisions';
import {
  newestReconciliations,
  readReconciliation,
  reconcileFile,
  reconciliationLines,
  reportOrder,
} from '@/services/reconciling';
import {
  decideReviews,
  listReviews,
  readSuspicion,
  reopenReviews,
  reviewSchema,
  saveSuspicion,
} from '@/services/reviews';
import { REVIEW_STATES, type ReviewRow } from '@/store/books/reviews';
import { type Operation, id, inScope, paging, pagingOf, rowsOf, scope } from './operation';

const NEWEST = 100;
const KINDS = Object.keys(FINDINGS) as Finding[];

/** What looks odd and waits for a person, and reports against what is recorded. */
export const REVIEW_OPERATIONS: readonly Operation[] = [
  {
    method: 'GET',
    path: '/reviews',
    tag: 'Conversions',
    summary: 'Conversions that look odd, the oddest first, with what was seen',
    query: Joi.object({ ...paging, ...scope, state: oneOf('state', ...REVIEW_STATES).default('open') }),
    run: (call) =>
      listReviews(call.stores, call.actor, inScope(call), call.query.state as ReviewRow['state'], pagingOf(call)),
  },
  {
    method: 'POST',
    path: '/reviews/decide',
    tag: 'Conversions',
    summary: 'Clear or reject some of them, all or none',
    body: () => reviewSchema,
    run: ({ stores, actor, body }) => ({ decided: decideReviews(stores, actor, body) }),
  },
  {
    method: 'POST',
    path: '/reviews/{id}/reopen',
    tag: 'Conversions',
    summary: 'Put one that was cleared back into review',
    run: (call) => ({ open: reopenReviews(call.stores, call.actor, [id(call)]) }),
  },
  {
    method: 'GET',
    path: '/suspicion',
    tag: 'Setup',
    summary: 'What makes a conversion look odd, and from when a person is asked',
    run: ({ stores, actor }) => readSuspicion(stores, actor),
  },
  {
    method: 'PUT',
    path: '/suspicion',
    tag: 'Setup',
    summary: 'Change it; what is undecided of the last 90 days is looked at again',
    body: () => suspicionSchema,
    run: ({ stores, actor, body }) => saveSuspicion(stores, actor, body),
  },
  {
    method: 'GET',
    path: '/reconciliations',
    tag: 'Conversions',
    summary: 'Reports that were compared lately, with what was found',
    run: ({ stores, actor }) => rowsOf(newestReconciliations(stores, actor, NEWEST)),
  },
  {
    method: 'POST',
    path: '/reconciliations',
    tag: 'Conversions',
    summary: 'Compare a report with what is recorded; nothing changes until it is decided on',
    body: () => reportOrder,
    created: true,
    run: ({ stores, actor, body }) => reconcileFile(stores, actor, body),
  },
  {
    method: 'GET',
    path: '/reconciliations/{id}',
    tag: 'Conversions',
    summary: 'One comparison with its counts',
    run: (call) => readReconciliation(call.stores, call.actor, id(call)),
  },
  {
    method: 'GET',
    path: '/reconciliations/{id}/lines',
    tag: 'Conversions',
    summary: 'Its lines, what is undecided first',
    query: Joi.object({ ...paging, finding: oneOf('finding', ...KINDS) }),
    run: (call) =>
      reconciliationLines(
        ...([call.stores, call.actor, id(call), KINDS.find((each) => each === call.params.finding) ?? null] as const),
        pagingOf(call),
      ),
  },
  {
    method: 'POST',
    path: '/reconciliations/{id}/decide',
    tag: 'Conversions',
    summary: 'Decide on some of its lines, or on all of a finding that are undecided',
    body: () => lineDecisionSchema,
    run: (call) => decideLines(call.stores, call.actor, id(call), call.body),
  },
];
