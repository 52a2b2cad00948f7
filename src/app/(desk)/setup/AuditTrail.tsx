import { isoTime } from '@/core/time/days';
import { showTime } from '@/core/time/zones';
import { listAudit } from '@/services/audit';
import { DeskList } from '../../DeskList';
import type { Desk } from '../../desk';

/** Who did what, newest first. */
export function AuditTrail({ desk }: { desk: Desk }) {
  const list = listAudit(desk.stores, desk.actor, desk.paging);
  return (
    <DeskList
      desk={desk}
      label="Audit"
      list={list}
      keyOf={({ id }) => String(id)}
      empty={<b>Nothing happened yet</b>}
      columns={[
        {
          key: 'time',
          head: 'Time',
          cell: ({ time }) => (
            <time className="nowrap mute" dateTime={isoTime(time)} title={isoTime(time, desk.program.timeZone)}>
              {showTime(time, desk.program.timeZone)}
            </time>
          ),
        },
        { key: 'actor', head: 'Who', cell: ({ actor }) => <span className="nowrap">{actor}</span> },
        {
          key: 'action',
          head: 'Did',
          cell: ({ action }) => (
            <span className={action.includes('refused') ? 'tag trouble' : undefined}>{action}</span>
          ),
        },
        { key: 'object', head: 'What', cell: ({ object }) => object },
        {
          key: 'detail',
          head: 'Detail',
          cell: ({ detail }) => (
            <div className="clip" style={{ maxWidth: 560 }} title={detail}>
              {detail}
            </div>
          ),
        },
      ]}
    />
  );
}
