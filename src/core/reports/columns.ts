import type { Predicate } from './block';
import { CARRIED_WORDS, ONE_OFF_SLOTS, SUB_SLOTS } from '../placeholders/names';

/** Everything reports and the log know of a click, as text; empty where there is nothing. IDs are those of the books. */
export const CLICK_COLUMNS = [
  ...(['program', 'day', 'hour', 'partner', 'channel', 'offer', 'link'] as const),
  ...SUB_SLOTS,
  ...ONE_OFF_SLOTS,
  ...(['country', 'device', 'os', 'browser', 'language', 'referrer'] as const),
  ...(['via', 'rule', 'page', 'unique', 'set_aside', 'flags', 'cost'] as const),
] as const;
export type ClickColumn = (typeof CLICK_COLUMNS)[number];
export type ClickFacts = Readonly<Record<ClickColumn, string>>;

const COLUMNS: ReadonlySet<string> = new Set(CLICK_COLUMNS);
export const isClickColumn = (name: string): name is ClickColumn => COLUMNS.has(name);

export const COLUMN_WORDS: Readonly<Record<ClickColumn, string>> = {
  ...CARRIED_WORDS,
  program: 'Program',
  day: 'Day',
  hour: 'Hour',
  partner: 'Partner',
  channel: 'Channel',
  offer: 'Offer',
  link: 'Link',
  country: 'Country',
  device: 'Device',
  os: 'System',
  browser: 'Browser',
  language: 'Language',
  referrer: 'Referrer',
  via: 'Way',
  rule: 'Rule',
  page: 'Destination',
  unique: 'Visitor',
  set_aside: 'Set aside',
  flags: 'Flags',
};

/** What clicks are grouped by. Values carried along are unique by nature and never are. */
export const DIMENSIONS = [
  ...(['partner', 'channel', 'offer', 'link'] as const),
  ...SUB_SLOTS,
  ...(['country', 'device', 'os', 'browser', 'language', 'referrer'] as const),
  ...(['day', 'hour', 'via', 'rule', 'page'] as const),
] as const satisfies readonly ClickColumn[];
/** A column, or a part of a composite sub-ID: "sub2.match". */
export type Dimension = string;

export const PART = /^(sub[1-5])\.([\p{L}\p{N}_ -]{1,40})$/u;
const GROUPED: ReadonlySet<string> = new Set(DIMENSIONS);
export const isDimension = (name: string): boolean => GROUPED.has(name) || PART.test(name);
/** What a filter may ask for. */
export const isFilterField = (name: string): boolean => isClickColumn(name) || PART.test(name);

/** "Sub-ID 2: match" for a part, the column's word otherwise. */
export function dimensionWord(name: Dimension): string {
  const [, slot = '', part = ''] = PART.exec(name) ?? [];
  if (isClickColumn(slot)) return `${COLUMN_WORDS[slot]}: ${part}`;
  return isClickColumn(name) ? COLUMN_WORDS[name] : name;
}

export const FILTER_HOWS = ['is', 'not', 'has'] as const;
/** One condition on clicks in sight; all of several hold. */
export interface Filter {
  readonly field: Dimension;
  readonly how: (typeof FILTER_HOWS)[number];
  readonly text: string;
}

/** "has" looks for a part of the text, whatever its capitals. */
export function predicateOf({ field, how, text }: Filter): Predicate {
  const part = text.toLowerCase();
  if (how === 'is') return { field, exactly: text, test: (value) => value === text };
  if (how === 'not') return { field, test: (value) => value !== text };
  return { field, test: (value) => value.toLowerCase().includes(part) };
}

const HOW_SIGNS = { is: '=', not: '≠', has: '~' } as const;
/** Filters as one parameter of an address: "sub1=ash+glaze&device≠phone", each side encoded. */
export const writeFilters = (filters: readonly Filter[]): string | undefined =>
  filters.length === 0
    ? undefined
    : filters.map(({ field, how, text }) => `${field}${HOW_SIGNS[how]}${encodeURIComponent(text)}`).join('&');

/** Reads what `writeFilters` wrote; what is not understood, or not known as a field, is left out. */
export function readFilters(text: string | undefined, known: (field: string) => boolean = isFilterField): Filter[] {
  return (text ?? '').split('&').flatMap((pair): Filter[] => {
    const [, field = '', sign = '', raw = ''] = /^([^=≠~]+)([=≠~])(.*)$/s.exec(pair) ?? [];
    const how = FILTER_HOWS.find((each) => HOW_SIGNS[each] === sign);
    if (!how || !known(field)) return [];
    try {
      return [{ field, how, text: decodeURIComponent(raw) }];
    } catch {
      return [];
    }
  });
}
