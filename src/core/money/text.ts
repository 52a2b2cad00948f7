import { type Currency, minorDigits } from './currency';
import { type ExchangeRate, type Money, PPM_PER_PERCENT, type Ppm, money } from './money';

export type Parsed<T> = { ok: true; value: T } | { ok: false; reason: string };
const refused = (reason: string): { ok: false; reason: string } => ({ ok: false, reason });

/**
 * Reads a plain decimal ("1234.5") into minor units. Never rounds: too many decimals are refused.
 * Negative amounts are read; whether they make sense is the caller's question.
 */
export function parseAmount(text: string, currency: Currency): Parsed<Money> {
  const match = /^(-?)(\d{1,15})(?:\.(\d+))?$/.exec(text.trim());
  if (!match) return refused(`"${text}" is not a decimal amount; write it like 1234.50, without separators.`);
  const [, sign, whole = '', fraction = ''] = match;
  const digits = minorDigits(currency);
  if (fraction.length > digits) {
    const allowed = digits === 0 ? 'no decimals' : `at most ${digits} decimals`;
    return refused(`${currency} has ${allowed}, but "${text}" has ${fraction.length}.`);
  }
  const minor = Number(whole + fraction.padEnd(digits, '0'));
  if (!Number.isSafeInteger(minor)) return refused(`"${text}" is larger than can be booked.`);
  return { ok: true, value: money(sign && minor ? -minor : minor, currency) };
}

/** Decimal text without currency or grouping, as files and the API carry it: "-1234.50". */
export function amountText({ minor, currency }: Money): string {
  const digits = minorDigits(currency);
  const figures = Math.abs(minor)
    .toString()
    .padStart(digits + 1, '0');
  const split = figures.length - digits;
  return `${minor < 0 ? '-' : ''}${figures.slice(0, split)}${digits ? `.${figures.slice(split)}` : ''}`;
}

const SIGNS: Record<string, string> = { EUR: '€', GBP: '£', USD: '$', JPY: '¥' };

/** Amount for people: "€1,234.50", "−€3.00"; a currency without a common sign gets its code in front. */
export function showAmount(amount: Money): string {
  const plain = amountText({ ...amount, minor: Math.abs(amount.minor) });
  const [whole = '', fraction] = plain.split('.');
  const sign = SIGNS[amount.currency] ?? `${amount.currency} `;
  const grouped = whole.replace(/\B(?=(\d{3})+$)/g, ',');
  return `${amount.minor < 0 ? '−' : ''}${sign}${grouped}${fraction === undefined ? '' : `.${fraction}`}`;
}

/** Fixed-point decimal text to an integer of 10^-digits units. */
function parseFixed(text: string, digits: number, what: string): Parsed<number> {
  const match = /^(\d{1,9})(?:\.(\d+))?$/.exec(text.trim());
  if (!match) return refused(`"${text}" is not ${what}.`);
  const fraction = match[2] ?? '';
  if (fraction.length > digits) return refused(`"${text}" has more than ${digits} decimals.`);
  return { ok: true, value: Number((match[1] ?? '') + fraction.padEnd(digits, '0')) };
}

function showFixed(value: number, digits: number): string {
  const figures = value.toString().padStart(digits + 1, '0');
  const fraction = figures.slice(-digits).replace(/0+$/, '');
  return figures.slice(0, -digits) + (fraction ? `.${fraction}` : '');
}

/** "12.5" → 125000 ppm; four decimals of a percent are the finest step. */
export const parsePercent = (text: string): Parsed<Ppm> =>
  parseFixed(text.replace(/\s*%$/, ''), 4, 'a percentage; write it like 12.5');
export const showPercent = (rate: Ppm): string => `${showFixed(rate, Math.log10(PPM_PER_PERCENT))}%`;

export const parseExchangeRate = (text: string): Parsed<ExchangeRate> =>
  parseFixed(text, 9, 'a rate of exchange; write it like 1.1642');
export const showExchangeRate = (rate: ExchangeRate): string => showFixed(rate, 9);
