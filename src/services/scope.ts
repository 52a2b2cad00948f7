import { type Day, addDays, endOfMonth, isDay, startOfMonth } from '@/core/time/days';
import type { ScopeFilter } from '@/store/books/scope';
import type { Actor } from './actor';
import { type Stores, todayIn } from './stores';

/** What is looked at while walking along the Line: days inclusive, in the program's zone; null is any. */
export interface Scope {
  readonly from: Day;
  readonly to: Day;
  readonly partnerId: number | null;
  readonly channelId: number | null;
  readonly offerId: number | null;
}
export type Params = Readonly<Record<string, string | string[] | undefined>>;

export const one = (params: Params, name: string): string | undefined => {
  const value = params[name];
  return Array.isArray(value) ? value[0] : value;
};
export const wholeNumber = (text: string | undefined): number | null =>
  text !== undefined && /^[1-9]\d{0,14}$/.test(text) ? Number(text) : null;

/** Reads the scope of an address; what is missing or senseless falls back to this month and any. */
export function readScope(stores: Stores, actor: Actor, params: Params): Scope {
  const today = todayIn(stores, actor.programId);
  const [from = '', to = ''] = [one(params, 'from'), one(params, 'to')];
  const sound = isDay(from) && isDay(to) && from <= to;
  return {
    from: sound ? from : startOfMonth(today),
    to: sound ? to : today,
    partnerId: actor.partnerId ?? wholeNumber(one(params, 'partner')),
    channelId: wholeNumber(one(params, 'channel')),
    offerId: wholeNumber(one(params, 'offer')),
  };
}

/** The periods offered beside a free choice of days. */
export function usualPeriods(today: Day): { name: string; from: Day; to: Day }[] {
  const lastMonth = startOfMonth(addDays(startOfMonth(today), -1));
  return [
    { name: 'This month', from: startOfMonth(today), to: today },
    { name: 'Last month', from: lastMonth, to: endOfMonth(lastMonth) },
    { name: 'Last 7 days', from: addDays(today, -6), to: today },
    { name: 'Last 30 days', from: addDays(today, -29), to: today },
    { name: 'Last 120 days', from: addDays(today, -119), to: today },
  ];
}

/** A partner's eyes never reach beyond the partner, whatever the scope says. */
export const filterFor = (actor: Actor, scope: Scope): ScopeFilter => ({
  programId: actor.programId,
  ...scope,
  partnerId: actor.partnerId ?? scope.partnerId,
});
