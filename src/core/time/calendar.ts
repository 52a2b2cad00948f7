/** A calendar day "2026-10-17" in a program's time zone. */
export type Day = string & { readonly __brand: 'Day' };
export const DAY_MS = 86_400_000;

const MONTHS = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec'];

const noon = (of: string): number => Date.parse(`${of}T12:00:00Z`);
const asDay = (time: number): Day => new Date(time).toISOString().slice(0, 10) as Day;

export const isDay = (text: string): text is Day =>
  /^\d{4}-\d{2}-\d{2}$/.test(text) && !Number.isNaN(noon(text)) && asDay(noon(text)) === text;

/** @throws RangeError for text that is no calendar day. */
export function day(text: string): Day {
  if (!isDay(text)) throw new RangeError(`"${text}" is not a calendar day like 2026-10-17.`);
  return text;
}

const parts = (of: Day): [year: number, month: number, day: number] => [
  Number(of.slice(0, 4)),
  Number(of.slice(5, 7)),
  Number(of.slice(8)),
];
/** Months count from 1 and may run over; day 0 is the last of the month before. */
const make = (year: number, month: number, dayOfMonth: number): Day => asDay(Date.UTC(year, month - 1, dayOfMonth, 12));

export const addDays = (of: Day, days: number): Day => asDay(noon(of) + days * DAY_MS);
export const startOfMonth = (of: Day): Day => make(parts(of)[0], parts(of)[1], 1);
export const endOfMonth = (of: Day): Day => make(parts(of)[0], parts(of)[1] + 1, 0);
/** The first of a month that is not before the day: the 1st stays where it is. */
export const nextFirst = (of: Day): Day => (of.endsWith('-01') ? of : addDays(endOfMonth(of), 1));
/** The next date with this day of the month, the day itself included; short months end on their last day. */
export function nextDayOfMonth(from: Day, dayOfMonth: number): Day {
  const inMonth = (of: Day): Day => {
    const [year, month] = parts(of);
    const last = parts(endOfMonth(of))[2];
    return make(year, month, Math.min(dayOfMonth, last));
  };
  const here = inMonth(from);
  return here >= from ? here : inMonth(addDays(endOfMonth(from), 1));
}
export const monthOf = (of: Day): string => of.slice(0, 7);
/** Whole days from one day to another. */
export const daysBetween = (from: Day, to: Day): number => Math.round((noon(to) - noon(from)) / DAY_MS);

/** "1 Dec 2026"; a day of the year in sight may leave the year out. */
export function showDay(of: Day, options: { year?: boolean } = {}): string {
  const [year, month, dayOfMonth] = parts(of);
  return `${dayOfMonth} ${MONTHS[month - 1]}${options.year === false ? '' : ` ${year}`}`;
}

/** The year only where it is not this one. */
export const showDayNear = (of: Day, today: Day): string => showDay(of, { year: of.slice(0, 4) !== today.slice(0, 4) });

/** "1–24 Nov 2026", "28 Oct – 3 Nov 2026". */
export function showPeriod(from: Day, to: Day): string {
  const [a, b] = [parts(from), parts(to)];
  if (from === to) return showDay(from);
  if (a[0] !== b[0]) return `${showDay(from)} – ${showDay(to)}`;
  return a[1] === b[1] ? `${a[2]}–${showDay(to)}` : `${showDay(from, { year: false })} – ${showDay(to)}`;
}
