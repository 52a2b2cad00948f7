import { UNMATCHED_WORDS } from '@/core/attribution/match';
import { showTime } from '@/core/time/zones';
import type { ConversionListRow } from '@/store/books/conversions';
import { Amount } from '@/ui/figures/Amount';
import { Lifecycle } from '@/ui/figures/Lifecycle';
import type { Column } from '@/ui/table/RecordTable';
import type { Desk } from '../../desk';

export const traceOf = ({ id }: ConversionListRow): string => `conversion:${id}`;

/** What the log of conversions can show. */
export function conversionColumns(desk: Desk): Column<ConversionListRow>[] {
  return [
    {
      key: 'time',
      head: 'Time',
      cell: ({ time }) => <span className="nowrap mute">{showTime(time, desk.program.timeZone)}</span>,
    },
    { key: 'event', head: 'Event', cell: ({ event }) => event },
    { key: 'order', head: 'Order', cell: ({ orderRef }) => <code className="nowrap">{orderRef}</code> },
    {
      key: 'partner',
      head: 'Partner',
      cell: ({ partnerName, unmatched }) =>
        partnerName ? (
          <span className="nowrap">{partnerName}</span>
        ) : (
          <span className="tag wait" title={unmatched ? UNMATCHED_WORDS[unmatched] : ''}>
            <span className="dot" />
            {unmatched?.replaceAll('_', ' ')}
          </span>
        ),
    },
    { key: 'channel', head: 'Channel', cell: ({ channelName }) => <div className="clip">{channelName}</div> },
    { key: 'offer', head: 'Offer', cell: ({ offerName }) => offerName },
    {
      key: 'amount',
      head: 'Sale',
      num: true,
      cell: ({ amount, currency }) => <Amount minor={amount} currency={currency} />,
    },
    {
      key: 'commission',
      head: `Commission (${desk.program.currency})`,
      num: true,
      cell: (row) =>
        row.commission !== null && (
          <Amount
            bare
            minor={row.commission - (row.commissionReversed ?? 0)}
            currency={desk.program.currency}
            href={desk.href({ trace: traceOf(row) })}
          />
        ),
    },
    {
      key: 'state',
      head: 'State',
      cell: ({ commissionState, state }) =>
        commissionState ? (
          <Lifecycle state={commissionState} />
        ) : (
          <span className="mute">{state === 'pending' ? 'pays nothing' : state}</span>
        ),
    },
  ];
}
