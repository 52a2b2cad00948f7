import type { Currency } from '../money/currency';
import { type ExchangeRate, allocate, convert, money } from '../money/money';
import type { Day } from '../time/calendar';

/** One item of an order; price is that of one unit in minor units of the conversion's currency. */
export interface Item {
  readonly sku: string;
  readonly category?: string;
  readonly quantity: number;
  readonly price: number;
}

/** The money of a conversion as it was reported, in minor units of its own currency. */
export interface Figures {
  readonly currency: Currency;
  readonly amount: number;
  readonly tax: number;
  readonly shipping: number;
  readonly discount: number;
  readonly items: readonly Item[];
}

/** A stored rate of exchange into the program's currency and the day it is of. */
export interface Exchange {
  readonly rate: ExchangeRate;
  readonly day: Day;
}

/** A line that is rated by itself: an item, or the whole conversion. Minor units of the program. */
export interface BaseLine {
  readonly sku?: string;
  readonly category?: string;
  readonly quantity: number;
  readonly price: number;
  readonly base: number;
}

/**
 * The lines of a conversion with their bases. Items: price × quantity less their share of the discount by the
 * largest remainder. Otherwise: amount − tax − shipping − discount. Converted line by line, rounded once each.
 */
export function baseLines(figures: Figures, program: Currency, exchange: Exchange | undefined): BaseLine[] {
  const own = (minor: number): number =>
    exchange ? convert(money(minor, figures.currency), program, exchange.rate).minor : minor;
  if (figures.items.length === 0) {
    const base = own(figures.amount - figures.tax - figures.shipping - figures.discount);
    return [{ quantity: 1, price: base, base }];
  }
  const gross = figures.items.map((item) => item.price * item.quantity);
  const discounts = figures.discount === 0 ? undefined : allocate(figures.discount, gross);
  return figures.items.map((item, index) => ({
    sku: item.sku,
    category: item.category,
    quantity: item.quantity,
    price: own(item.price),
    base: own((gross[index] ?? 0) - (discounts?.[index] ?? 0)),
  }));
}
