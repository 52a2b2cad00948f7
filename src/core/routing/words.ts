import type { Cap, Condition, ListField, Mix } from './plan';

const countries = new Intl.DisplayNames('en', { type: 'region', fallback: 'code' });
const languages = new Intl.DisplayNames('en', { type: 'language', fallback: 'code' });
const named = (names: Intl.DisplayNames, code: string): string => {
  try {
    return names.of(code) ?? code;
  } catch {
    return code;
  }
};
/** "Belgium" for "BE". */
export const countryName = (code: string): string => named(countries, code);
/** "Dutch" for "nl". */
export const languageName = (code: string): string => named(languages, code);

const WEEKDAYS = ['Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday', 'Sunday'];
export const weekdayName = (day: string): string => WEEKDAYS[Number(day) - 1] ?? day;

export const FIELD_WORDS: Record<Condition['field'], string> = {
  country: 'country',
  device: 'device',
  os: 'system',
  language: 'language',
  weekday: 'day of the week',
  partner: 'partner',
  channel: 'channel',
  source: 'source',
  hours: 'time of day',
  dates: 'dates',
};

/** Names of partners, channels and sources, by "channel 7". */
export type Names = Readonly<Record<string, string>>;

export function valueWord(field: ListField, value: string, names: Names): string {
  if (field === 'country') return countryName(value);
  if (field === 'language') return languageName(value);
  if (field === 'weekday') return weekdayName(value);
  return names[`${field} ${value}`] ?? value;
}

const either = (words: readonly string[]): string =>
  words.length < 2 ? (words[0] ?? '') : `${words.slice(0, -1).join(', ')} or ${words.at(-1)}`;

/** A condition as a part of a sentence: "country is Belgium or France", "it is from 22:00 to 06:00". */
export function conditionWords(condition: Condition, names: Names): string {
  if (condition.field === 'hours') return `it is from ${condition.from} to ${condition.to}`;
  if (condition.field === 'dates') return `the day is from ${condition.from} to ${condition.to}`;
  const { field, is, values } = condition;
  return `${FIELD_WORDS[field]} is ${is ? '' : 'not '}${either(values.map((value) => valueWord(field, value, names)))}`;
}

/** Pages with their shares among those that are on, in percent. */
export function sharesOf({ to }: Mix): { page: string; share: number; on: boolean }[] {
  const sum = to.reduce((all, { on, weight }) => all + (on ? weight : 0), 0);
  return to.map(({ page, weight, on }) => ({ page, on, share: on && sum > 0 ? (100 * weight) / sum : 0 }));
}
/** A share without needless decimals: "33.3 %". */
export const shareWord = (share: number): string => `${Number(share.toFixed(1))}\u00a0%`;

const CAP_UNITS: Record<Cap['of'], string> = { clicks: 'clicks', conversions: 'conversions', spend: 'commission' };
const CAP_PERIODS: Record<Cap['per'], string> = { day: 'a day', month: 'a month', total: 'in all' };
/** @param amount what stands for the most: "500", "€1,000.00" */
export const capWords = ({ of, per }: Cap, amount: string): string => `${amount} ${CAP_UNITS[of]} ${CAP_PERIODS[per]}`;
