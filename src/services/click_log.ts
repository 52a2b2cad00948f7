import Joi from 'joi';
import { costText } from '@/core/clicks/cost';
import type { Currency } from '@/core/money/currency';
import { money } from '@/core/money/money';
import { amountText } from '@/core/money/text';
import { CLICK_COLUMNS, type ClickColumn, COLUMN_WORDS } from '@/core/reports/columns';
import { check } from '@/core/schema/problems';
import { isoTime } from '@/core/time/days';
import type { Actor } from './actor';
import type { ClickListRow } from './clicks';
import { checked } from './programs';
import type { Stores } from './stores';

/** Columns of the click log, in the order in which they are offered. */
export const LOG_COLUMNS = [
  ...(['time', 'click_id'] as const),
  ...CLICK_COLUMNS.filter(
    (name): name is Exclude<ClickColumn, 'program' | 'day' | 'hour'> => !['program', 'day', 'hour'].includes(name),
  ),
  ...(['earned', 'address', 'client', 'visitor_id', 'agent'] as const),
] as const;
export type LogColumn = (typeof LOG_COLUMNS)[number];

const OWN_WORDS = {
  time: 'Time',
  click_id: 'Click ID',
  earned: 'Earned',
  address: 'Sent to',
  client: 'Address of the visitor',
  visitor_id: 'Visitor ID',
  agent: 'User agent',
} as const;
export const logColumnWord = (name: LogColumn): string =>
  name in OWN_WORDS ? OWN_WORDS[name as keyof typeof OWN_WORDS] : COLUMN_WORDS[name as ClickColumn];

export const USUAL_COLUMNS: readonly LogColumn[] = [
  ...([
    'time',
    'click_id',
    'partner',
    'channel',
    'offer',
    'link',
    'sub1',
    'sub2',
    'country',
    'device',
    'unique',
  ] as const),
];

const LIST = 'clicks';
const columnsSchema = Joi.object<{ columns: LogColumn[] }>({
  columns: Joi.array()
    .items(Joi.string().valid(...LOG_COLUMNS))
    .min(1)
    .unique()
    .required()
    .label('Columns'),
});

/** The columns a person chose, in order. */
export function logColumns({ books }: Stores, { userId }: Actor): readonly LogColumn[] {
  const kept = books.views.columns(userId, LIST)?.flatMap((name) => LOG_COLUMNS.find((each) => each === name) ?? []);
  return kept && kept.length > 0 ? kept : USUAL_COLUMNS;
}

/** Keeps a person's choice; none goes back to the usual. */
export function chooseLogColumns({ books }: Stores, { userId }: Actor, columns: unknown): void {
  const chosen = columns === undefined ? undefined : checked(check(columnsSchema, { columns })).columns;
  books.inTransaction(() => books.views.setColumns(userId, LIST, chosen));
}

/** What stands in a cell of a file. */
export function clickCell(row: ClickListRow, column: LogColumn, zone: string, currency: Currency): string {
  switch (column) {
    case 'time':
      return isoTime(row.time, zone);
    case 'click_id':
      return row.clickId;
    case 'partner':
      return row.partnerName;
    case 'channel':
      return row.channelName;
    case 'offer':
      return row.offerName;
    case 'link':
      return row.linkCode;
    case 'cost':
      return row.facts.cost === '' ? '' : costText(Number(row.facts.cost));
    case 'earned': {
      const earned = row.earned();
      return earned === undefined ? '' : amountText(money(earned, currency));
    }
    case 'address':
      return row.address;
    case 'client':
      return row.client ?? '';
    case 'visitor_id':
      return row.visitor;
    case 'agent':
      return row.agent ?? '';
    default:
      return row.facts[column];
  }
}
