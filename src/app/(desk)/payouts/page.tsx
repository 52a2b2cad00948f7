import type { Metadata } from 'next';
import Link from 'next/link';
import { money } from '@/core/money/money';
import { showAmount } from '@/core/money/text';
import { type Day, addDays, showDay, startOfMonth } from '@/core/time/calendar';
import { dayOf } from '@/core/time/zones';
import { listRuns } from '@/services/payouts';
import type { RunRow } from '@/store/books/payouts';
import { ConfirmButton } from '@/ui/feedback/ConfirmButton';
import { Amount } from '@/ui/figures/Amount';
import { RunningJob } from '@/ui/job/JobProgress';
import { type Column, RecordTable } from '@/ui/table/RecordTable';
import { Shell } from '../../Shell';
import { type SearchParams, openDesk } from '../../desk';
import { draft } from './actions';

export const metadata: Metadata = { title: 'Payouts' };

export default async function PayoutsPage({ searchParams }: { searchParams: SearchParams }) {
  const desk = await openDesk(searchParams);
  const runs = listRuns(desk.stores, desk.actor);
  const { currency, timeZone, payoutDay } = desk.program;
  const open = runs.find(({ state }) => state === 'drafted' || state === 'approved' || state === 'exported');
  const columns: Column<RunRow>[] = [
    {
      key: 'number',
      head: 'Run',
      cell: ({ id, number }) => (
        <Link className="amount" href={`/payouts/${id}`}>
          Run {number}
        </Link>
      ),
    },
    { key: 'cutoff', head: 'Cut-off', cell: ({ cutOff }) => showDay(cutOff as Day) },
    {
      key: 'state',
      head: 'State',
      cell: ({ state }) =>
        state === 'settled' || state === 'abandoned' ? (
          <span className={state === 'abandoned' ? 'mute' : undefined}>{state}</span>
        ) : (
          <span className="tag wait">
            <span className="dot" />
            {state}
          </span>
        ),
    },
    { key: 'in', head: 'Partners in', num: true, cell: ({ partners }) => partners },
    {
      key: 'amount',
      head: `Paid (${currency})`,
      num: true,
      cell: ({ amount }) => <Amount bare minor={amount} currency={currency} />,
    },
    { key: 'out', head: 'Left out', num: true, cell: ({ leftOut }) => leftOut },
    {
      key: 'carried',
      head: `Carried (${currency})`,
      num: true,
      cell: ({ leftOutAmount }) => <Amount bare minor={leftOutAmount} currency={currency} />,
    },
    {
      key: 'by',
      head: 'Drafted and approved by',
      cell: ({ draftedByName, approvedByName }) => [draftedByName, approvedByName].filter(Boolean).join(', '),
    },
    {
      key: 'settled',
      head: 'Settled',
      cell: ({ settledAt }) => (settledAt === null ? '' : showDay(dayOf(settledAt, timeZone))),
    },
  ];
  const cutOff = addDays(startOfMonth(desk.today), -1);
  return (
    <Shell desk={desk} station="payouts" title="Payouts">
      <section className="card">
        <div className="head">
          <h2 style={{ margin: 0 }}>Payout runs</h2>
          <span className="mute small">
            {showAmount(money(desk.figures.payable, currency))} owed to {desk.figures.payablePartners} partners · payout
            day is the {payoutDay}th, next on {showDay(desk.figures.nextPayoutDay)}
          </span>
          <div className="right">
            {open ? (
              <Link className="pick" href={`/payouts/${open.id}`}>
                Run {open.number} is {open.state}
              </Link>
            ) : (
              desk.may('draft_payouts') && (
                <ConfirmButton
                  label="Draft a run"
                  variant="contained"
                  title="Draft a payout run"
                  action={draft}
                  working={
                    <RunningJob kind="draft_run" each="Partner" besides="Putting their commissions into the run" />
                  }
                  consequences="Every partner with an approved balance up to the cut-off is decided on. Who is in is set aside in the run until it is settled or abandoned; who is out is named with the reason, and carried."
                  extra={
                    <div style={{ marginTop: 14 }}>
                      <label className="label" htmlFor="cutOff">
                        Cut-off: commissions approved up to and with this day
                      </label>
                      <input
                        className="text"
                        type="date"
                        id="cutOff"
                        name="cutOff"
                        defaultValue={desk.today.slice(8) >= '20' ? desk.today : cutOff}
                        max={desk.today}
                        required
                      />
                    </div>
                  }
                />
              )
            )}
          </div>
        </div>
        <RecordTable
          label="Payout runs"
          columns={columns}
          rows={runs}
          keyOf={({ id }) => String(id)}
          empty={
            <>
              <b>No run yet</b>The first is drafted once commissions are approved.
            </>
          }
        />
      </section>
    </Shell>
  );
}
