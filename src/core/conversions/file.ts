import Joi from 'joi';
import Papa from 'papaparse';
import { oneOf, refusedWhen } from '../schema/fields';
import type { Problem } from '../schema/problems';
import { isDay } from '../time/calendar';

/**
 * What a column of a merchant's file can say. `partner` and `channel`, by their codes, say whose a line is that names
 * neither click nor coupon; `commission` is only compared.
 */
export const FILE_FIELDS = [
  ...['click_id', 'code', 'event', 'order', 'status', 'amount', 'tax', 'shipping', 'discount', 'currency'],
  ...['time', 'completed', 'customer', 'customer_id', 'renewal', 'call_length', 'fee'],
  ...['partner', 'channel', 'offer', 'commission'],
] as const;
export const DELIMITERS = { ',': 'comma', ';': 'semicolon', '\t': 'tab', '|': 'bar' } as const;
export const DATE_FORMS = {
  iso: 'year-month-day, 2026-11-24',
  dmy: 'day-month-year, 24-11-2026',
  mdy: 'month-day-year, 11/24/2026',
} as const;
export type DateForm = keyof typeof DATE_FORMS;

/** How a source's files are read; remembered by the source's name. */
export interface FileReading {
  readonly delimiter: keyof typeof DELIMITERS;
  readonly decimal: '.' | ',';
  readonly dates: DateForm;
  /** Field by column, in the file's order; empty for a column that is not read. */
  readonly columns: readonly string[];
  /** The event of lines that name none. */
  readonly event: string;
}

export const fileReadingSchema: Joi.ObjectSchema<FileReading> = Joi.object<FileReading>({
  delimiter: oneOf('Delimiter', ...(Object.keys(DELIMITERS) as (keyof typeof DELIMITERS)[])).required(),
  decimal: oneOf('Decimal sign', '.', ',').required(),
  dates: oneOf('Dates', ...(Object.keys(DATE_FORMS) as DateForm[])).required(),
  columns: Joi.array()
    .items(
      Joi.string()
        .allow('')
        .custom(
          refusedWhen<string>((name) =>
            FILE_FIELDS.some((field) => field === name) || /^x_[a-z0-9_]{1,40}$/.test(name)
              ? undefined
              : `"${name}" is none of the fields: ${FILE_FIELDS.join(', ')}, or one of your own that begins with x_.`,
          ),
        ),
    )
    .min(1)
    .max(200)
    .required()
    .label('Columns'),
  event: Joi.string().trim().lowercase().max(30).allow('').required().label('Event'),
});

const bare = (name: string): string => name.toLowerCase().replace(/[^a-z0-9]/g, '');
/** Words under which files carry our fields. */
const ALSO: Readonly<Record<string, string>> = {
  ...{ clickid: 'click_id', bclid: 'click_id', click: 'click_id', coupon: 'code', couponcode: 'code', voucher: 'code' },
  ...{
    eventtype: 'event',
    type: 'event',
    orderid: 'order',
    ordernumber: 'order',
    orderno: 'order',
    reference: 'order',
  },
  ...{ state: 'status', total: 'amount', ordervalue: 'amount', value: 'amount', price: 'amount', vat: 'tax' },
  ...{ date: 'time', datetime: 'time', timestamp: 'time', ordered: 'time', orderdate: 'time' },
  ...{ partnercode: 'partner', publisher: 'partner', channelcode: 'channel', offercode: 'offer', payout: 'commission' },
  ...{ delivered: 'completed', deliverydate: 'completed', customerid: 'customer_id', currencycode: 'currency' },
};
const fieldOf = (head: string): string =>
  FILE_FIELDS.find((field) => bare(field) === bare(head)) ??
  ALSO[bare(head)] ??
  (/^x_[a-z0-9_]{1,40}$/.test(head) ? head : '');

const SAMPLE_LINES = 200;

/** The lines of a file, by the delimiter that fits or the one that is given. Blank ones are left out. */
export function fileRows(text: string, delimiter: string, most?: number): string[][] {
  const content = text.replace(/^\uFEFF/, '');
  return Papa.parse<string[]>(content, { delimiter, skipEmptyLines: 'greedy', ...(most && { preview: most }) }).data;
}

