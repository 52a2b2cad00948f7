import type { Metadata } from 'next';
import Link from 'next/link';
import { showCount } from '@/core/reports/measures';
import { listConversions } from '@/services/conversions';
import { listOffers } from '@/services/offers';
import { DeskList } from '../../DeskList';
import { Shell } from '../../Shell';
import { type Desk, type SearchParams, openDesk } from '../../desk';
import { RecordByHand } from './RecordByHand';
import { Unmatched } from './Unmatched';
import { conversionColumns, traceOf } from './columns';

export const metadata: Metadata = { title: 'Conversions' };

export default async function ConversionsPage({ searchParams }: { searchParams: SearchParams }) {
  const desk = await openDesk(searchParams);
  const shelf = desk.param('shelf') === 'unmatched' ? 'unmatched' : 'all';
  const { conversions, unmatched } = desk.figures;
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
          {desk.may('manage_partners') && (
            <div className="right">
              <RecordByHand events={eventsOf(desk)} />
              <Link className="pick" style={{ textDecoration: 'none' }} href="/conversions/import">
                Import a file
              </Link>
            </div>
          )}
        </div>
        {shelf === 'unmatched' ? <Unmatched desk={desk} /> : <All desk={desk} />}
      </section>
    </Shell>
  );
}

const eventsOf = (desk: Desk): string[] => [
  ...new Set(listOffers(desk.stores, desk.actor).flatMap(({ events }) => events.map(({ event }) => event))),
];

function All({ desk }: { desk: Desk }) {
  const list = listConversions(desk.stores, desk.actor, desk.scope, 'all', desk.paging);
  const columns = conversionColumns(desk);
  return (
    <DeskList
      desk={desk}
      label="Conversions"
      columns={desk.trace ? columns.filter(({ key }) => key !== 'channel' && key !== 'offer') : columns}
      list={list}
      exported="conversions"
      keyOf={({ id }) => String(id)}
      traceOf={traceOf}
      empty={
        <>
          <b>No conversions here</b>The merchant’s server reports them by postback; its address stands under Setup.
        </>
      }
    />
  );
}
