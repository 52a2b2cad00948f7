import type { Metadata } from 'next';
import Link from 'next/link';
import { notFound } from 'next/navigation';
import { showCount } from '@/core/reports/measures';
import { addDays, endOfMonth, startOfMonth } from '@/core/time/days';
import { showTime } from '@/core/time/zones';
import { listOffers } from '@/services/offers';
import { newestReconciliations } from '@/services/reconciling';
import { fileSources } from '@/services/recording';
import { RecordTable } from '@/ui/table/RecordTable';
import { WayBack } from '@/ui/shell/WayBack';
import { Shell } from '../../../Shell';
import { type SearchParams, openDesk } from '../../../desk';
import { CompareReport } from './CompareReport';

export const metadata: Metadata = { title: 'Reconcile' };

const SHOWN = 50;

export default async function ReconcilePage({ searchParams }: { searchParams: SearchParams }) {
  const desk = await openDesk(searchParams);
  if (!desk.may('decide_commissions')) notFound();
  const { stores, actor, program } = desk;
  // Reports are of a month that is over.
  const last = endOfMonth(addDays(startOfMonth(desk.today), -1));
  return (
    <Shell desk={desk} station="conversions" title="Reconcile">
      <section className="card">
        <div className="head">
          <WayBack href="/conversions" from="Conversions" title="Reconcile" />
          <span className="mute small">
            A report of the merchant or a network, line by line against what is recorded. Nothing changes until you
            decide.
          </span>
        </div>
        <CompareReport
          sources={fileSources(stores, actor).map(({ source }) => source)}
          offers={listOffers(stores, actor).map(({ id, name }) => ({ id, name }))}
          from={startOfMonth(last)}
          to={last}
        />
        <RecordTable
          label="Reconciliations"
          rows={newestReconciliations(stores, actor, SHOWN)}
          keyOf={({ id }) => String(id)}
          empty={<b>No report was compared yet</b>}
          columns={[
            {
              key: 'source',
              head: 'Report of',
              cell: ({ id, source }) => (
                <Link className="strong" href={`/conversions/reconcile/${id}`}>
                  {source}
                </Link>
              ),
            },
            {
              key: 'days',
              head: 'Days',
              cell: ({ fromDay, toDay, offerName }) => (
                <span className="nowrap">
                  {fromDay} to {toDay} <span className="mute">{offerName ?? 'all offers'}</span>
                </span>
              ),
            },
            { key: 'equal', head: 'Equal', num: true, cell: ({ equal }) => showCount(equal) },
            { key: 'differs', head: 'Differs', num: true, cell: ({ differs }) => showCount(differs) },
            { key: 'there', head: 'Only there', num: true, cell: ({ onlyThere }) => showCount(onlyThere) },
            { key: 'here', head: 'Only here', num: true, cell: ({ onlyHere }) => showCount(onlyHere) },
            {
              key: 'undecided',
              head: 'Undecided',
              num: true,
              cell: ({ undecided }) =>
                undecided === 0 ? <span className="mute">none</span> : <b>{showCount(undecided)}</b>,
            },
            {
              key: 'time',
              head: 'Compared',
              cell: ({ time, actor: who }) => (
                <span className="mute nowrap">
                  {showTime(time, program.timeZone)} by {who}
                </span>
              ),
            },
          ]}
        />
      </section>
    </Shell>
  );
}
