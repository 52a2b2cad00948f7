import { showTime } from '@/core/time/zones';
import { waitingReports } from '@/services/receipts';
import { RecordTable } from '@/ui/table/RecordTable';
import type { Desk } from '../../desk';

/** Statuses that came before their conversion: each is applied as soon as it comes. */
export const Waiting = ({ desk }: { desk: Desk }) => (
  <RecordTable
    label="Waiting for their conversion"
    rows={waitingReports(desk.stores, desk.actor)}
    keyOf={({ receiptId }) => receiptId}
    empty={
      <>
        <b>No status waits</b>A refund or a delivery that is told before its order is kept here until the order comes.
      </>
    }
    columns={[
      {
        key: 'time',
        head: 'Received',
        cell: ({ time }) => <span className="nowrap mute">{showTime(time, desk.program.timeZone)}</span>,
      },
      { key: 'status', head: 'Status', cell: ({ status }) => <b>{status}</b> },
      { key: 'event', head: 'Event', cell: ({ event }) => event },
      { key: 'order', head: 'Order', cell: ({ order }) => <code>{order}</code> },
      { key: 'click', head: 'Click ID', cell: ({ clickId }) => <code>{clickId}</code> },
      { key: 'receipt', head: 'Receipt', cell: ({ receiptId }) => <code>{receiptId}</code> },
    ]}
  />
);
