import Link from 'next/link';
import { money } from '@/core/money/money';
import { showAmount } from '@/core/money/text';
import { showCount } from '@/core/reports/measures';
import { validationCalendar } from '@/services/commissions';
import { RecordTable } from '@/ui/table/RecordTable';
import type { Desk } from '../../desk';

const monthName = (month: string): string =>
  new Intl.DateTimeFormat('en-GB', { month: 'long', year: 'numeric', timeZone: 'UTC' }).format(
    Date.parse(`${month}-01`),
  );

/** What becomes due for validation, month by month, and what was decided of it. */
export function Calendar({ desk }: { desk: Desk }) {
  const rows = validationCalendar(desk.stores, desk.actor, desk.scope);
  const amount = (minor: number): React.ReactNode =>
    minor === 0 ? <span className="mute">none</span> : showAmount(money(minor, desk.program.currency));
  return (
    <RecordTable
      label="Validation calendar"
      rows={rows}
      keyOf={({ month }) => month ?? 'unknown'}
      empty={
        <>
          <b>Nothing was earned in this scope</b>What is earned becomes due when its hold is over.
        </>
      }
      columns={[
        {
          key: 'month',
          head: 'Payable from',
          cell: ({ month }) =>
            month === null ? <span className="tag wait">unknown: not completed yet</span> : <b>{monthName(month)}</b>,
        },
        { key: 'count', head: 'Conversions', num: true, cell: ({ count }) => showCount(count) },
        { key: 'waiting', head: 'Held', num: true, cell: ({ held }) => amount(held) },
        {
          key: 'due',
          head: 'Due, to be decided',
          num: true,
          cell: ({ due }) =>
            due === 0 ? (
              amount(0)
            ) : (
              <Link href={`/commissions${desk.href({ shelf: 'due', trace: undefined, page: undefined })}`}>
                {amount(due)}
              </Link>
            ),
        },
        { key: 'approved', head: 'Approved or paid', num: true, cell: ({ approved }) => amount(approved) },
        { key: 'lost', head: 'Rejected or reversed', num: true, cell: ({ lost }) => amount(lost) },
      ]}
    />
  );
}
