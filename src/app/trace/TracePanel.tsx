import Link from 'next/link';
import { money } from '@/core/money/money';
import { showAmount } from '@/core/money/text';
import { type Day, showDay } from '@/core/time/calendar';
import { isoTime, showTime } from '@/core/time/days';
import type { Trace } from '@/services/trace';
import { Explanation } from '@/ui/explanation/Explanation';
import { Lifecycle } from '@/ui/figures/Lifecycle';
import { CommissionActions, isDue } from '../(desk)/commissions/CommissionActions';
import { LedgerSteps } from './LedgerSteps';
import { TraceClick } from './TraceClick';
import { TraceConversion } from './TraceConversion';

interface Props {
  trace: Trace;
  zone: string;
  closeHref: string;
  /** Today in the program's zone. */
  today: Day;
  mayDecide: boolean;
}

/** The chain from payout to link, newest first, each step with its time and its raw material one click away. */
export function TracePanel({ trace, zone, closeHref, today, mayDecide }: Props) {
  const at = (time: number) => (
    <time dateTime={isoTime(time)} title={isoTime(time, zone)} className="mute small">
      {showTime(time, zone)}
    </time>
  );
  const { payout, commission, conversion, postback, outcome, click, link } = trace;
  return (
    <aside className="trace card pad" aria-label="Trace">
      <div className="actions" style={{ marginBottom: 12 }}>
        <h2 style={{ margin: 0 }}>
          Trace of {trace.of.kind}{' '}
          <code>{trace.of.id.length > 12 ? `${trace.of.id.slice(0, 6)}…${trace.of.id.slice(-4)}` : trace.of.id}</code>
        </h2>
        <Link
          href={closeHref}
          scroll={false}
          className="pick"
          style={{ marginLeft: 'auto' }}
          aria-label="Close the trace"
        >
          Close
        </Link>
      </div>
      <ol className="hops">
        {payout && (
          <li>
            <b>
              Statement {payout.run.number}-{payout.item.partnerCode}
            </b>{' '}
            {payout.run.settledAt !== null && at(payout.run.settledAt)}
            <dl>
              <dt>Paid out</dt>
              <dd>
                {showAmount(money(payout.item.payoutAmount ?? 0, payout.item.payoutCurrency))}, {payout.item.state}
              </dd>
            </dl>
            <Link href={`/payouts/${payout.run.id}`}>Run {payout.run.number}</Link> ·{' '}
            <a href={`/payouts/${payout.run.id}/statement/${payout.item.partnerId}/pdf`}>Statement as PDF</a>
          </li>
        )}
        {trace.ledger && trace.ledger.length > 0 && (
          <li>
            <b>Ledger</b>
            <LedgerSteps lines={trace.ledger} at={at} />
          </li>
        )}
        {commission && (
          <li>
            <b>Commission {showAmount(money(commission.amount - commission.reversed, commission.currency))}</b>{' '}
            {at(commission.createdAt)}
            <div>
              <Lifecycle state={isDue(commission, today) ? 'due' : commission.state} />{' '}
              <span className="mute small">
                {commission.payableOn
                  ? `payable from ${showDay(commission.payableOn as Day)}`
                  : 'payable once its completion is known'}
              </span>
            </div>
            {commission.reversed > 0 && (
              <p className="small">
                {showAmount(money(commission.reversed, commission.currency))} of{' '}
                {showAmount(money(commission.amount, commission.currency))} was taken back.
              </p>
            )}
            {mayDecide && <CommissionActions commission={commission} today={today} />}
            {trace.explanation && (
              <Explanation
                explanation={trace.explanation}
                rows={trace.sheetRows ?? []}
                currency={commission.currency}
              />
            )}
            {commission.state === 'needs_rate' && (
              <p className="note wait">
                No rate of exchange from {commission.saleCurrency} to {commission.currency} is stored on or before{' '}
                {showDay(commission.day as Day)}.
              </p>
            )}
            {(trace.ratings ?? 0) > 1 && <p className="mute small">Rated {trace.ratings} times; this is the newest.</p>}
          </li>
        )}
        {conversion && <TraceConversion trace={{ ...trace, conversion }} at={at} />}
        {postback && (
          <li>
            <b>{postback.about === 'call' ? 'Call, as it was reported' : 'Postback, as it came'}</b> {at(postback.time)}
            <dl>
              <dt>Receipt</dt>
              <dd>
                <code>{postback.receiptId}</code>
              </dd>
              {outcome && [
                <dt key="b">Became</dt>,
                <dd key="bv">
                  {outcome.outcome}
                  {outcome.detail && `: ${outcome.detail}`}
                </dd>,
              ]}
            </dl>
            <details>
              <summary>{postback.method}, raw</summary>
              <pre>{[postback.query, postback.body].filter(Boolean).join('\n\n')}</pre>
            </details>
          </li>
        )}
        {click && <TraceClick click={click} at={at} />}
        {link && (
          <li>
            <b>Link</b> {at(link.createdAt)}
            <dl>
              <dt>Code</dt>
              <dd>
                <code>{link.code}</code>, {link.state}
              </dd>
              <dt>For</dt>
              <dd>
                {link.partnerName}, {link.channelName}, {link.offerName}
              </dd>
            </dl>
            <details>
              <summary>Address</summary>
              <pre>{link.address}</pre>
            </details>
          </li>
        )}
      </ol>
    </aside>
  );
}
