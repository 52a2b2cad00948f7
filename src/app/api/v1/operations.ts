import Joi from 'joi';
import { linkSchema } from '@/core/links/schema';
import type { Currency } from '@/core/money/currency';
import { offerSchema } from '@/core/offers/schema';
import { PARTNER_STATES, channelSchema, partnerSchema } from '@/core/partners/schema';
import { programSchema } from '@/core/programs/schema';
import { dayField, oneOf, reason } from '@/core/schema/fields';
import type { Actor } from '@/services/actor';
import {
  approveCommissions,
  listCommissions,
  readCommission,
  rejectCommission,
  reverseCommission,
  reverseSchema,
} from '@/services/commissions';
import { conversionHistory, listConversions, readConversion } from '@/services/conversions';
import { issueLink, listLinks, readLink, setLinkState } from '@/services/links';
import { createOffer, listOffers, readOffer, updateOffer } from '@/services/offers';
import {
  createChannel,
  createPartner,
  listChannels,
  listPartners,
  readChannel,
  readPartner,
  setPartnerState,
  updateChannel,
  updatePartner,
} from '@/services/partners';
import {
  abandonRun,
  approveRun,
  draftRun,
  exportRun,
  listItems,
  listRuns,
  readRun,
  returnPayment,
  settleRun,
} from '@/services/payouts';
import { readReceipt } from '@/services/postbacks';
import { readProgram, updateProgram } from '@/services/programs';
import { readScope } from '@/services/scope';
import type { Stores } from '@/services/stores';
import type { CommissionShelf } from '@/store/books/commissions';
import type { Shelf } from '@/store/books/conversions';

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
  readonly method: 'GET' | 'POST' | 'PUT';
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

const paging = {
  limit: Joi.number().integer().min(1).max(500).default(50),
  offset: Joi.number().integer().min(0).default(0),
};
const scope = {
  from: dayField('from'),
  to: dayField('to'),
  partner: Joi.number().integer().min(1),
  channel: Joi.number().integer().min(1),
  offer: Joi.number().integer().min(1),
};
const pagingOf = ({ query }: Call) => ({ limit: Number(query.limit), offset: Number(query.offset) });
const id = ({ ids }: Call): number => ids[0] ?? 0;
const inScope = ({ stores, actor, params }: Call) => readScope(stores, actor, params);
const withReason = () => Joi.object({ reason });
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
const CONVERSION_SHELVES = ['all', 'unmatched', 'pending', 'approved', 'rejected', 'reversed'];

