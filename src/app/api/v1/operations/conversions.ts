import Joi from 'joi';
import { readFilters } from '@/core/reports/columns';
import { oneOf } from '@/core/schema/fields';
import { decideMany, decisionsSchema, validationCalendar } from '@/services/commissions';
import { conversionHistory, listConversions, readConversion } from '@/services/conversions';
import { newestReceipts, readReceipt, waitingReports } from '@/services/receipts';
import { byHandSchema, newestImports, recordByHand, undoImport } from '@/services/recording';
import {
  REPAIR_SCHEMAS,
  dismissUnmatched,
  giveToClick,
  giveToPartner,
  newestRepairs,
  undoRepair,
  unmatchedGroups,
} from '@/services/unmatched';
import { isConversionFilter } from '@/store/books/conversion_filters';
import { type Shelf } from '@/store/books/conversions';
import { type Operation, id, inScope, paging, pagingOf, rowsOf, scope } from './operation';

const CONVERSION_SHELVES = ['all', 'unmatched', 'pending', 'approved', 'rejected', 'reversed'];
const NEWEST = 100;
const where = Joi.string()
  .max(4000)
  .description('Filters: "event=order&state≠rejected&x_place~Breda", each side encoded once more.');

/** Conversions, what was reported, and what waits for a partner. */
export const CONVERSION_OPERATIONS: readonly Operation[] = [
  {
    method: 'GET',
    path: '/conversions',
    tag: 'Conversions',
    summary: 'Conversions of a scope',
    query: Joi.object({ ...paging, ...scope, where, shelf: oneOf('shelf', ...CONVERSION_SHELVES).default('all') }),
    run: (call) =>
      listConversions(
        ...([call.stores, call.actor, inScope(call), call.query.shelf as Shelf, pagingOf(call)] as const),
        readFilters(call.params.where, isConversionFilter),
      ),
  },
  {
    method: 'POST',
    path: '/conversions',
    tag: 'Conversions',
    summary: 'Record one by hand, in the fields of a postback',
    body: () => byHandSchema,
    created: true,
    run: ({ stores, actor, body }) => recordByHand(stores, actor, body),
  },
  {
    method: 'POST',
    path: '/conversions/decide',
    tag: 'Conversions',
    summary: 'Approve, reject or reverse what many earned, all or none',
    body: () => decisionsSchema,
    run: ({ stores, actor, body }) => decideMany(stores, actor, body),
  },
  {
    method: 'GET',
    path: '/conversions/calendar',
    tag: 'Conversions',
    summary: 'What becomes payable month by month, and what was decided of it',
    query: Joi.object(scope),
    run: (call) => rowsOf(validationCalendar(call.stores, call.actor, inScope(call))),
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
    path: '/unmatched',
    tag: 'Conversions',
    summary: 'What found no partner, by likely cause',
    query: Joi.object(scope),
    run: (call) =>
      rowsOf(
        unmatchedGroups(call.stores, call.actor, inScope(call)).map(({ amounts, ...group }) => ({
          ...group,
          amounts: Object.fromEntries(amounts),
        })),
      ),
  },
  {
    method: 'POST',
    path: '/unmatched/to-partner',
    tag: 'Conversions',
    summary: 'Give some of them to a partner’s channel',
    body: () => REPAIR_SCHEMAS.toPartner,
    run: ({ stores, actor, body }) => giveToPartner(stores, actor, body),
  },
  {
    method: 'POST',
    path: '/unmatched/to-click',
    tag: 'Conversions',
    summary: 'Give some of them to a click',
    body: () => REPAIR_SCHEMAS.toClick,
    run: ({ stores, actor, body }) => giveToClick(stores, actor, body),
  },
  {
    method: 'POST',
    path: '/unmatched/dismiss',
    tag: 'Conversions',
    summary: 'Say that some of them are nobody’s',
    body: () => REPAIR_SCHEMAS.dismissed,
    run: ({ stores, actor, body }) => dismissUnmatched(stores, actor, body),
  },
  {
    method: 'GET',
    path: '/repairs',
    tag: 'Conversions',
    summary: 'What was repaired lately',
    run: ({ stores, actor }) => rowsOf(newestRepairs(stores, actor, NEWEST)),
  },
  {
    method: 'DELETE',
    path: '/repairs/{id}',
    tag: 'Conversions',
    summary: 'Take a repair back',
    run: (call) => ({ waiting: undoRepair(call.stores, call.actor, id(call)) }),
  },
  {
    method: 'GET',
    path: '/imports',
    tag: 'Conversions',
    summary: 'Files that were imported lately',
    run: ({ stores, actor }) => rowsOf(newestImports(stores, actor, NEWEST)),
  },
  {
    method: 'DELETE',
    path: '/imports/{id}',
    tag: 'Conversions',
    summary: 'Take an import back',
    run: (call) => ({ conversions: undoImport(call.stores, call.actor, id(call)) }),
  },
  {
    method: 'GET',
    path: '/receipts',
    tag: 'Conversions',
    summary: 'The last hundred reports received, with what became of each',
    run: ({ stores, actor }) => rowsOf(newestReceipts(stores, actor)),
  },
  {
    method: 'GET',
    path: '/receipts/waiting',
    tag: 'Conversions',
    summary: 'Statuses that came before their conversion',
    run: ({ stores, actor }) => rowsOf(waitingReports(stores, actor)),
  },
  {
    method: 'GET',
    path: '/receipts/{receipt}',
    tag: 'Conversions',
    summary: 'What became of a postback',
    run: ({ stores, actor, text }) => readReceipt(stores, actor, text),
  },
];
