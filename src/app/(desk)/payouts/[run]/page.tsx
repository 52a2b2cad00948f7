import type { Metadata } from 'next';
import Link from 'next/link';
import { money } from '@/core/money/money';
import { showAmount, showExchangeRate } from '@/core/money/text';
import type { OutReason } from '@/core/payouts/decide';
import { type Day, showDay } from '@/core/time/calendar';
import { showTime } from '@/core/time/zones';
import { listItems, readRun } from '@/services/payouts';
import { wholeNumber } from '@/services/scope';
import type { ItemRow } from '@/store/books/payouts';
import { Amount } from '@/ui/figures/Amount';
import { type Column, RecordTable } from '@/ui/table/RecordTable';
import { WayBack } from '@/ui/shell/WayBack';
import { Shell } from '../../../Shell';
import { type SearchParams, openDesk } from '../../../desk';
import { foundOrNot } from '../../../found';
import { RunSteps } from './RunSteps';
import { ReturnButton } from './ReturnButton';

export const metadata: Metadata = { title: 'Payout run' };

const OUT_WORDS: Record<OutReason, string> = {
  nothing_due: 'nothing is due',
  negative: 'balance is negative; carried until earnings make up for it',
  below_minimum: 'below the minimum; carried to the next run',
  details_missing: 'no payout details',
  details_unchecked: 'payout details not checked',
  on_hold: 'payout details on hold',
  needs_rate: 'no rate of exchange for the payout currency',
};

export default async function RunPage({
  params,
  searchParams,
}: {
  params: Promise<{ run: string }>;
  searchParams: SearchParams;
}) {
  const desk = await openDesk(searchParams);
  const id = wholeNumber((await params).run) ?? 0;
  const run = foundOrNot(() => readRun(desk.stores, desk.actor, id));
  const items = listItems(desk.stores, desk.actor, id);
  const { currency, timeZone } = desk.program;
  const paid = items.filter(({ outReason }) => outReason === null);
  const out = items.filter(({ outReason }) => outReason !== null);
  const partner: Column<ItemRow> = {
    key: 'partner',
    head: 'Partner',
    cell: ({ partnerId, partnerName }) => <Link href={`/partners/${partnerId}`}>{partnerName}</Link>,
  };
  const amount: Column<ItemRow> = {
    key: 'amount',
    head: `Balance (${currency})`,
    num: true,
    cell: (item) => <Amount bare minor={item.amount} currency={currency} />,
  };
  return (
    <Shell desk={desk} station="payouts" title={`Payout run ${run.number}`}>
      <div className="stack">
        <section className="card">
          <div className="head">
            <WayBack
              href="/payouts"
              from="Payouts"
              title={
                <>
                  Run {run.number}: {showAmount(money(run.amount, currency))} to {run.partners}{' '}
                  {run.partners === 1 ? 'partner' : 'partners'}
                </>
              }
            />
            <span className={run.state === 'settled' ? 'mute' : 'tag wait'}>{run.state}</span>
            <RunSteps desk={desk} run={run} />
          </div>
          <p className="pad mute small" style={{ paddingBottom: 8 }}>
            Commissions approved up to {showDay(run.cutOff as Day)} · drafted by {run.draftedByName},{' '}
            {showTime(run.draftedAt, timeZone)}
            {run.approvedAt !== null && ` · approved by ${run.approvedByName}, ${showTime(run.approvedAt, timeZone)}`}
            {run.settledAt !== null && ` · settled ${showTime(run.settledAt, timeZone)}`}
          </p>
          <RecordTable
            label="Partners in this run"
            rows={paid}
            keyOf={({ partnerId }) => String(partnerId)}
            empty={
              <>
                <b>Nobody is in</b>The reasons stand below.
              </>
            }
            columns={[
              partner,
              amount,
              {
                key: 'payout',
                head: 'Paid out',
                num: true,
                cell: ({ payoutAmount, payoutCurrency }) => (
                  <Amount minor={payoutAmount ?? 0} currency={payoutCurrency} />
                ),
              },
              {
                key: 'rate',
                head: 'Rate',
                cell: ({ rate, rateDay }) =>
                  rate !== null &&
                  rateDay && (
                    <span className="mute small">
                      {showExchangeRate(rate)} of {showDay(rateDay as Day, { year: false })}
                    </span>
                  ),
              },
              { key: 'to', head: 'To', cell: ({ detailsMask }) => <code>{detailsMask}</code> },
              {
                key: 'state',
                head: 'State',
                cell: ({ state, returnReason }) =>
                  state === 'returned' ? (
                    <span className="tag trouble" title={returnReason ?? ''}>
                      returned
                    </span>
                  ) : (
                    state
                  ),
              },
              {
                key: 'papers',
                head: 'Statement',
                cell: ({ partnerId, state }) =>
                  state !== 'abandoned' && (
                    <span className="nowrap">
                      <a href={`/payouts/${run.id}/statement/${partnerId}/pdf`}>PDF</a> ·{' '}
                      <a href={`/payouts/${run.id}/statement/${partnerId}/csv`}>CSV</a>
                    </span>
                  ),
              },
              {
                key: 'return',
                head: '',
                cell: ({ partnerId, partnerName, state }) =>
                  state === 'paid' &&
                  desk.may('draft_payouts') && <ReturnButton run={run.id} partner={partnerId} name={partnerName} />,
              },
            ]}
          />
        </section>
        {out.length > 0 && (
          <section className="card">
            <div className="head">
              <h2 style={{ margin: 0 }}>Left out: {out.length}</h2>
              <span className="mute small">
                {showAmount(money(run.leftOutAmount, currency))} is carried to the next run
              </span>
            </div>
            <RecordTable
              label="Partners left out"
              rows={out}
              keyOf={({ partnerId }) => String(partnerId)}
              empty=""
              columns={[
                partner,
                amount,
                { key: 'why', head: 'Why', cell: ({ outReason }) => outReason && OUT_WORDS[outReason] },
              ]}
            />
          </section>
        )}
      </div>
    </Shell>
  );
}
