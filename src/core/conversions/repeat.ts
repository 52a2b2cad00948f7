import type { Figures } from '../commissions/base';

/** What a second report of the same conversion with other figures does; chosen per event. */
export const REPEAT_POLICIES = ['ignore', 'count', 'replace', 'add'] as const;
export type RepeatPolicy = (typeof REPEAT_POLICIES)[number];

export const REPEAT_WORDS: Record<RepeatPolicy, string> = {
  ignore: 'the first report stands',
  count: 'each report is one more conversion',
  replace: 'the newest figures stand',
  add: 'the amounts add up',
};

/** What makes two reports the same conversion: offer, event and order; without an order, offer, event and click. */
export function conversionKey(
  offerId: number,
  event: string,
  order: string | undefined,
  clickId: string | undefined,
): string | undefined {
  if (order !== undefined) return `${offerId}/${event}/order/${order}`;
  return clickId === undefined ? undefined : `${offerId}/${event}/click/${clickId}`;
}

/** The figures that stand after a repeat; undefined when the first report stands unchanged. */
export function repeatedFigures(policy: RepeatPolicy, standing: Figures, incoming: Figures): Figures | undefined {
  if (policy === 'replace') return incoming;
  if (policy !== 'add') return undefined;
  return {
    currency: standing.currency,
    amount: standing.amount + incoming.amount,
    tax: standing.tax + incoming.tax,
    shipping: standing.shipping + incoming.shipping,
    discount: standing.discount + incoming.discount,
    items: [...standing.items, ...incoming.items],
  };
}