/** How a file seems to be written: shown, and changed by hand where it is wrong. */
export function detectReading(text: string, event = ''): { reading: FileReading; head: string[]; sample: string[][] } {
  const counted = (Object.keys(DELIMITERS) as (keyof typeof DELIMITERS)[]).map((delimiter) => {
    const widths = fileRows(text, delimiter, SAMPLE_LINES).map((cells) => cells.length);
    const same = widths.filter((width) => width === widths[0]).length;
    return { delimiter, score: (widths[0] ?? 0) < 2 ? 0 : same * 100 + (widths[0] ?? 0) };
  });
  const { delimiter } = counted.reduce((best, each) => (each.score > best.score ? each : best));
  const [head = [], ...sample] = fileRows(text, delimiter, SAMPLE_LINES + 1);
  const columns = head.map((name) => fieldOf(name.trim()));
  const once = columns.map((name, i) => (columns.indexOf(name) === i ? name : ''));
  const cells = (field: string): string[] => {
    const at = once.indexOf(field);
    return at < 0 ? [] : sample.map((row) => row[at]?.trim() ?? '').filter((cell) => cell !== '');
  };
  const amounts = ['amount', 'tax', 'shipping', 'discount'].flatMap(cells);
  const commas = amounts.filter((cell) => /,\d{1,2}\D*$/.test(cell)).length;
  const points = amounts.filter((cell) => /\.\d{1,2}\D*$/.test(cell)).length;
  const dates = [...cells('time'), ...cells('completed')];
  return {
    reading: { delimiter, decimal: commas > points ? ',' : '.', dates: dateForm(dates), columns: once, event },
    head,
    sample: sample.slice(0, 3),
  };
}

const NUMBERS = /^(\d{1,2})[-./](\d{1,2})[-./](\d{4})/;

function dateForm(cells: readonly string[]): DateForm {
  const numbers = cells.flatMap((cell) => {
    const found = NUMBERS.exec(cell);
    return found ? [[Number(found[1]), Number(found[2])] as const] : [];
  });
  if (numbers.length === 0) return 'iso';
  return numbers.some(([, second]) => second > 12) ? 'mdy' : 'dmy';
}

const two = (text: string): string => text.padStart(2, '0');

/**
 * A date, and the time after it, as ISO 8601.
 * @returns undefined when it is not written like that
 */
export function isoFrom(text: string, form: DateForm): string | undefined {
  const found = form === 'iso' ? /^(\d{4})-(\d{2})-(\d{2})/.exec(text) : NUMBERS.exec(text);
  if (!found) return undefined;
  const [all, a = '', b = '', c = ''] = found;
  const day = form === 'iso' ? all : form === 'dmy' ? `${c}-${two(b)}-${two(a)}` : `${c}-${two(a)}-${two(b)}`;
  if (!isDay(day)) return undefined;
  const rest = text.slice(all.length).trim().replace(/^T/, '');
  if (rest === '') return day;
  const time = /^(\d{1,2}:\d{2}(?::\d{2}(?:\.\d+)?)?)\s*(Z|[+-]\d{2}:?\d{2})?$/i.exec(rest);
  return time ? `${day}T${(time[1] ?? '').padStart(5, '0')}${time[2] ?? ''}` : undefined;
}

/** An amount as postbacks write it: signs of currencies, spaces and separators of thousands are left out. */
export function plainAmount(text: string, decimal: '.' | ','): string {
  const bareText = text.replace(/[\p{Sc}\s']|[A-Z]{3}/gu, '');
  return decimal === ',' ? bareText.replaceAll('.', '').replace(',', '.') : bareText.replaceAll(',', '');
}

const AMOUNTS = new Set(['amount', 'tax', 'shipping', 'discount', 'fee', 'commission']);

/** Words of other systems for the states a merchant may report. */
const STATES: Readonly<Record<string, string>> = {
  ...{ open: 'pending', new: 'pending', confirmed: 'approved', validated: 'approved', accepted: 'approved' },
  ...{ declined: 'rejected', cancelled: 'rejected', canceled: 'rejected', denied: 'rejected' },
  ...{ refunded: 'reversed', returned: 'reversed', chargeback: 'reversed' },
};

/**
 * One line as the fields of a postback, and what cannot be read in it.
 * @param zoned gives the instant of a time that names no zone, as ISO 8601 with one
 */
export function lineFields(
  cells: readonly string[],
  { columns, decimal, dates, event }: FileReading,
  zoned: (local: string) => string,
): { fields: Record<string, string>; problems: Problem[] } {
  const fields: Record<string, string> = {};
  const problems: Problem[] = [];
  columns.forEach((field, i) => {
    // Our exports put "'" before what a spreadsheet would take for a formula.
    const cell = (cells[i] ?? '').trim().replace(/^'(?=[=+\-@])/, '');
    if (field === '' || cell === '') return;
    if (field === 'status') fields[field] = STATES[cell.toLowerCase()] ?? cell;
    else if (AMOUNTS.has(field)) fields[field] = plainAmount(cell, decimal);
    else if (field === 'time' || field === 'completed') {
      const iso = isoFrom(cell, dates);
      if (iso === undefined)
        problems.push({ field, reason: `"${cell.slice(0, 40)}" is not a date like ${DATE_FORMS[dates]}.` });
      else if (field === 'completed') fields[field] = iso.slice(0, 10);
      else fields[field] = /(Z|[+-]\d{2}:?\d{2})$/i.test(iso) && iso.includes('T') ? iso : zoned(iso);
    } else fields[field] = cell;
  });
  if (fields.event === undefined && event !== '') fields.event = event;
  return { fields, problems };
}
