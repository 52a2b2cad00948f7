import Link from 'next/link';
import { Suspense } from 'react';
import { showCount } from '@/core/reports/measures';
import { LOG_COLUMNS, type LogColumn, logColumnWord, logColumns } from '@/services/click_log';
import { type ClickQuery, listClicks } from '@/services/clicks';
import { askReport } from '@/services/reports';
import { ColumnChooser } from '@/ui/table/ColumnChooser';
import { DeskList } from '../../DeskList';
import type { Desk } from '../../desk';
import { keepLogColumns } from './actions';
import { logColumnsOf, traceOf } from './log_columns';
import { queryOf } from './looking';
import { ClickFilters } from './ClickFilters';

/** Where the trace takes its place, the columns that say most are kept. */
const BESIDE_TRACE = 6;

/** The click log: live as it comes, or held where it is. */
export function Log({ desk, shelf }: { desk: Desk; shelf: 'counted' | 'set_aside' }) {
  const { stores, actor, scope } = desk;
  const query = queryOf(desk, shelf);
  const { newest, ...list } = listClicks(stores, actor, scope, query, desk.paging);
  const total = askReport('count', actor, { scope, query });
  const chosen = logColumns(stores, actor);
  // What was set aside counts as nobody's first or second click.
  const shown: LogColumn[] = chosen.filter((name) => shelf === 'counted' || name !== 'unique');
  if (shelf === 'set_aside' && !shown.includes('set_aside')) shown.splice(2, 0, 'set_aside');
  const columns = logColumnsOf(desk, list.rows, desk.trace ? shown.slice(0, BESIDE_TRACE) : shown);
  return (
    <>
      <div className="bar">
        <ClickFilters desk={desk} />
        <div className="right">
          <Hold desk={desk} query={query} newest={newest} total={total} />
          <ColumnChooser
            all={LOG_COLUMNS.map((id) => ({ id, label: logColumnWord(id) }))}
            chosen={chosen}
            save={keepLogColumns}
          />
        </div>
      </div>
      <DeskList
        desk={desk}
        label="Clicks"
        columns={columns}
        list={{ ...list, total }}
        exported="clicks"
        keyOf={({ clickId }) => clickId}
        traceOf={traceOf}
        empty={
          query.filters.length > 0 ? (
            <>
              <b>No click has all of this</b>Take a filter away, or widen the scope.
            </>
          ) : (
            <>
              <b>No clicks here</b>In this scope nothing was {shelf === 'counted' ? 'clicked' : 'set aside'}. Widen the
              period, or take a filter away.
            </>
          )
        }
      />
    </>
  );
}

/** The list follows the clicks as they come, unless it is held to be read. */
function Hold({
  desk,
  query,
  newest,
  total,
}: {
  desk: Desk;
  query: ClickQuery;
  newest: number;
  total: Promise<number>;
}) {
  if (query.upto === undefined)
    return (
      <Link className="pick" href={desk.href({ upto: newest, trace: desk.param('trace') })} scroll={false}>
        <span className="dot live" /> Live <span className="what">Hold</span>
      </Link>
    );
  const all = askReport('count', desk.actor, { scope: desk.scope, query: { ...query, upto: undefined } });
  return (
    <Link className="pick" href={desk.href({ upto: undefined, page: undefined })} scroll={false}>
      <span className="dot" /> Held{' '}
      <span className="what">
        <Suspense fallback="…">
          <Newer all={all} held={total} />
        </Suspense>{' '}
        newer: go on
      </span>
    </Link>
  );
}

async function Newer({ all, held }: { all: Promise<number>; held: Promise<number> }) {
  return <>{showCount((await all) - (await held))}</>;
}
