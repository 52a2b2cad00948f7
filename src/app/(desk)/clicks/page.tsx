import type { Metadata } from 'next';
import Link from 'next/link';
import { SET_ASIDE_WORDS, type SetAsideReason } from '@/core/clicks/set_aside';
import { CARRIED_WORDS, type SubSlot } from '@/core/placeholders/names';
import { showCount } from '@/core/reports/measures';
import { showTime } from '@/core/time/zones';
import { type ClickListRow, listClicks, setAsideReasons } from '@/services/clicks';
import type { Column } from '@/ui/table/RecordTable';
import { DeskList } from '../../DeskList';
import { Shell } from '../../Shell';
import { type SearchParams, openDesk } from '../../desk';

export const metadata: Metadata = { title: 'Clicks' };

/** The slot's name, and what the source calls it where all clicks in sight agree. */
function headOf(rows: readonly ClickListRow[], slot: SubSlot): string {
  const names = new Set(rows.flatMap(({ names: given }) => given[slot] ?? []));
  const [name] = names;
  return names.size === 1 && name ? `${CARRIED_WORDS[slot]} (${name})` : CARRIED_WORDS[slot];
}

const traceOf = ({ clickId }: ClickListRow): string => `click:${clickId}`;

export default async function ClicksPage({ searchParams }: { searchParams: SearchParams }) {
  const desk = await openDesk(searchParams);
  const shelf = desk.param('shelf') === 'set_aside' ? 'set_aside' : 'counted';
  const list = listClicks(desk.stores, desk.actor, desk.scope, shelf, desk.paging);
  const reasons = shelf === 'set_aside' ? setAsideReasons(desk.stores, desk.actor, desk.scope) : [];
  const columns: Column<ClickListRow>[] = [
    {
      key: 'time',
      head: 'Time',
      cell: ({ time }) => <span className="nowrap mute">{showTime(time, desk.program.timeZone)}</span>,
    },
    {
      key: 'id',
      head: 'Click ID',
      cell: (row) => (
        <Link className="amount mono" scroll={false} href={desk.href({ trace: traceOf(row) })}>
          {row.clickId.slice(0, 6)}…{row.clickId.slice(-4)}
        </Link>
      ),
    },
    { key: 'partner', head: 'Partner', cell: ({ partnerName }) => <div className="clip">{partnerName}</div> },
    { key: 'channel', head: 'Channel', cell: ({ channelName }) => <div className="clip">{channelName}</div> },
    { key: 'offer', head: 'Offer', cell: ({ offerName }) => offerName },
    { key: 'link', head: 'Link', cell: ({ linkCode }) => <code>{linkCode}</code> },
    {
      key: 'sub1',
      head: headOf(list.rows, 'sub1'),
      cell: ({ sub1, flags }) => (
        <span
          className={flags.includes('unfilled') ? 'tag wait' : undefined}
          title={flags.includes('unfilled') ? 'The source never filled this placeholder.' : undefined}
        >
          {sub1}
        </span>
      ),
    },
    { key: 'sub2', head: headOf(list.rows, 'sub2'), cell: ({ sub2 }) => sub2 },
    {
      key: 'device',
      head: 'Device',
      cell: ({ device, browser }) => (
        <span className="nowrap">{device === 'unknown' ? 'unknown' : `${device}, ${browser}`}</span>
      ),
    },
    shelf === 'set_aside'
      ? {
          key: 'why',
          head: 'Why',
          cell: ({ setAside }) => <span title={SET_ASIDE_WORDS[setAside as SetAsideReason]}>{setAside}</span>,
        }
      : {
          key: 'visitor',
          head: 'Visitor',
          cell: ({ isUnique }) => (isUnique ? 'unique' : <span className="mute">repeat</span>),
        },
  ];
  return (
    <Shell desk={desk} station="clicks" title="Clicks">
      <section className="card">
        <div className="head">
          <nav className="shelves" aria-label="Shelves">
            <Link
              href={desk.href({ shelf: undefined, page: undefined, trace: undefined })}
              aria-current={shelf === 'counted' ? 'page' : undefined}
            >
              Counted <b>{showCount(desk.figures.counted)}</b>
            </Link>
            <Link
              href={desk.href({ shelf: 'set_aside', page: undefined, trace: undefined })}
              aria-current={shelf === 'set_aside' ? 'page' : undefined}
            >
              Set aside <b>{showCount(desk.figures.setAside)}</b>
            </Link>
          </nav>
          <span className="mute small">{showCount(desk.figures.uniques)} unique visitors’ clicks</span>
        </div>
        {reasons.length > 0 && (
          <div className="pad small" style={{ paddingBottom: 4 }}>
            {reasons.map(({ reason, count }) => (
              <p key={reason}>
                <b>
                  {showCount(count)} {reason}
                </b>{' '}
                <span className="mute">{SET_ASIDE_WORDS[reason as SetAsideReason]}</span>
              </p>
            ))}
          </div>
        )}
        <DeskList
          desk={desk}
          label="Clicks"
          columns={columns}
          list={list}
          exported="clicks"
          keyOf={({ clickId }) => clickId}
          traceOf={traceOf}
          empty={
            <>
              <b>No clicks here</b>In this scope nothing was {shelf === 'counted' ? 'clicked' : 'set aside'}. Widen the
              period, or take a filter away.
            </>
          }
        />
      </section>
    </Shell>
  );
}
