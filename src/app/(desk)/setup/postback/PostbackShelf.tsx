import { outcomeReason, OUTCOME_WORDS, outcomeTone } from '@/core/conversions/outcomes';
import { isoTime } from '@/core/time/days';
import { showTime } from '@/core/time/zones';
import { listOffers } from '@/services/offers';
import { postbackFields } from '@/services/postbacks';
import { NEWEST_RECEIPTS, type Receipt, newestReceipts } from '@/services/receipts';
import { RecordTable } from '@/ui/table/RecordTable';
import type { Desk } from '../../../desk';
import { PostbackKey } from '../SetupForms';
import { PostbackAddress } from './PostbackAddress';
import { SigningSecret } from './SigningSecret';

/** What the merchant's developer needs: the address, a test, the page tag, and what was received lately. */
export function PostbackShelf({ desk }: { desk: Desk }) {
  const { stores, actor, program } = desk;
  const offers = listOffers(stores, actor).map(({ id, name, events }) => ({
    id,
    name,
    events: events.map(({ event }) => event),
  }));
  return (
    <>
      <div className="pad columns wide-left">
        <PostbackAddress origin={program.trackingOrigin} programId={program.id} offers={offers} />
        <div className="stack">
          <h2 style={{ margin: 0 }}>Key and signature</h2>
          <p className="small">
            The key goes with each postback. Safer is a signature: HMAC-SHA256, in hexadecimal, over all parameters but{' '}
            <code>sig</code>, sorted by name and encoded as forms are; with a JSON body, a line feed and the body
            follow. <code>ts</code> may be ten minutes old.
          </p>
          <div className="actions" style={{ margin: 0 }}>
            <PostbackKey />
            <SigningSecret />
          </div>
          <details className="fold" open>
            <summary>The page tag, and pixels</summary>
            <p className="small">
              On every page of the shop where direct links or references may lead. It reports landings as clicks, keeps
              the click ID on the shop’s own site, and hands it on to forms and links marked with{' '}
              <code>data-brivet</code>. A strict policy needs the tracking host in script-src and connect-src.
            </p>
            <div className="address">{`<script src="${program.trackingOrigin}/tag.js" async></script>`}</div>
            <p className="small mute">
              With <code>data-consent=&quot;wait&quot;</code> nothing is kept or sent before{' '}
              <code>brivet.consent(true)</code>. <code>brivet.click()</code> gives the click ID,{' '}
              <code>brivet.visitor()</code> whom the tag knows the browser by, <code>brivet.convert</code> reports a
              conversion where the offer listens to pages. <code>data-keep=&quot;first&quot;</code> keeps the first
              click ID; elements with <code>data-brivet-number</code> show the visit’s telephone number. Without script:
            </p>
            <div className="address">{`<img src="${program.trackingOrigin}/pixel.gif?ref=CODE&page=ADDRESS" alt="">`}</div>
          </details>
        </div>
      </div>
      <div className="head">
        <h2 className="title">Received</h2>
        <span className="mute small">
          the last {NEWEST_RECEIPTS}, newest first; a malformed one was answered with its reason and not kept
        </span>
      </div>
      <Received desk={desk} receipts={newestReceipts(stores, actor)} />
    </>
  );
}

const said = (receipt: Receipt, name: string): string => {
  const fields = postbackFields(receipt.postback);
  const value = fields.ok ? fields.value[name] : undefined;
  return typeof value === 'string' || typeof value === 'number' ? String(value) : '';
};

const Received = ({ desk, receipts }: { desk: Desk; receipts: Receipt[] }) => (
  <RecordTable
    label="Received"
    rows={receipts}
    keyOf={({ postback }) => postback.receiptId}
    traceOf={({ outcome }) => (outcome?.conversionId ? `conversion:${outcome.conversionId}` : undefined)}
    shownTrace={desk.param('trace')}
    empty={
      <>
        <b>Nothing was received yet</b>Send a test, or give the address to the merchant’s developer.
      </>
    }
    columns={[
      {
        key: 'time',
        head: 'Received',
        cell: ({ postback: { time } }) => (
          <time className="nowrap mute" dateTime={isoTime(time)} title={isoTime(time, desk.program.timeZone)}>
            {showTime(time, desk.program.timeZone)}
          </time>
        ),
      },
      {
        key: 'what',
        head: 'Event and order',
        cell: (receipt) => (
          <>
            {said(receipt, 'event')} <code className="nowrap">{said(receipt, 'order')}</code>
          </>
        ),
      },
      {
        key: 'outcome',
        head: 'What became of it',
        cell: ({ outcome }) =>
          outcome ? (
            <>
              <span
                className={outcomeTone(outcome.outcome) === 'well' ? 'strong' : `tag ${outcomeTone(outcome.outcome)}`}
              >
                {OUTCOME_WORDS[outcome.outcome]}
              </span>{' '}
              <span className="mute small">{outcomeReason(outcome.outcome, outcome.detail)}</span>
            </>
          ) : (
            <span className="mute">not read yet</span>
          ),
      },
      {
        key: 'raw',
        head: 'As it arrived',
        cell: ({ postback: { receiptId, via, method, query, body } }) => (
          <details className="raw">
            <summary>
              {via === 'server' ? method : via} <code>…{receiptId.slice(-6)}</code>
            </summary>
            <code className="raw">
              {receiptId}
              {'\n'}
              {query}
              {query && body && '\n'}
              {body}
            </code>
          </details>
        ),
      },
    ]}
  />
);
