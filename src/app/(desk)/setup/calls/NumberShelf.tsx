import { showCount } from '@/core/reports/measures';
import { listNumbers } from '@/services/calls';
import { listOffers } from '@/services/offers';
import type { OfferRow } from '@/store/books/offers';
import { ConfirmButton } from '@/ui/feedback/ConfirmButton';
import { RecordTable } from '@/ui/table/RecordTable';
import type { Desk } from '../../../desk';
import { dropNumber } from '../actions';
import { AddNumbers } from './AddNumbers';

/** The telephone numbers that calls are counted by, and how the exchange reports them. */
export function NumberShelf({ desk }: { desk: Desk }) {
  const { stores, actor, program } = desk;
  const takesCalls = ({ events }: OfferRow): boolean => events.some(({ kind }) => kind === 'call');
  const offers = listOffers(stores, actor)
    .sort((a, b) => Number(takesCalls(b)) - Number(takesCalls(a)))
    .map((offer) => ({
      id: offer.id,
      name: takesCalls(offer) ? offer.name : `${offer.name} (no event of the kind “call” yet)`,
    }));
  return (
    <>
      <div className="pad stack" style={{ maxWidth: 820 }}>
        <p>
          A number belongs to one channel for good, or is shown to one visit at a time: the page tag writes it into
          every element with <code>data-brivet-number</code>, and a call is its visit’s for half an hour after it. When
          a call counts is said by the offer’s event of the kind “call”.
        </p>
        <p>
          The exchange reports each call once it is over, by GET or POST with the postback’s key or signature:
          <br />
          <code style={{ overflowWrap: 'anywhere' }}>
            {program.trackingOrigin}
            /call?key=…&amp;call=C-1041&amp;number=%2B15550100&amp;caller=%2B15550142&amp;started=2026-11-24T14:05:00%2B01:00&amp;answered=1&amp;length=184&amp;place=Breda
          </code>
        </p>
        <p className="mute">
          Of the caller’s number only a hash and the last two digits are kept. Who hides it sends none, or a word.
        </p>
        <div className="actions">
          <AddNumbers offers={offers} />
        </div>
      </div>
      <RecordTable
        label="Telephone numbers"
        rows={listNumbers(stores, actor)}
        keyOf={({ id }) => String(id)}
        empty={
          <>
            <b>No number yet</b>Add numbers of your telephone exchange to count calls.
          </>
        }
        columns={[
          { key: 'number', head: 'Number', cell: ({ number }) => <code className="nowrap">{number}</code> },
          { key: 'offer', head: 'Offer', cell: ({ offerName }) => offerName },
          {
            key: 'use',
            head: 'Shown to',
            cell: ({ use, partnerName, channelName }) =>
              use === 'visits' ? (
                'one visit at a time'
              ) : (
                <>
                  <b>{channelName}</b> <span className="mute">of {partnerName}</span>
                </>
              ),
          },
          { key: 'calls', head: 'Calls', num: true, cell: ({ calls }) => showCount(calls) },
          {
            key: 'remove',
            head: '',
            cell: ({ id, number }) => (
              <ConfirmButton
                label="Remove"
                variant="text"
                title={`Take ${number} out of the pool?`}
                consequences="Calls to it are nobody’s from now on. What was counted by it stays. It can be added again."
                values={{ id }}
                action={dropNumber}
              />
            ),
          },
        ]}
      />
    </>
  );
}
