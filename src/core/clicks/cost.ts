import type { Currency } from '../money/currency';
import { showAmount } from '../money/text';
import { money } from '../money/money';

/** Millionths of the currency's major unit: bids have more decimals than money that is paid. */
export type Micros = number;
export const MICROS = 1_000_000;

/** Reads the cost of a click as a source writes it, "0.0234" or "0,02". @returns undefined for anything else */
export function readCost(text: string | undefined): Micros | undefined {
  const [, whole = '', part = ''] = /^(\d{1,6})(?:[.,](\d{1,12}))?$/.exec(text?.trim() ?? '') ?? [];
  if (whole === '') return undefined;
  return Number(whole) * MICROS + Number(part.slice(0, 6).padEnd(6, '0'));
}

/** With as many decimals as it needs, two at least: "0.0234". */
export const costText = (micros: Micros): string => {
  const text = (micros / MICROS).toFixed(6);
  return text.replace(/(\.\d\d\d*?)0+$/, '$1');
};

/** Rounded to the currency's minor unit for a screen; `digits` of the currency. */
export const showCost = (micros: Micros, currency: Currency, digits: number): string =>
  showAmount(money(Math.round((micros * 10 ** digits) / MICROS), currency));
