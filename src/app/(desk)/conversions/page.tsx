import type { Metadata } from 'next';
import Link from 'next/link';
import { readFilters } from '@/core/reports/columns';
import { showCount } from '@/core/reports/measures';
import { CONVERSION_COLUMNS, CONVERSION_FILTERS, conversionColumns, customFields } from '@/services/conversion_log';
import { listConversions } from '@/services/conversions';
import { listOffers } from '@/services/offers';
import { waitingReports } from '@/services/receipts';
import { openReviews } from '@/services/reviews';
import { isConversionFilter } from '@/store/books/conversion_filters';
import { ColumnChooser } from '@/ui/table/ColumnChooser';
import { FilterBar } from '@/ui/table/FilterBar';
import { DeskList } from '../../DeskList';
import { Shell } from '../../Shell';
import { type Desk, type SearchParams, openDesk } from '../../desk';
import { Calendar } from './Calendar';
import { Calls } from './Calls';
import { Decide } from './Decide';
import { RecordByHand } from './RecordByHand';
import { Review } from './Review';
import { Unmatched } from './Unmatched';
import { Waiting } from './Waiting';
import { keepConversionColumns } from './actions';
import { columnsOf, tickColumn, traceOf } from './columns';

export const metadata: Metadata = { title: 'Conversions' };

const SHELVES = ['all', 'unmatched', 'review', 'waiting', 'calls', 'calendar'] as const;
type ShelfId = (typeof SHELVES)[number];
/** Where the trace takes its place, the columns that say most are kept. */
const BESIDE_TRACE = 6;

export default async function ConversionsPage({ searchParams }: { searchParams: SearchParams }) {
  const desk = await openDesk(searchParams);
  const shelf = SHELVES.find((id) => id === desk.param('shelf')) ?? 'all';
  const { conversions, unmatched } = desk.figures;
  const to = (id: ShelfId, words: string, count?: number) => (
    <Link
      href={desk.href({
        shelf: id === 'all' ? undefined : id,
        page: undefined,
        trace: undefined,
        cause: undefined,
        where: undefined,
        of: undefined,
      })}
      aria-current={shelf === id ? 'page' : undefined}
    >
      {words} {count !== undefined && <b>{showCount(count)}</b>}
    </Link>
  );
  const bodies: Record<ShelfId, () => React.ReactNode> = {
    all: () => <All desk={desk} />,
    unmatched: () => <Unmatched desk={desk} />,
    review: () => <Review desk={desk} />,
    waiting: () => <Waiting desk={desk} />,
    calls: () => <Calls desk={desk} />,
    calendar: () => <Calendar desk={desk} />,
  };
  return (
    <Shell desk={desk} station="conversions" title="Conversions">
      <section className="card">
        <div className="head">
          <nav className="shelves" aria-label="Shelves">
            {to('all', 'All', conversions + unmatched)}
            {to('unmatched', 'Unmatched', unmatched)}
            {desk.may('decide_commissions') &&
              to('review', 'In review', openReviews(desk.stores, desk.actor, desk.scope))}
            {to('waiting', 'Early statuses', waitingReports(desk.stores, desk.actor).length)}
            {to('calls', 'Calls')}
            {to('calendar', 'Validation calendar')}
          </nav>
          <div className="right">
            {desk.may('manage_partners') && (
              <>
                <RecordByHand events={eventsOf(desk)} />
                <Link className="pick" href="/conversions/import">
                  Import a file
                </Link>
              </>
            )}
            {desk.may('decide_commissions') && (
              <Link className="pick" href="/conversions/reconcile">
                Reconcile
              </Link>
            )}
          </div>
        </div>
        {bodies[shelf]()}
      </section>
    </Shell>
  );
}

const eventsOf = (desk: Desk): string[] => [
  ...new Set(listOffers(desk.stores, desk.actor).flatMap(({ events }) => events.map(({ event }) => event))),
];

function All({ desk }: { desk: Desk }) {
  const { stores, actor, scope } = desk;
  const filters = readFilters(desk.param('where'), isConversionFilter);
  const list = listConversions(stores, actor, scope, 'all', desk.paging, filters);
  const fields = customFields(stores, actor);
  const chosen = conversionColumns(stores, actor, fields);
  const names = Object.entries(CONVERSION_COLUMNS).map(([id, label]) => ({ id, label }));
  const columns = columnsOf(desk, desk.trace ? chosen.slice(0, BESIDE_TRACE) : chosen, fields);
  const decides = desk.may('decide_commissions');
  return (
    <>
      <div className="bar">
        <FilterBar
          filters={filters}
          fields={[
            ...Object.entries(CONVERSION_FILTERS).map(([id, label]) => ({ id, label })),
            ...fields.map(({ name, label }) => ({ id: name, label })),
          ]}
        />
        <div className="right">
          {decides && <Decide />}
          <ColumnChooser
            all={[...names, ...fields.map(({ name, label }) => ({ id: name, label }))]}
            chosen={chosen}
            save={keepConversionColumns}
          />
        </div>
      </div>
      <DeskList
        desk={desk}
        label="Conversions"
        columns={decides ? [tickColumn, ...columns] : columns}
        list={list}
        exported="conversions"
        keyOf={({ id }) => String(id)}
        traceOf={traceOf}
        empty={
          filters.length > 0 ? (
            <>
              <b>No conversion has all of this</b>Take a filter away, or widen the scope.
            </>
          ) : (
            <>
              <b>No conversions here</b>The merchant’s server reports them by postback; its address stands under Setup.
            </>
          )
        }
      />
    </>
  );
}
