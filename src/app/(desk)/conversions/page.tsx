import type { Metadata } from 'next';
import Link from 'next/link';
import { UNMATCHED_WORDS } from '@/core/attribution/match';
import { showCount } from '@/core/reports/measures';
import { showTime } from '@/core/time/zones';
import { listConversions } from '@/services/conversions';
import type { ConversionListRow } from '@/store/books/conversions';
import { Amount } from '@/ui/figures/Amount';
import { Lifecycle } from '@/ui/figures/Lifecycle';
import type { Column } from '@/ui/table/RecordTable';
import { DeskList } from '../../DeskList';
import { Shell } from '../../Shell';
import { type SearchParams, openDesk } from '../../desk';

export const metadata: Metadata = { title: 'Conversions' };

const traceOf = ({ id }: ConversionListRow): string => `conversion:${id}`;

export default async function ConversionsPage({ searchParams }: { searchParams: SearchParams }) {
  const desk = await openDesk(searchParams);
  const shelf = desk.param('shelf') === 'unmatched' ? 'unmatched' : 'all';
  const list = listConversions(desk.stores, desk.actor, desk.scope, shelf, desk.paging);
  const { conversions, unmatched } = desk.figures;
  const columns: Column<ConversionListRow>[] = [
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
  return (
    <Shell desk={desk} station="conversions" title="Conversions">
      <section className="card">
        <div className="head">
          <nav className="shelves" aria-label="Shelves">
            <Link
              href={desk.href({ shelf: undefined, page: undefined, trace: undefined })}
              aria-current={shelf === 'all' ? 'page' : undefined}
            >
              All <b>{showCount(conversions + unmatched)}</b>
            </Link>
            <Link
              href={desk.href({ shelf: 'unmatched', page: undefined, trace: undefined })}
              aria-current={shelf === 'unmatched' ? 'page' : undefined}
            >
              Unmatched <b>{showCount(unmatched)}</b>
            </Link>
          </nav>
        </div>
        <DeskList
          desk={desk}
          label="Conversions"
          columns={desk.trace ? columns.filter(({ key }) => key !== 'channel' && key !== 'offer') : columns}
          list={list}
          exported="conversions"
          keyOf={({ id }) => String(id)}
          traceOf={traceOf}
          empty={
            shelf === 'unmatched' ? (
              <>
                <b>Everything is matched</b>Each conversion of this scope found its click.
              </>
            ) : (
              <>
                <b>No conversions here</b>The merchant’s server reports them by postback; its address and key stand
                under Setup.
              </>
            )
          }
        />
      </section>
    </Shell>
  );
}
