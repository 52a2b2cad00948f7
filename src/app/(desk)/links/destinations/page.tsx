import type { Metadata } from 'next';
import Link from 'next/link';
import { showCount } from '@/core/reports/measures';
import { showTime } from '@/core/time/zones';
import { type ListedDestination, listDestinations } from '@/services/destinations';
import { readOffer } from '@/services/offers';
import { type Column, RecordTable } from '@/ui/table/RecordTable';
import { WayBack } from '@/ui/shell/WayBack';
import { Shell } from '../../../Shell';
import { type Desk, type SearchParams, openDesk } from '../../../desk';
import { LeadMany } from './LeadMany';

export const metadata: Metadata = { title: 'Destinations' };

const SHELVES = { all: 'All', failing: 'Failing' } as const;

function State({ row, zone }: { row: ListedDestination; zone: string }) {
  if (row.checkedAt === null)
    return <span className="mute">{row.address.includes('{') ? 'differs by click' : 'not looked at yet'}</span>;
  const when = showTime(row.checkedAt, zone);
  if (row.failingSince === null)
    return (
      <span title={`Looked at ${when}`}>
        answers well <span className="mute">({row.status})</span>
      </span>
    );
  return (
    <>
      <span className="tag trouble">failing since {showTime(row.failingSince, zone)}</span>
      <div className="mute small">{row.problem}</div>
    </>
  );
}

function columnsOf(desk: Desk): Column<ListedDestination>[] {
  return [
    {
      key: 'page',
      head: 'Page',
      cell: ({ destination, landing, address }) => (
        <>
          <code>{address}</code>
          {!destination && <div className="mute small">{landing || 'landing page of the offer'}</div>}
        </>
      ),
    },
    { key: 'offer', head: 'Offer', cell: ({ offerName }) => offerName },
    { key: 'state', head: 'Answers', cell: (row) => <State row={row} zone={desk.program.timeZone} /> },
    {
      key: 'links',
      head: 'Links',
      num: true,
      cell: ({ links, fixed }) => (
        <>
          {showCount(links)}
          {fixed > 0 && (
            <div className="tag wait small" title="Direct links and references carry the page in themselves.">
              {showCount(fixed)} cannot follow
            </div>
          )}
        </>
      ),
    },
    {
      key: 'act',
      head: '',
      cell: ({ offerId, destination, landing, links, fixed }) =>
        desk.may('issue_links') && (
          <LeadMany
            {...{ offerId, destination, landing, links, fixed }}
            pages={readOffer(desk.stores, desk.actor, offerId).landingPages.map(({ name }) => name)}
          />
        ),
    },
  ];
}

/** Every page links lead to, whether it answers, and the way to lead all of them elsewhere. */
export default async function DestinationsPage({ searchParams }: { searchParams: SearchParams }) {
  const desk = await openDesk(searchParams);
  const shelf = desk.param('shelf') === 'failing' ? 'failing' : 'all';
  const text = desk.param('find') ?? '';
  const { rows, more } = listDestinations(desk.stores, desk.actor, { text, failing: shelf === 'failing' }, desk.paging);
  return (
    <Shell desk={desk} station="links" title="Destinations">
      <section className="card">
        <div className="head">
          <WayBack href="/links" from="Links" title="Destinations" />
          <nav className="shelves" aria-label="Shelves">
            {(Object.keys(SHELVES) as (keyof typeof SHELVES)[]).map((id) => (
              <Link
                key={id}
                href={desk.href({ shelf: id === 'all' ? undefined : id, page: undefined })}
                aria-current={shelf === id ? 'page' : undefined}
              >
                {SHELVES[id]}
              </Link>
            ))}
          </nav>
          <div className="right">
            <form role="search">
              {shelf === 'failing' && <input type="hidden" name="shelf" value="failing" />}
              <input
                className="text"
                name="find"
                defaultValue={text}
                placeholder="Part of the page"
                aria-label="Part of the page"
              />
            </form>
          </div>
        </div>
        <RecordTable
          label="Destinations"
          rows={rows}
          columns={columnsOf(desk)}
          keyOf={({ offerId, destination, landing }) => `${offerId} ${destination} ${landing}`}
          empty={
            shelf === 'failing' ? (
              <>
                <b>Every page answers</b>Each is looked at once a day; what fails comes up here and in Today.
              </>
            ) : (
              <>
                <b>No page fits</b>Pages appear here with the links that lead to them.
              </>
            )
          }
        />
        <nav className="pager" aria-label="Pages">
          {desk.page > 1 && <Link href={desk.href({ page: desk.page - 1 })}>Previous</Link>}
          {more && <Link href={desk.href({ page: desk.page + 1 })}>Next</Link>}
          <span style={{ marginLeft: 'auto' }}>Looked at once a day</span>
        </nav>
      </section>
    </Shell>
  );
}
