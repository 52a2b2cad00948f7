import type { Currency } from '@/core/money/currency';
import type { Pay, SheetRow } from '@/core/commissions/sheet';
import { money } from '@/core/money/money';
import { showAmount, showPercent } from '@/core/money/text';
import { showDay } from '@/core/time/calendar';
import { dayOf } from '@/core/time/zones';
import { listOffers } from '@/services/offers';
import { readChannel } from '@/services/channels';
import { readPartner } from '@/services/partners';
import type { SheetVersion } from '@/store/books/terms';
import { RecordTable } from '@/ui/table/RecordTable';
import type { Desk } from '../../desk';

function showPay(pay: Pay, currency: Currency): string {
  const show = (minor: number): string => showAmount(money(minor, currency));
  if (pay.kind === 'fixed') return `${show(pay.amount)} a ${pay.per}`;
  if (pay.kind === 'percent') {
    const bounds = [
      pay.least === undefined ? '' : `at least ${show(pay.least)}`,
      pay.most === undefined ? '' : `at most ${show(pay.most)}`,
    ];
    return [`${showPercent(pay.rate)} of the base`, ...bounds.filter(Boolean)].join(', ');
  }
  const limit = (upTo: number): string =>
    pay.by === 'count' ? `the ${upTo}th of the month` : `${show(upTo)} in the month`;
  return pay.bands
    .map(({ upTo, rate }) =>
      upTo === null ? `then ${showPercent(rate)}` : `${showPercent(rate)} up to ${limit(upTo)}`,
    )
    .join(', ');
}

/** The version in force: the rows from the top, of which the first that matches pays. */
export function SheetInForce({ desk, version }: { desk: Desk; version: SheetVersion }) {
  const { stores, actor, program } = desk;
  const offers = new Map(listOffers(stores, actor).map(({ id, name }) => [id, name]));
  const conditions = ({ when }: SheetRow): string[] => {
    const { offerId, event, partnerId, channelId, leastAmount, leastCallLength, renewalFrom, renewalTo, ...rest } =
      when;
    return [
      offerId === undefined ? '' : (offers.get(offerId) ?? `offer ${offerId}`),
      event ?? '',
      partnerId === undefined ? '' : readPartner(stores, actor, partnerId).name,
      channelId === undefined ? '' : `channel ${readChannel(stores, actor, channelId).name}`,
      leastAmount === undefined ? '' : `item from ${showAmount(money(leastAmount, program.currency))}`,
      leastCallLength === undefined ? '' : `${leastCallLength} s or longer`,
      renewalFrom === undefined && renewalTo === undefined
        ? ''
        : `renewal ${renewalFrom ?? 0} to ${renewalTo ?? 'any'}`,
      ...Object.entries(rest).map(([name, value]) => `${name} ${value}`),
    ].filter((text) => text !== '');
  };
  const rows = version.sheet.rows.map((row, i) => ({ ...row, number: i + 1 }));
  return (
    <>
      <p className="pad" style={{ paddingBottom: 4 }}>
        Version {version.sheet.version}, in force since {showDay(dayOf(version.inForceFrom, program.timeZone))}.{' '}
        <span className="mute">The first row that matches pays; an item is held against the rows by itself.</span>
      </p>
      <RecordTable
        label="Rate sheet"
        rows={rows}
        keyOf={({ id }) => id}
        empty={<b>The sheet has no rows</b>}
        columns={[
          { key: 'number', head: 'Row', cell: ({ number }) => <span className="mute">{number}</span> },
          { key: 'label', head: 'For', cell: ({ label }) => <span className="strong">{label}</span> },
          { key: 'when', head: 'When', cell: (row) => conditions(row).join(' · ') || 'always' },
          { key: 'pay', head: 'Pays', cell: ({ pay }) => showPay(pay, program.currency) },
        ]}
      />
    </>
  );
}
