import type { Metadata } from 'next';
import Link from 'next/link';
import { money } from '@/core/money/money';
import { showAmount } from '@/core/money/text';
import { showCount } from '@/core/reports/measures';
import { type Day, showDayNear } from '@/core/time/calendar';
import { commissionSums, dueToApprove, listCommissions } from '@/services/commissions';
import { sheetInForce } from '@/services/terms';
import type { CommissionListRow, CommissionShelf } from '@/store/books/commissions';
import { ConfirmButton } from '@/ui/feedback/ConfirmButton';
import { Amount } from '@/ui/figures/Amount';
import { Lifecycle } from '@/ui/figures/Lifecycle';
import type { Column } from '@/ui/table/RecordTable';
import { DeskList } from '../../DeskList';
import { Shell } from '../../Shell';
import { type Desk, type SearchParams, openDesk, scopeOf } from '../../desk';
import { SheetInForce } from './SheetInForce';
import { isDue } from './CommissionActions';
import { approveAllDue } from './actions';

export const metadata: Metadata = { title: 'Commissions' };

const SHELVES: readonly [CommissionShelf, string][] = [
  ['due', 'Due'],
  ['waiting', 'Held'],
  ['approved', 'Approved'],
  ['in_payout', 'In payout'],
  ['paid', 'Paid'],
  ['needs_rate', 'Needs a rate'],
  ['rejected', 'Rejected'],
  ['reversed', 'Reversed'],
];
const traceOf = ({ id }: CommissionListRow): string => `commission:${id}`;

export default async function CommissionsPage({ searchParams }: { searchParams: SearchParams }) {
  const desk = await openDesk(searchParams);
  const wanted = desk.param('shelf');
  if (wanted === 'sheet') return <SheetPage desk={desk} />;
  const shelf = SHELVES.find(([id]) => id === wanted)?.[0] ?? 'all';
  const list = listCommissions(desk.stores, desk.actor, desk.scope, shelf, desk.paging);
  const { currency } = desk.program;
  const columns: Column<CommissionListRow>[] = [
    {
      key: 'day',
      head: 'Day',
      cell: ({ day }) => <span className="nowrap mute">{showDayNear(day as Day, desk.today)}</span>,
    },
    { key: 'partner', head: 'Partner', cell: ({ partnerName }) => <div className="clip">{partnerName}</div> },
    {
      key: 'offer',
      head: 'Offer',
      cell: ({ offerName, event }) => (
        <span className="nowrap">
          {offerName}, {event}
        </span>
      ),
    },
    { key: 'order', head: 'Order', cell: ({ orderRef }) => <code className="nowrap">{orderRef}</code> },
    {
      key: 'sale',
      head: 'Sale',
      num: true,
      cell: ({ saleAmount, saleCurrency }) => <Amount minor={saleAmount} currency={saleCurrency} />,
    },
    {
      key: 'amount',
      head: `Commission (${currency})`,
      num: true,
      cell: (row) => (
        <Amount bare minor={row.amount - row.reversed} currency={currency} href={desk.href({ trace: traceOf(row) })} />
      ),
    },
    {
      key: 'payable',
      head: 'Payable from',
      cell: ({ payableOn }) => (
        <span className="nowrap">
          {payableOn ? showDayNear(payableOn as Day, desk.today) : <span className="mute">unknown</span>}
        </span>
      ),
    },
    { key: 'state', head: 'State', cell: (row) => <Lifecycle state={isDue(row, desk.today) ? 'due' : row.state} /> },
  ];
  const ready = dueToApprove(desk.stores, desk.actor, desk.scope);
  return (
    <Shell desk={desk} station="commissions" title="Commissions">
      <section className="card">
        <div className="head">
          <Shelves desk={desk} current={shelf} />
          <div className="right">
            {ready.inReview > 0 && (
              <Link className="mute small" href={`/conversions${desk.href({ shelf: 'review', page: undefined })}`}>
                {showCount(ready.inReview)} of them in review
              </Link>
            )}
            {ready.count > 0 && desk.may('decide_commissions') && (
              <ConfirmButton
                label={`Approve ${showCount(ready.count)} due`}
                variant="contained"
                title={`Approve ${showCount(ready.count)} commissions?`}
                values={{ scope: scopeOf(desk) }}
                action={approveAllDue}
                consequences={
                  <>
                    They come to <b>{showAmount(money(ready.amount, currency))}</b> and go into the next payout run.{' '}
                    {ready.inReview > 0 && `${showCount(ready.inReview)} stay in review. `}An approval is not undone;
                    what turns out wrong later is taken back with a reason.
                  </>
                }
              />
            )}
          </div>
        </div>
        <DeskList
          desk={desk}
          label="Commissions"
          columns={columns}
          list={list}
          exported="commissions"
          keyOf={({ id }) => String(id)}
          traceOf={traceOf}
          empty={
            <>
              <b>Nothing on this shelf</b>No commission of this scope is in this state.
            </>
          }
        />
      </section>
    </Shell>
  );
}

function Shelves({ desk, current }: { desk: Desk; current: CommissionShelf | 'sheet' }) {
  const sums = new Map(commissionSums(desk.stores, desk.actor, desk.scope).map((sum) => [sum.shelf, sum]));
  const href = (shelf: string | undefined): string => desk.href({ shelf, page: undefined, trace: undefined });
  return (
    <nav className="shelves" aria-label="Shelves">
      <Link href={href(undefined)} aria-current={current === 'all' ? 'page' : undefined}>
        All <b>{showCount([...sums.values()].reduce((all, { count }) => all + count, 0))}</b>
      </Link>
      {SHELVES.filter(([id]) => sums.has(id) || current === id).map(([id, name]) => (
        <Link
          key={id}
          href={href(id)}
          aria-current={current === id ? 'page' : undefined}
          title={showAmount(money(sums.get(id)?.amount ?? 0, desk.program.currency))}
        >
          {name} <b>{showCount(sums.get(id)?.count ?? 0)}</b>
        </Link>
      ))}
      <Link href={href('sheet')} aria-current={current === 'sheet' ? 'page' : undefined}>
        Rate sheet
      </Link>
    </nav>
  );
}

function SheetPage({ desk }: { desk: Desk }) {
  const version = sheetInForce(desk.stores, desk.actor);
  return (
    <Shell desk={desk} station="commissions" title="Rate sheet">
      <section className="card">
        <div className="head">
          <Shelves desk={desk} current="sheet" />
        </div>
        {version ? (
          <SheetInForce desk={desk} version={version} />
        ) : (
          <div className="empty">
            <b>No rate sheet is in force</b>Conversions are recorded and earn nothing until there is one.
          </div>
        )}
      </section>
    </Shell>
  );
}
