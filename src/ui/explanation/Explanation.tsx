import type { Currency } from '@/core/money/currency';
import { money } from '@/core/money/money';
import { showAmount, showExchangeRate, showPercent } from '@/core/money/text';
import { minorDigits } from '@/core/money/currency';
import type { Explanation as Explained, Paid } from '@/core/commissions/rate';
import type { Conditions, SheetRow } from '@/core/commissions/sheet';
import { type Day, showDay } from '@/core/time/calendar';

const CONDITION_WORDS: Record<keyof Conditions, string> = {
  offerId: 'another offer',
  event: 'another event',
  partnerId: 'another partner',
  channelId: 'another channel',
  sku: 'another article',
  category: 'another category',
  country: 'another country',
  customer: 'another kind of customer',
  leastAmount: 'below the least amount',
  leastCallLength: 'call too short, or no call',
  renewalFrom: 'renewal before the first that counts',
  renewalTo: 'renewal after the last that counts',
};

interface Props {
  explanation: Explained;
  rows: readonly SheetRow[];
  currency: Currency;
}

/** "2499.875" minor units as "24.99875". */
function exactAmount(exact: string, currency: Currency): string {
  const digits = minorDigits(currency);
  const [whole = '', fraction = ''] = exact.replace('-', '').split('.');
  const padded = whole.padStart(digits + 1, '0');
  const decimals = padded.slice(padded.length - digits) + fraction;
  return `${exact.startsWith('-') ? '−' : ''}${padded.slice(0, padded.length - digits)}${digits + fraction.length > 0 ? `.${decimals}` : ''}`;
}

/** How an amount came about: the base, the row that won and those that lost, the arithmetic to the rounding. */
export function Explanation({ explanation, rows, currency }: Props) {
  const { figures, lines, paid, exchange } = explanation;
  const own = (minor: number): string => showAmount(money(minor, figures.currency));
  const show = (minor: number): string => showAmount(money(minor, currency));
  const label = (id: string): string => rows.find((row) => row.id === id)?.label ?? id;
  const parts = [
    ['tax', figures.tax],
    ['shipping', figures.shipping],
    ['discount', figures.discount],
  ] as const;
  const looks = new Map(lines.flatMap((line) => line.looks).map((look) => [look.row, look]));
  for (const { row } of paid) looks.set(row, { row });
  return (
    <>
      <div className="sum">
        {figures.items.length === 0 && figures.amount > 0 && (
          <div>
            {own(figures.amount)}
            {parts.filter(([, minor]) => minor > 0).map(([what, minor]) => ` − ${own(minor)} ${what}`)} ={' '}
            {own(figures.amount - figures.tax - figures.shipping - figures.discount)} base
          </div>
        )}
        {figures.items.length > 0 &&
          lines.map((line, i) => (
            <div key={`${line.sku}${i}`}>
              {line.quantity} × {show(line.price)} {line.sku}
              {line.base !== line.price * line.quantity && ' less its share of the discount'} = {show(line.base)} base
            </div>
          ))}
        {exchange && (
          <div>
            1 {figures.currency} = {showExchangeRate(exchange.rate)} {currency}, rate of {showDay(exchange.day as Day)}
          </div>
        )}
        {paid.map((part) => (
          <PaidSteps key={part.row} part={part} show={show} currency={currency} />
        ))}
        {paid.length === 0 && <div>No row of the sheet matches, so nothing is paid.</div>}
      </div>
      <ul className="rows" aria-label={`Rate sheet, version ${explanation.sheet}`}>
        {[...looks.values()].map(({ row, failed }) => (
          <li key={row} className={failed ? undefined : 'won'}>
            {label(row)}
            {failed && `: ${CONDITION_WORDS[failed]}`}
          </li>
        ))}
      </ul>
    </>
  );
}

function PaidSteps({ part, show, currency }: { part: Paid; show(minor: number): string; currency: Currency }) {
  const { pay } = part;
  if (pay.kind === 'fixed')
    return (
      <div>
        {pay.per === 'unit' && `${part.units} × `}
        {show(pay.amount)} fixed = <b>{show(part.amount)}</b>
      </div>
    );
  return (
    <>
      {pay.kind === 'bands' && part.volume && (
        <div>
          {pay.by === 'count'
            ? `number ${part.volume.count + 1} of the month`
            : `${show(part.volume.base)} reached before`}
        </div>
      )}
      {part.steps.map((step, i) => (
        <div key={`${step.rate}${i}`}>
          {show(step.base)} × {showPercent(step.rate)} = {exactAmount(step.exact, currency)} →{' '}
          <b>{show(step.amount)}</b>
        </div>
      ))}
      {part.limited && (
        <div>
          {part.limited === 'least' ? 'raised to the least' : 'cut to the most'} of the row: {show(part.amount)}
        </div>
      )}
    </>
  );
}
