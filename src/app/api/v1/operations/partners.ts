import Joi from 'joi';
import { PARTNER_STATES, channelSchema, partnerSchema } from '@/core/partners/schema';
import { oneOf } from '@/core/schema/fields';
import { approveApplicant } from '@/services/applications';
import { couponDatesSchema, couponSchema } from '@/core/attribution/coupon';
import { createCoupon, listCoupons, setCouponDates } from '@/services/coupons';
import { createChannel, findChannels, listChannels, readChannel, updateChannel } from '@/services/channels';
import {
  createPartner,
  listGroups,
  listPartners,
  readPartner,
  setPartnerState,
  updatePartner,
} from '@/services/partners';
import { type Operation, id, paging, pagingOf, rowsOf, text } from './operation';

/** Partners, their groups and their channels. */
export const PARTNER_OPERATIONS: readonly Operation[] = [
  {
    method: 'GET',
    path: '/partners',
    tag: 'Partners',
    summary: 'Partners, by name',
    query: Joi.object({
      ...paging,
      state: oneOf('state', ...PARTNER_STATES),
      group: Joi.number().integer().min(1),
      text,
    }),
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
      if (state === 'active') return approveApplicant(call.stores, call.actor, id(call));
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
    query: Joi.object({ ...paging, partner: Joi.number().integer().min(1), text }),
    run: (call) =>
      findChannels(
        call.stores,
        call.actor,
        {
          partnerId: call.query.partner === undefined ? null : Number(call.query.partner),
          text: String(call.query.text),
        },
        pagingOf(call),
      ),
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
    path: '/groups',
    tag: 'Partners',
    summary: 'Groups of partners',
    run: ({ stores, actor }) => rowsOf(listGroups(stores, actor)),
  },
  {
    method: 'GET',
    path: '/coupons',
    tag: 'Coupons',
    summary: 'Coupons, by code',
    query: Joi.object({ ...paging, partner: Joi.number().integer().min(1), text }),
    run: (call) => {
      const partnerId = typeof call.query.partner === 'number' ? call.query.partner : null;
      return listCoupons(call.stores, call.actor, { partnerId, text: String(call.query.text), ...pagingOf(call) });
    },
  },
  {
    method: 'POST',
    path: '/coupons',
    tag: 'Coupons',
    summary: 'Give a code to a partner’s channel; conversions that waited for it are matched',
    body: () => couponSchema,
    created: true,
    run: ({ stores, actor, body }) => createCoupon(stores, actor, body),
  },
  {
    method: 'PUT',
    path: '/coupons/{id}/days',
    tag: 'Coupons',
    summary: 'Change the days of a coupon',
    body: () => couponDatesSchema,
    run: (call) => setCouponDates(call.stores, call.actor, id(call), call.body),
  },
];
