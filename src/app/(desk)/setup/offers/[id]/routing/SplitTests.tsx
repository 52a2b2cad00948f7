import type { Currency } from '@/core/money/currency';
import { money } from '@/core/money/money';
import { showAmount } from '@/core/money/text';
import { showCount, wilson } from '@/core/reports/measures';
import { LEAST, type Outlook } from '@/core/routing/verdict';
import { showDay } from '@/core/time/calendar';
import type { SplitTest } from '@/services/splits';
import { RateBar } from '@/ui/figures/RateBar';

const percent = (share: number): string =>
  share > 0.999
    ? '> 99.9 %'
    : share < 0.001
      ? '< 0.1 %'
      : `${(100 * share).toFixed(share > 0.99 || share < 0.01 ? 1 : 0)} %`;
/** A difference of rates in percentage points. */
const points = (difference: number): string =>
  difference < 0.0001 ? '< 0.01 pt' : `${(100 * difference).toFixed(2)} pt`;

function verdictWords({ verdict, arms }: Outlook): { word: string; why: string; sure: boolean } {
  if (verdict.kind === 'best')
    return {
      word: `${verdict.page} is better`,
      why: `chance to be best ${percent(arms[0]?.chanceToBeBest ?? 0)}; what is still at risk is not worth waiting for.`,
      sure: true,
    };
  if (verdict.kind === 'equal')
    return { word: 'Either will do', why: 'they are so close that no choice loses anything worth having.', sure: true };
  const why = {
    days: `it has run less than ${LEAST.days} days, and a week has its rhythm.`,
    clicks: `each page needs ${LEAST.uniques} unique clicks.`,
    conversions: `all pages together need ${LEAST.conversions} conversions.`,
    unclear: 'the numbers do not carry a verdict yet.',
  }[verdict.because];
  return { word: 'Too early to say', why, sure: false };
}

/** What the numbers say of pages that are dealt out beside each other, and whether they say it. */
export function SplitTests({ tests, currency }: { tests: readonly SplitTest[]; currency: Currency }) {
  return (
    <section aria-label="Split tests" style={{ marginTop: 18 }}>
      <h2>Split tests</h2>
      {tests.map(({ rule, name, since, days, outlook, commission, clicks, mix }) => {
        const { word, why, sure } = verdictWords(outlook);
        const most = Math.max(...outlook.arms.map(({ conversions, uniques }) => wilson(conversions, uniques)[1]));
        return (
          <div key={rule} className="stack" style={{ gap: 6, marginBottom: 14 }}>
            <p>
              <b>{name || rule}</b>{' '}
              <span className="mute small">
                since {showDay(since)}, {days} days{mix.shift && ', weights shift by themselves'}
              </span>
            </p>
            <p className={sure ? 'note calm' : 'note wait'}>
              <b>{word}</b>: {why}
            </p>
            <table className="records plainly" aria-label={`Pages of ${name || rule}`}>
              <thead>
                <tr>
                  <th scope="col">Page</th>
                  <th scope="col" className="num">
                    Rate
                  </th>
                  <th scope="col" className="num">
                    Chance best
                  </th>
                  <th
                    scope="col"
                    className="num"
                    title="What is given up on the average by sending everybody here, in percentage points of the rate"
                  >
                    Expected loss
                  </th>
                  <th scope="col" className="num">
                    Per click
                  </th>
                </tr>
              </thead>
              <tbody>
                {outlook.arms.map(({ page, uniques, conversions, chanceToBeBest, expectedLoss }) => {
                  const earned = commission.get(page) ?? 0;
                  const count = clicks.get(page) ?? 0;
                  return (
                    <tr key={page}>
                      <td>
                        {page} <span className="mute small">{showCount(uniques)} unique</span>
                      </td>
                      <td className="num">
                        <RateBar part={conversions} whole={uniques} most={most} width={36} />
                      </td>
                      <td className="num">{percent(chanceToBeBest)}</td>
                      <td className="num">{points(expectedLoss)}</td>
                      <td className="num">
                        {count === 0 ? '–' : showAmount(money(Math.round(earned / count), currency))}
                      </td>
                    </tr>
                  );
                })}
              </tbody>
            </table>
          </div>
        );
      })}
    </section>
  );
}
