import type { Figures } from '../commissions/base';
import type { Instant } from '../time/days';
import type { PostbackState } from './postback';
import { type RepeatPolicy, repeatedFigures } from './repeat';

/** Who reported. Whoever sees a page can write what the tag and a pixel send. */
export type ReportedBy = 'server' | 'tag' | 'pixel' | 'hand' | 'file';
export const fromPage = (by: ReportedBy): boolean => by === 'tag' || by === 'pixel';

/** Facts beside the money that rows of the rate sheet may ask for. */
export interface ReportedFacts {
  readonly customer?: 'new' | 'returning';
  readonly renewal?: number;
  readonly callLength?: number;
}

/** One thing that was said of a conversion. */
export interface Report {
  readonly receiptId: string;
  /** Of the event as reported, else of the receipt. */
  readonly time: Instant;
  readonly by: ReportedBy;
  /** The event's policy for repeats when it came. */
  readonly policy: RepeatPolicy;
  readonly status?: PostbackState;
  readonly figures: Figures;
  readonly completed?: string | null;
  readonly facts: ReportedFacts;
  readonly custom: Readonly<Record<string, string>>;
  /** Charged to the partner with a chargeback: minor units of the program. */
  readonly fee?: number;
}

/** What was refunded of a sale: by items where they were named, else by amount. */
export interface Refund {
  readonly whole: boolean;
  /** Minor units of the conversion's currency. */
  readonly amount: number;
  /** Units by SKU. */
  readonly items: Readonly<Record<string, number>>;
}

/** Where all that was said of a conversion leaves it. */
export interface Standing {
  readonly time: Instant;
  readonly figures: Figures;
  readonly completed: string | null;
  readonly facts: ReportedFacts;
  readonly custom: Readonly<Record<string, string>>;
  readonly by: ReportedBy;
  /** Of the report that stands. */
  readonly receiptId: string;
  readonly rejected: boolean;
  readonly refund: Refund;
  /** Minor units of the program. */
  readonly fees: number;
}

const isDecision = ({ status }: Report): boolean => status === 'rejected' || status === 'reversed';

/**
 * The reports that say what was sold: plain ones, or where there are none, those that came with a status. A page's
 * count only as long as nobody better has spoken.
 */
function sales(reports: readonly Report[]): Report[] {
  const told = reports.filter((report) => !isDecision(report));
  const better = told.some(({ by }) => !fromPage(by)) ? told.filter(({ by }) => !fromPage(by)) : told;
  return better.some(({ status }) => status === undefined)
    ? better.filter(({ status }) => status === undefined)
    : better.slice(0, 1);
}

/**
 * What stands after all that was said, in whatever order and however often it came: reports are taken in the order of
 * their own times, a report in another currency than the first is not listened to.
 * @returns undefined while nothing was sold
 */
export function standingOf(reports: readonly Report[]): Standing | undefined {
  const once = new Map(reports.map((report) => [report.receiptId, report]));
  const inOrder = [...once.values()].sort((a, b) => a.time - b.time || (a.receiptId < b.receiptId ? -1 : 1));
  const [first, ...repeats] = sales(inOrder);
  if (!first) return undefined;
  let { figures, receiptId } = first;
  for (const repeat of repeats) {
    if (repeat.figures.currency !== figures.currency) continue;
    const next = repeatedFigures(repeat.policy, figures, repeat.figures);
    if (!next) continue;
    figures = next;
    if (repeat.policy === 'replace') receiptId = repeat.receiptId;
  }
  const told = inOrder.filter(({ by }) => fromPage(first.by) || !fromPage(by));
  const said = [first, ...repeats.filter(({ policy }) => policy !== 'ignore')];
  return {
    ...{ time: first.time, figures, by: first.by, receiptId },
    completed: told.findLast(({ completed }) => completed)?.completed ?? null,
    facts: Object.assign({}, ...said.map(({ facts }) => facts)) as ReportedFacts,
    custom: Object.assign({}, ...said.map(({ custom }) => custom)) as Record<string, string>,
    rejected: told.some(({ status }) => status === 'rejected'),
    refund: refundOf(told, figures),
    fees: told.reduce((sum, { status, fee = 0 }) => (status === 'reversed' ? sum + fee : sum), 0),
  };
}

function refundOf(reports: readonly Report[], sale: Figures): Refund {
  const items: Record<string, number> = {};
  let amount = 0;
  let whole = false;
  for (const { status, figures } of reports) {
    if (status !== 'reversed') continue;
    if (figures.amount === 0 && figures.items.length === 0) whole = true;
    else if (figures.currency !== sale.currency) continue;
    else if (figures.items.length === 0) amount += figures.amount;
    for (const { sku, quantity } of figures.items) items[sku] = (items[sku] ?? 0) + quantity;
  }
  const sold: Record<string, number> = {};
  for (const { sku, quantity } of sale.items) sold[sku] = (sold[sku] ?? 0) + quantity;
  const skus = Object.entries(sold);
  const allItems = skus.length > 0 && skus.every(([sku, quantity]) => (items[sku] ?? 0) >= quantity);
  return { whole: whole || allItems || (amount > 0 && amount >= sale.amount), amount, items };
}