/** Everything the API does, with the screens' own use cases, checks and rights. */
export const OPERATIONS: readonly Operation[] = [
  {
    method: 'GET',
    path: '/programs',
    tag: 'Programs',
    summary: 'The programs of the token',
    run: ({ stores, actor }) => ({ rows: [readProgram(stores, actor)], total: 1 }),
  },
  {
    method: 'GET',
    path: '/programs/{id}',
    tag: 'Programs',
    summary: 'One program',
    run: (call) => readProgram(call.stores, call.actor, id(call)),
  },
  {
    method: 'PUT',
    path: '/programs/{id}',
    tag: 'Programs',
    summary: 'Change the program',
    body: programSchema,
    run: (call) => (readProgram(call.stores, call.actor, id(call)), updateProgram(call.stores, call.actor, call.body)),
  },

  {
    method: 'GET',
    path: '/partners',
    tag: 'Partners',
    summary: 'Partners, by name',
    query: Joi.object({ ...paging, state: oneOf('state', ...PARTNER_STATES), text: Joi.string().allow('') }),
    run: (call) => listPartners(call.stores, call.actor, { ...pagingOf(call), ...call.query }),
  },
  {
    method: 'POST',
    path: '/partners',
    tag: 'Partners',
    summary: 'Take in a partner as an applicant',
    body: partnerSchema,
    created: true,
    run: ({ stores, actor, body }) => createPartner(stores, actor, body),
  },
  {
    method: 'GET',
    path: '/partners/{id}',
    tag: 'Partners',
    summary: 'One partner',
    run: (call) => readPartner(call.stores, call.actor, id(call)),
  },
  {
    method: 'PUT',
    path: '/partners/{id}',
    tag: 'Partners',
    summary: 'Change a partner; the code stays',
    body: partnerSchema,
    run: (call) => updatePartner(call.stores, call.actor, id(call), call.body),
  },
  {
    method: 'POST',
    path: '/partners/{id}/state',
    tag: 'Partners',
    summary: 'Approve, refuse, pause, resume or close',
    body: () => Joi.object({ state: oneOf('State', ...PARTNER_STATES).required(), reason: Joi.string().allow('') }),
    run: (call) => {
      const { state, reason: why } = call.body as { state: (typeof PARTNER_STATES)[number]; reason?: string };
      return setPartnerState(call.stores, call.actor, id(call), state, why);
    },
  },
  {
    method: 'GET',
    path: '/partners/{id}/channels',
    tag: 'Channels',
    summary: 'Channels of a partner',
    run: (call) => rowsOf(listChannels(call.stores, call.actor, id(call))),
  },
  {
    method: 'POST',
    path: '/partners/{id}/channels',
    tag: 'Channels',
    summary: 'Add a channel',
    body: () => channelSchema,
    created: true,
    run: (call) => createChannel(call.stores, call.actor, id(call), call.body),
  },
  {
    method: 'GET',
    path: '/channels',
    tag: 'Channels',
    summary: 'Channels of all partners',
    run: ({ stores, actor }) => rowsOf(listChannels(stores, actor)),
  },
  {
    method: 'GET',
    path: '/channels/{id}',
    tag: 'Channels',
    summary: 'One channel',
    run: (call) => readChannel(call.stores, call.actor, id(call)),
  },
  {
    method: 'PUT',
    path: '/channels/{id}',
    tag: 'Channels',
    summary: 'Change a channel; the code stays',
    body: () => channelSchema,
    run: (call) => updateChannel(call.stores, call.actor, id(call), call.body),
  },

  {
    method: 'GET',
    path: '/offers',
    tag: 'Offers',
    summary: 'Offers',
    run: ({ stores, actor }) => rowsOf(listOffers(stores, actor)),
  },
  {
    method: 'POST',
    path: '/offers',
    tag: 'Offers',
    summary: 'Add an offer',
    body: () => offerSchema,
    created: true,
    run: ({ stores, actor, body }) => createOffer(stores, actor, body),
  },
  {
    method: 'GET',
    path: '/offers/{id}',
    tag: 'Offers',
    summary: 'One offer',
    run: (call) => readOffer(call.stores, call.actor, id(call)),
  },
  {
    method: 'PUT',
    path: '/offers/{id}',
    tag: 'Offers',
    summary: 'Change an offer; the code stays',
    body: () => offerSchema,
    run: (call) => updateOffer(call.stores, call.actor, id(call), call.body),
  },

  {
    method: 'GET',
    path: '/links',
    tag: 'Links',
    summary: 'Links of a scope with what they brought',
    query: Joi.object({ ...paging, ...scope }),
    run: (call) => listLinks(call.stores, call.actor, inScope(call), pagingOf(call)),
  },
  {
    method: 'POST',
    path: '/links',
    tag: 'Links',
    summary: 'Issue a link',
    body: () => linkSchema,
    created: true,
    run: ({ stores, actor, body }) => issueLink(stores, actor, body),
  },
  {
    method: 'GET',
    path: '/links/{id}',
    tag: 'Links',
    summary: 'One link',
    run: (call) => readLink(call.stores, call.actor, id(call)),
  },
  {
    method: 'POST',
    path: '/links/{id}/pause',
    tag: 'Links',
    summary: 'Pause a link: visitors go to the fallback',
    run: (call) => setLinkState(call.stores, call.actor, id(call), 'paused'),
  },
  {
    method: 'POST',
    path: '/links/{id}/resume',
    tag: 'Links',
    summary: 'Resume a link',
    run: (call) => setLinkState(call.stores, call.actor, id(call), 'live'),
  },

  {
    method: 'GET',
    path: '/conversions',
    tag: 'Conversions',
    summary: 'Conversions of a scope',
    query: Joi.object({ ...paging, ...scope, shelf: oneOf('shelf', ...CONVERSION_SHELVES).default('all') }),
    run: (call) => listConversions(call.stores, call.actor, inScope(call), call.query.shelf as Shelf, pagingOf(call)),
  },
  {
    method: 'GET',
    path: '/conversions/{id}',
    tag: 'Conversions',
    summary: 'One conversion with its history',
    run: (call) => ({
      ...readConversion(call.stores, call.actor, id(call)),
      history: conversionHistory(call.stores, call.actor, id(call)),
    }),
  },
  {
    method: 'GET',
    path: '/receipts/{receipt}',
    tag: 'Conversions',
    summary: 'What became of a postback',
    run: ({ stores, actor, text }) => readReceipt(stores, actor, text),
  },

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
    run: ({ stores, actor, body }) => draftRun(stores, actor, body),
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
    run: (call) => settleRun(call.stores, call.actor, id(call)),
  },
  {
    method: 'POST',
    path: '/payout-runs/{id}/abandon',
    tag: 'Payouts',
    summary: 'Abandon before export',
    body: withReason,
    run: (call) => abandonRun(call.stores, call.actor, id(call), call.body),
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

const rowsOf = <T>(rows: T[]): { rows: T[]; total: number } => ({ rows, total: rows.length });
