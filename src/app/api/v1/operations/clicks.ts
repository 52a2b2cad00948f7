import Joi from 'joi';
import { isDimension, readFilters } from '@/core/reports/columns';
import { planSchema } from '@/core/routing/plan';
import { oneOf } from '@/core/schema/fields';
import {
  addressListSchema,
  listAddressLists,
  readAddressList,
  removeAddressList,
  saveAddressList,
} from '@/services/address_lists';
import { CLICK_SHELVES, type ClickShelf } from '@/services/click_blocks';
import { listClicks, readClick } from '@/services/clicks';
import { EXPLORE_SORTS, type ExploreSort, MOST_DIMENSIONS } from '@/services/explore';
import { askReport } from '@/services/reports';
import { planVersions, readPlan, restorePlan, savePlan } from '@/services/routing';
import { type Operation, id, inScope, paging, pagingOf, rowsOf, scope } from './operation';

const where = Joi.string()
  .max(4000)
  .description('Filters on columns: "sub1=ash+glaze&device≠phone&referrer~wheel", each value encoded once more.');
const dimensions = (text: unknown): string[] =>
  String(text ?? '')
    .split(',')
    .filter(isDimension)
    .slice(0, MOST_DIMENSIONS);

/** Clicks, what is set aside, and how offers deal out their visitors. */
export const CLICK_OPERATIONS: readonly Operation[] = [
  {
    method: 'GET',
    path: '/clicks',
    tag: 'Clicks',
    summary: 'The click log of a scope, newest first',
    query: Joi.object({ ...paging, ...scope, where, shelf: oneOf('shelf', ...CLICK_SHELVES).default('counted') }),
    run: async (call) => {
      const query = { shelf: call.query.shelf as ClickShelf, filters: readFilters(call.params.where) };
      const looked = inScope(call);
      const { rows } = listClicks(call.stores, call.actor, looked, query, pagingOf(call));
      const total = await askReport('count', call.actor, { scope: looked, query });
      return { total, rows: rows.map(({ earned, ...row }) => ({ ...row, earned: earned() ?? null })) };
    },
  },
  {
    method: 'GET',
    path: '/clicks/groups',
    tag: 'Clicks',
    summary: 'Clicks and what came of them, by any dimensions: "sub1,device,sub2.match"',
    query: Joi.object({
      ...{ ...paging, ...scope, where, by: Joi.string().max(300).default('sub1') },
      ...{ sort: oneOf('sort', ...EXPLORE_SORTS).default('clicks'), ascending: Joi.boolean().default(false) },
    }),
    run: async (call) => {
      const { groups, total, count } = await askReport('explore', call.actor, {
        ...{ scope: inScope(call), by: dimensions(call.query.by), filters: readFilters(call.params.where) },
        ...{ sort: call.query.sort as ExploreSort, ascending: call.query.ascending === true, ...pagingOf(call) },
      });
      return { rows: groups, total: count, sums: total };
    },
  },
  {
    method: 'GET',
    path: '/clicks/{click_id}',
    tag: 'Clicks',
    summary: 'One click as it came, with its values',
    run: (call) => readClick(call.stores, call.actor, call.text),
  },
  {
    method: 'GET',
    path: '/offers/{id}/routing',
    tag: 'Routing',
    summary: 'The plan in force',
    run: (call) => readPlan(call.stores, call.actor, id(call)),
  },
  {
    method: 'PUT',
    path: '/offers/{id}/routing',
    tag: 'Routing',
    summary: 'Put a new version of the plan in force',
    body: () => planSchema,
    run: (call) => savePlan(call.stores, call.actor, id(call), { plan: call.body, reason: 'by the API' }),
  },
  {
    method: 'GET',
    path: '/offers/{id}/routing/versions',
    tag: 'Routing',
    summary: 'Versions of the plan, newest first',
    run: (call) => rowsOf(planVersions(call.stores, call.actor, id(call))),
  },
  {
    method: 'POST',
    path: '/offers/{id}/routing/versions/{version}/restore',
    tag: 'Routing',
    summary: 'An earlier version in force again, as a new one',
    run: (call) => restorePlan(call.stores, call.actor, id(call), call.ids[1] ?? 0),
  },
  {
    method: 'POST',
    path: '/offers/{id}/routing/replay',
    tag: 'Routing',
    summary: 'What a plan would have done with yesterday’s clicks',
    body: () => planSchema,
    run: (call) => askReport('replay', call.actor, { offerId: id(call), plan: call.body }),
  },
  {
    method: 'GET',
    path: '/offers/{id}/routing/splits',
    tag: 'Routing',
    summary: 'Split tests with what the numbers say',
    run: async (call) => {
      const tests = await askReport('splits', call.actor, id(call));
      return rowsOf(tests.map(({ commission, clicks, ...test }) => ({ ...test, ...plainly({ commission, clicks }) })));
    },
  },
  {
    method: 'GET',
    path: '/address-lists',
    tag: 'Clicks',
    summary: 'Lists of addresses to set aside or to mark',
    run: ({ stores, actor }) => rowsOf(listAddressLists(stores, actor)),
  },
  {
    method: 'POST',
    path: '/address-lists',
    tag: 'Clicks',
    summary: 'Add a list: one address or CIDR range a line',
    body: () => addressListSchema,
    created: true,
    run: ({ stores, actor, body }) => saveAddressList(stores, actor, undefined, body),
  },
  {
    method: 'GET',
    path: '/address-lists/{id}',
    tag: 'Clicks',
    summary: 'One list',
    run: (call) => readAddressList(call.stores, call.actor, id(call)),
  },
  {
    method: 'PUT',
    path: '/address-lists/{id}',
    tag: 'Clicks',
    summary: 'Change a list; without a text its ranges stay',
    body: () => addressListSchema,
    run: (call) => saveAddressList(call.stores, call.actor, id(call), call.body),
  },
  {
    method: 'DELETE',
    path: '/address-lists/{id}',
    tag: 'Clicks',
    summary: 'Take a list away; what it set aside stays so',
    run: (call) => (removeAddressList(call.stores, call.actor, id(call)), { removed: id(call) }),
  },
  {
    method: 'GET',
    path: '/address-lists/{id}/effect',
    tag: 'Clicks',
    summary: 'What the list would have done in the last 30 days',
    run: (call) => askReport('effect', call.actor, { listId: id(call) }),
  },
];

const plainly = (maps: Record<string, ReadonlyMap<string, number>>) =>
  Object.fromEntries(Object.entries(maps).map(([name, map]) => [name, Object.fromEntries(map)]));
