import type { Metadata } from 'next';
import Link from 'next/link';
import { showCount } from '@/core/reports/measures';
import { type LinkListRow, listLinks } from '@/services/links';
import { listOffers } from '@/services/offers';
import { sheetInForce } from '@/services/terms';
import { Amount } from '@/ui/figures/Amount';
import type { Column } from '@/ui/table/RecordTable';
import { DeskList } from '../../DeskList';
import { Shell } from '../../Shell';
import { type Desk, type SearchParams, openDesk } from '../../desk';
import { Workbench } from './Workbench';
import { switchLink } from './actions';
import type { ComposedOffer } from './composing';

export const metadata: Metadata = { title: 'Links' };

const traceOf = ({ id }: LinkListRow): string => `link:${id}`;

/** In the demo the tracking host is a made-up name, and answers on this machine. */
const demoEdge = (): string | undefined =>
  process.env.BRIVET_DEMO === '1' ? `http://localhost:${process.env.BRIVET_EDGE_PORT ?? '3100'}` : undefined;

const composed = (desk: Desk): ComposedOffer[] =>
  listOffers(desk.stores, desk.actor).map(
    ({ id, name, code, landingPage, landingHosts, appended, fallback, state, hold, events }) => ({
      id,
      label: name,
      about: code,
      landingPage,
      landingHosts,
      appended,
      fallback: fallback || desk.program.fallback,
      live: state === 'live',
      hold,
      events: events.filter(({ payable }) => payable).map(({ event }) => event),
    }),
  );

function goesTo({ parts, offerName }: LinkListRow): string {
  return parts.to ? parts.to.replace(/^https?:\/\/[^/]+/, '') : `landing page of ${offerName}`;
}

function RowActions({ row, here, mayChange }: { row: LinkListRow; here: string | undefined; mayChange: boolean }) {
  const next = row.state === 'live' ? 'paused' : 'live';
  return (
    <form action={switchLink} className="actions small" style={{ gap: 10 }}>
      {row.state === 'paused' && <span className="tag wait">paused</span>}
      {here && (
        <a className="mute" href={row.address.replace(row.parts.origin, here)} target="_blank" rel="noopener">
          Open
        </a>
      )}
      <input type="hidden" name="id" value={row.id} />
      {mayChange && (
        <button
          className="clear"
          style={{ margin: 0, padding: 0 }}
          name="state"
          value={next}
          aria-label={`${next === 'paused' ? 'Pause' : 'Resume'} ${row.code}`}
        >
          {next === 'paused' ? 'Pause' : 'Resume'}
        </button>
      )}
    </form>
  );
}

export default async function LinksPage({ searchParams }: { searchParams: SearchParams }) {
  const desk = await openDesk(searchParams);
  const list = listLinks(desk.stores, desk.actor, desk.scope, desk.paging);
  const { view, program } = desk;
  const here = demoEdge();
  const columns: Column<LinkListRow>[] = [
    {
      key: 'code',
      head: 'Link',
      cell: (row) => (
        <>
          <Link className="amount mono" scroll={false} href={desk.href({ trace: traceOf(row) })} title={row.address}>
            {row.code}
          </Link>
          <div className="clip mute small">
            {view.partner ? row.channelName : `${row.partnerName}, ${row.channelName}`}
          </div>
        </>
      ),
    },
    {
      key: 'to',
      head: 'Goes to',
      cell: (row) => (
        <>
          <div className="clip" style={{ maxWidth: 150 }} title={row.parts.to}>
            {goesTo(row)}
          </div>
          <RowActions row={row} here={here} mayChange={desk.may('issue_links')} />
        </>
      ),
    },
    { key: 'clicks', head: 'Clicks', num: true, cell: ({ clicks }) => showCount(clicks) },
    { key: 'conversions', head: 'Conv.', num: true, cell: ({ conversions }) => showCount(conversions) },
    {
      key: 'earned',
      head: `Earned (${program.currency})`,
      num: true,
      cell: ({ commission }) => <Amount bare minor={commission} currency={program.currency} />,
    },
    {
      key: 'each',
      head: 'Per click',
      num: true,
      cell: ({ commission, clicks }) =>
        clicks === 0 ? '–' : <Amount bare minor={Math.round(commission / clicks)} currency={program.currency} />,
    },
  ];
  const issued = (
    <section aria-label="Links issued">
      <h2 style={{ margin: '22px 0 4px' }}>{view.partner ? `Links of ${view.partner.label}` : 'Links in scope'}</h2>
      <DeskList
        desk={desk}
        label="Links"
        columns={columns}
        list={list}
        exported="links"
        keyOf={({ id }) => String(id)}
        traceOf={traceOf}
        empty={
          <>
            <b>No links yet</b>Compose one here: partner, channel and offer are enough.
          </>
        }
      />
    </section>
  );
  return (
    <Shell desk={desk} station="links" title="Links">
      {desk.may('issue_links') ? (
        <Workbench
          key={`${view.partner?.id}-${view.channel?.id}-${view.offer?.id}`}
          origin={program.trackingOrigin}
          currency={program.currency}
          offers={composed(desk)}
          rows={sheetInForce(desk.stores, desk.actor)?.sheet.rows ?? []}
          today={desk.today}
          partner={view.partner}
          channel={view.channel}
          offerId={view.offer?.id}
          hereOrigin={here}
        >
          {issued}
        </Workbench>
      ) : (
        <section className="card pad">{issued}</section>
      )}
    </Shell>
  );
}
