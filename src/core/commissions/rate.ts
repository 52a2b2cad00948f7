import type { Currency } from '../money/currency';
import { type Money, type Ppm, exactShare, money, shareOf } from '../money/money';
import { type BaseLine, type Exchange, type Figures, baseLines } from './base';
import { type Facts, failedCondition } from './conditions';
import type { Band, Conditions, Pay, RateSheet, SheetRow } from './sheet';

/** What a partner had reached in the month with a banded row before this conversion. */
export interface Volume {
  readonly count: number;
  readonly base: number;
}

/** All that an amount depends on: stored with the commission, so that it can be worked out again. */
export interface RatingInput extends Facts {
  readonly figures: Figures;
  readonly program: Currency;
  /** Absent when the figures are in the program's currency. */
  readonly exchange?: Exchange;
  /** By row ID, for rows that pay in bands. */
  readonly volumes?: Readonly<Record<string, Volume>>;
}

/** A row that was looked at for a line: it won, or the named condition failed. */
export interface Look {
  readonly row: string;
  readonly failed?: keyof Conditions;
}

/** One multiplication: `exact` is the figure before rounding, in minor units as decimal text. */
export interface Step {
  readonly base: number;
  readonly rate: Ppm;
  readonly exact: string;
  readonly amount: number;
}

/** What a winning row paid over all lines it won. */
export interface Paid {
  readonly row: string;
  readonly label: string;
  readonly pay: Pay;
  readonly base: number;
  readonly units: number;
  readonly volume?: Volume;
  readonly steps: readonly Step[];
  readonly limited?: 'least' | 'most';
  readonly amount: number;
}

export interface RatedLine extends BaseLine {
  /** Every row that was looked at, up to the one that won. */
  readonly looks: readonly Look[];
}

export interface Explanation {
  readonly sheet: number;
  readonly figures: Figures;
  readonly exchange?: Exchange;
  readonly lines: readonly RatedLine[];
  readonly paid: readonly Paid[];
}

export type Rating =
  | { readonly kind: 'rated'; readonly amount: Money; readonly explanation: Explanation }
  | { readonly kind: 'needs_rate'; readonly from: Currency; readonly to: Currency };

const NO_VOLUME: Volume = { count: 0, base: 0 };

/** Rates a conversion with one version of the rate sheet. Pure: the same input gives the same amount, always. */
export function rateConversion(sheet: RateSheet, input: RatingInput): Rating {
  const { figures, program } = input;
  if (figures.currency !== program && !input.exchange)
    return { kind: 'needs_rate', from: figures.currency, to: program };
  const lines: RatedLine[] = [];
  const won: Won[] = [];
  for (const line of baseLines(figures, program, input.exchange)) {
    const { sku, category, quantity, price, base } = line;
    const looks: Look[] = [];
    lines.push({ sku, category, quantity, price, base, looks });
    for (const row of sheet.rows) {
      const failed = failedCondition(row.when, input, line);
      looks.push(lookAt(row, failed));
      if (failed !== undefined) continue;
      const sum = won.find((each) => each.row === row);
      if (sum) {
        sum.base += base;
        sum.units += quantity;
      } else won.push({ row, base, units: quantity });
      break;
    }
  }
  const paid: Paid[] = [];
  let total = 0;
  for (const { row, base, units } of won) {
    const part = payRow(row, base, units, input.volumes?.[row.id] ?? NO_VOLUME);
    paid.push(part);
    total += part.amount;
  }
  const explanation = { sheet: sheet.version, figures, exchange: input.exchange, lines, paid };
  return { kind: 'rated', amount: money(total, program), explanation };
}

interface Won {
  readonly row: SheetRow;
  base: number;
  units: number;
}

/** The same look is the same object, however many conversions it explains: replays keep memory flat. */
const looksOfRow = new WeakMap<SheetRow, Map<keyof Conditions | undefined, Look>>();

function lookAt(row: SheetRow, failed: keyof Conditions | undefined): Look {
  let known = looksOfRow.get(row);
  if (!known) looksOfRow.set(row, (known = new Map()));
  let look = known.get(failed);
  if (!look) known.set(failed, (look = failed === undefined ? { row: row.id } : { row: row.id, failed }));
  return look;
}

function payRow(row: SheetRow, base: number, units: number, volume: Volume): Paid {
  const { id, label, pay } = row;
  if (pay.kind === 'fixed')
    return {
      row: id,
      label,
      pay,
      base,
      units,
      steps: NO_STEPS,
      amount: pay.per === 'unit' ? pay.amount * units : pay.amount,
    };
  if (pay.kind === 'bands') {
    const steps = bandParts(pay, base, volume).map(({ part, rate }) => step(part, rate));
    return {
      row: id,
      label,
      pay,
      base,
      units,
      volume,
      steps,
      amount: steps.reduce((all, each) => all + each.amount, 0),
    };
  }
  const one = step(base, pay.rate);
  const limited = limitOf(pay, one.amount);
  const amount = limited === undefined ? one.amount : (pay[limited] ?? 0);
  return { row: id, label, pay, base, units, steps: [one], ...(limited && { limited }), amount };
}

const NO_STEPS: readonly Step[] = [];

function limitOf(pay: { least?: number; most?: number }, amount: number): 'least' | 'most' | undefined {
  if (pay.least !== undefined && amount < pay.least) return 'least';
  return pay.most !== undefined && amount > pay.most ? 'most' : undefined;
}

const step = (base: number, rate: Ppm): Step => ({
  base,
  rate,
  exact: exactShare(base, rate),
  amount: shareOf(base, rate),
});

/** Marginal bands: the part of the base that falls into each. By count, this conversion is the next one. */
function bandParts(
  pay: { by: 'count' | 'base'; bands: readonly Band[] },
  base: number,
  volume: Volume,
): { part: number; rate: Ppm }[] {
  const parts: { part: number; rate: Ppm }[] = [];
  let from = pay.by === 'count' ? volume.count + 1 : volume.base;
  let left = base;
  for (const { upTo, rate } of pay.bands) {
    if (pay.by === 'count') {
      if (upTo === null || from <= upTo) return [{ part: base, rate }];
      continue;
    }
    const room = upTo === null ? left : Math.max(0, upTo - from);
    const part = Math.min(left, room);
    if (part > 0) parts.push({ part, rate });
    left -= part;
    from += part;
    if (left <= 0) break;
  }
  return parts;
}
