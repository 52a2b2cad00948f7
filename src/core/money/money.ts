import { type Currency, minorDigits } from './currency';

/** An amount in integer minor units of its currency: €12.50 is { minor: 1250, currency: 'EUR' }. */
export interface Money {
  readonly minor: number;
  readonly currency: Currency;
}

/** A rate in parts per million: 12.5 % is 125,000. */
export type Ppm = number;
export const PPM_PER_PERCENT = 10_000;
const MILLION = 1_000_000n;

export const money = (minor: number, currency: Currency): Money => ({ minor: safe(minor), currency });

/** @throws RangeError when the figure cannot be held exactly. */
export function safe(minor: number): number {
  if (!Number.isSafeInteger(minor)) throw new RangeError(`${minor} is not an amount in whole minor units.`);
  return minor === 0 ? 0 : minor;
}

/** Quotient rounded once, half away from zero. `divisor` is positive. */
export function divideRounded(dividend: bigint, divisor: bigint): bigint {
  const half = divisor / 2n;
  const rest = dividend % divisor;
  const whole = dividend / divisor;
  const magnitude = rest < 0n ? -rest : rest;
  const up = divisor % 2n === 0n ? magnitude >= half : magnitude > half;
  if (!up) return whole;
  return dividend < 0n ? whole - 1n : whole + 1n;
}

/** The share of an amount, rounded once to the minor unit: shareOf(19999, 125000) is 2500. */
export function shareOf(minor: number, rate: Ppm): number {
  // Both factors stay exact in a double below 2^53, which covers nearly every commission.
  const product = minor * rate;
  if (Number.isSafeInteger(product)) {
    const magnitude = Math.abs(product);
    const rest = magnitude % 1_000_000;
    const rounded = (magnitude - rest) / 1_000_000 + (rest >= 500_000 ? 1 : 0);
    return product < 0 ? 0 - rounded : rounded;
  }
  return safe(Number(divideRounded(BigInt(minor) * BigInt(rate), MILLION)));
}

/** The figure before rounding as decimal text in minor units, for explanations: "2499.875". */
export function exactShare(minor: number, rate: Ppm): string {
  const short = minor * rate;
  if (Number.isSafeInteger(short) && short % 1_000_000 === 0) return String(short / 1_000_000);
  const product = BigInt(minor) * BigInt(rate);
  const magnitude = product < 0n ? -product : product;
  const fraction = (magnitude % MILLION).toString().padStart(6, '0').replace(/0+$/, '');
  return `${product < 0n ? '-' : ''}${magnitude / MILLION}${fraction ? `.${fraction}` : ''}`;
}

/**
 * Splits a total over weights by the largest remainder, ties to the first; the parts sum to the total.
 * @param weights non-negative integers; all zero gives the whole to the first.
 */
export function allocate(total: number, weights: readonly number[]): number[] {
  if (weights.length === 0) return [];
  const sign = total < 0 ? -1 : 1;
  const sum = weights.reduce((all, weight) => all + BigInt(weight), 0n);
  if (sum === 0n) return weights.map((_, index) => (index === 0 ? total : 0));
  const amount = BigInt(Math.abs(total));
  const products = weights.map((weight) => amount * BigInt(weight));
  const parts = products.map((product) => Number(product / sum));
  const left = Number(amount) - parts.reduce((all, part) => all + part, 0);
  const byRemainder = products
    .map((product, index) => ({ index, rest: product % sum }))
    .sort((a, b) => (a.rest === b.rest ? a.index - b.index : a.rest > b.rest ? -1 : 1));
  for (const { index } of byRemainder.slice(0, left)) parts[index] = (parts[index] ?? 0) + 1;
  return parts.map((part) => (part === 0 ? 0 : part * sign));
}

/** An exchange rate in parts per billion of the target's major unit for one major unit of the source. */
export type ExchangeRate = number;
const BILLION = 1_000_000_000n;

/** Converts and rounds once. Digits of both currencies are taken into account. */
export function convert(amount: Money, to: Currency, rate: ExchangeRate): Money {
  const shift = minorDigits(to) - minorDigits(amount.currency);
  let dividend = BigInt(amount.minor) * BigInt(rate);
  let divisor = BILLION;
  if (shift >= 0) dividend *= 10n ** BigInt(shift);
  else divisor *= 10n ** BigInt(-shift);
  return money(Number(divideRounded(dividend, divisor)), to);
}
