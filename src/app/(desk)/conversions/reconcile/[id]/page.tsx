import type { Metadata } from 'next';
import Link from 'next/link';
import { notFound } from 'next/navigation';
import { FINDINGS, type Finding } from '@/core/conversions/reconcile';
import { showCount } from '@/core/reports/measures';
import { showTime } from '@/core/time/zones';
import { readReconciliation, reconciliationLines } from '@/services/reconciling';
import type { ReconciliationLine } from '@/store/books/reconciliations';
import type { Column } from '@/ui/table/RecordTable';
import { DeskList } from '../../../../DeskList';
import { WayBack } from '@/ui/shell/WayBack';
import { Shell } from '../../../../Shell';
import { type Desk, type SearchParams, openDesk } from '../../../../desk';
import { foundOrNot } from '../../../../found';
import { DecideLines } from './DecideLines';

export const metadata: Metadata = { title: 'Reconciliation' };

interface Props {
  params: Promise<{ id: string }>;
  searchParams: SearchParams;
}

export default async function ReconciliationPage({ params, searchParams }: Props) {
  const desk = await openDesk(searchParams);
  if (!desk.may('decide_commissions')) notFound();
  const { stores, actor, program } = desk;
  const { id } = await params;
  const report = foundOrNot(() => readReconciliation(stores, actor, Number(id)));
  const counts: Record<Finding, number> = {
    ...{ differs: report.differs, only_there: report.onlyThere, only_here: report.onlyHere, equal: report.equal },
  };
  const names = Object.keys(FINDINGS) as Finding[];
  const finding = names.find((each) => each === desk.param('of')) ?? names.find((each) => counts[each] > 0) ?? 'equal';
  const list = reconciliationLines(stores, actor, report.id, finding, desk.paging);
  const undecided = stores.books.reconciliations.undecided(report.id, finding).length;
  return (
    <Shell desk={desk} station="conversions" title="Reconciliation">
      <section className="card">
        <div className="head">
          <WayBack href="/conversions/reconcile" from="Reconcile" title={report.source} />
          <span className="mute small">
            {report.fromDay} to {report.toDay}, {report.offerName ?? 'all offers'} · compared{' '}
            {showTime(report.time, program.timeZone)} by {report.actor} ·{' '}
            {report.undecided === 0 ? 'nothing is undecided' : `${showCount(report.undecided)} undecided`}
          </span>
          <div className="right">
            <a className="pick" href={`/export/reconciliation?shelf=${report.id}`} download>
              Export as CSV
            </a>
          </div>
        </div>
        <div className="bar">
          <nav className="shelves" aria-label="Findings">
            {names.map((each) => (
              <Link
                key={each}
                href={desk.href({ of: each, page: undefined, trace: undefined })}
                aria-current={finding === each ? 'page' : undefined}
              >
                {FINDINGS[each]} <b>{showCount(counts[each])}</b>
              </Link>
            ))}
          </nav>
          <div className="right">
            {finding !== 'equal' && undecided > 0 && <DecideLines id={report.id} finding={finding} all={undecided} />}
          </div>
        </div>
        <DeskList
          desk={desk}
          label={FINDINGS[finding]}
          list={list}
          keyOf={(row) => String(row.id)}
          traceOf={({ conversionId }) => (conversionId === null ? undefined : `conversion:${conversionId}`)}
          empty={<b>Nothing of this kind</b>}
          columns={columnsOf(desk, finding)}
        />
      </section>
    </Shell>
  );
}

function columnsOf(desk: Desk, finding: Finding): Column<ReconciliationLine>[] {
  const decided = finding !== 'equal';
  return [
    ...(decided
      ? [
          {
            key: 'tick',
            head: '',
            cell: ({ id, decision, fields }: ReconciliationLine) =>
              decision === null && (
                <input
                  type="checkbox"
                  name="chosen"
                  value={id}
                  aria-label={`Choose ${fields.order ?? fields.click_id ?? id}`}
                />
              ),
          },
        ]
      : []),
    ...(finding === 'only_here'
      ? []
      : [{ key: 'line', head: 'Line', num: true as const, cell: ({ line }: ReconciliationLine) => line }]),
    { key: 'event', head: 'Event', cell: ({ fields }) => fields.event },
    {
      key: 'order',
      head: 'Order or click',
      cell: ({ fields }) => <code className="nowrap">{fields.order ?? fields.click_id}</code>,
    },
    finding === 'differs'
      ? {
          key: 'differences',
          head: 'There, and here',
          cell: ({ differences }) => (
            <ul className="seen">
              {differences.map(({ field, theirs, ours }) => (
                <li key={field}>
                  {field} <b>{theirs}</b> <span className="mute">there,</span> <b>{ours || 'nothing'}</b>{' '}
                  <span className="mute">here</span>
                </li>
              ))}
            </ul>
          ),
        }
      : {
          key: 'amount',
          head: 'Sale',
          num: true,
          cell: ({ fields: { amount, currency = desk.program.currency } }) =>
            amount && (
              <span className="nowrap">
                {amount} {currency}
              </span>
            ),
        },
    { key: 'status', head: 'Status there', cell: ({ fields }) => fields.status ?? '' },
    ...(decided
      ? [
          {
            key: 'decision',
            head: 'Decision',
            cell: ({ decision, decidedBy, decidedAt }: ReconciliationLine) =>
              decision === null ? (
                <span className="tag wait">undecided</span>
              ) : (
                <span>
                  {decision}{' '}
                  <span className="mute">
                    {decidedBy}
                    {decidedAt !== null && `, ${showTime(decidedAt, desk.program.timeZone)}`}
                  </span>
                </span>
              ),
          },
        ]
      : []),
  ];
}
