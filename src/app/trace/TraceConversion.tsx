import type { ReactNode } from 'react';
import { UNMATCHED_WORDS } from '@/core/attribution/match';
import { money } from '@/core/money/money';
import { showAmount } from '@/core/money/text';
import { type Day, showDay } from '@/core/time/calendar';
import type { Trace } from '@/services/trace';
import type { ReviewRow } from '@/store/books/reviews';

interface Props {
  trace: Trace & { conversion: NonNullable<Trace['conversion']> };
  at(time: number): ReactNode;
}
/** By what it found its partner, where that was not simply the click it named. */
const BY = { click: '', coupon: ', by coupon', visitor: ', by visitor', call: ', by call', hand: ', by hand' };

/** The conversion of a trace: what was reported, whose it is, what looked odd, and its history. */
export function TraceConversion({ trace: { conversion, history, call, review }, at }: Props) {
  return (
    <li>
      <b>Conversion: {conversion.event}</b> {at(conversion.time)}
      <dl>
        {conversion.orderRef && [
          <dt key="o">Order</dt>,
          <dd key="ov">
            <code>{conversion.orderRef}</code>
          </dd>,
        ]}
        <dt>Amount</dt>
        <dd>{showAmount(money(conversion.amount, conversion.currency))}</dd>
        <dt>Partner</dt>
        <dd>
          {conversion.partnerName ? `${conversion.partnerName}, ${conversion.channelName}` : 'none yet'}
          {conversion.matchedBy && BY[conversion.matchedBy]}
        </dd>
        {conversion.coupon && [
          <dt key="k">Coupon</dt>,
          <dd key="kv">
            <code>{conversion.coupon}</code>
          </dd>,
        ]}
        {conversion.reportedBy !== 'server' && [
          <dt key="r">Reported by</dt>,
          <dd key="rv" className="tag wait">
            the page’s {conversion.reportedBy}, not the server
          </dd>,
        ]}
        {call && [
          <dt key="p">Call</dt>,
          <dd key="pv">
            to {call.number}, {call.length} s{call.callerEnd && `, from …${call.callerEnd}`}
          </dd>,
        ]}
        {conversion.completed && [<dt key="c">Completed</dt>, <dd key="cv">{showDay(conversion.completed as Day)}</dd>]}
        {Object.entries(conversion.custom).map(([name, value]) => [
          <dt key={name}>{name.slice(2)}</dt>,
          <dd key={`${name}v`}>{value}</dd>,
        ])}
      </dl>
      {review && <Seen review={review} />}
      {conversion.unmatched && <p className="note wait">{UNMATCHED_WORDS[conversion.unmatched]}</p>}
      {history && history.length > 0 && (
        <details>
          <summary>
            History, {history.length} {history.length === 1 ? 'entry' : 'entries'}
          </summary>
          {history.map(({ time, actor, what, detail }, i) => (
            <p key={i} className="small">
              {at(time)} {what} by {actor}
              {detail && `: ${detail}`}
            </p>
          ))}
        </details>
      )}
    </li>
  );
}

const STATES = { open: 'In review', cleared: 'Reviewed: nothing wrong', rejected: 'Rejected in review' };

function Seen({ review: { state, score, signals, decidedBy, reason } }: { review: ReviewRow }) {
  return (
    <div className={state === 'open' ? 'note wait' : 'note'}>
      <b>{STATES[state]}</b>
      {decidedBy && ` by ${decidedBy}`}
      {reason && `: ${reason}`}
      <ul className="seen">
        {signals.map(({ signal, weight, why }) => (
          <li key={signal}>
            {why} +{weight}
          </li>
        ))}
      </ul>
      <span className="mute">Score {score}</span>
    </div>
  );
}
