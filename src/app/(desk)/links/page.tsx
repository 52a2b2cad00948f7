import type { Metadata } from 'next';
import Link from 'next/link';
import { showCount } from '@/core/reports/measures';
import { type LinkListRow, listLinks } from '@/services/links';
import { listOffers } from '@/services/offers';
import { sheetInForce } from '@/services/terms';
import { Amount } from '@/ui/figures/Amount';
import { Pager } from '@/ui/table/Pager';
import { type Column, RecordTable } from '@/ui/table/RecordTable';
import { Shell } from '../../Shell';
import { type Desk, PAGE_SIZE, type SearchParams, openDesk } from '../../desk';
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

export default async function LinksPage({ searchParams }: { searchParams: SearchParams }) {
  const desk = await openDesk(searchParams);
  const { rows, total } = listLinks(desk.stores, desk.actor, desk.scope, desk.paging);
  const { view, program } = desk;
  const here = demoEdge();
  const columns: Column<LinkListRow>[] = [
    {
      key: 'code',
      head: 'Link',
      cell: (row) => (
        <Link className="amount mono" scroll={false} href={desk.href({ trace: traceOf(row) })} title={row.address}>
          {row.code}
        </Link>
      ),
    },
    { key: 'partner', head: 'Partner', cell: ({ partnerName }) => <div className="clip">{partnerName}</div> },
    { key: 'channel', head: 'Channel', cell: ({ channelName }) => <div className="clip">{channelName}</div> },
    {
      key: 'to',
      head: 'Goes to',
      cell: (row) => (
        <div className="clip" title={row.parts.to}>
          {goesTo(row)}
        </div>
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
      head: `Per click (${program.currency})`,
      num: true,
      cell: ({ commission, clicks }) =>
        clicks === 0 ? '–' : <Amount bare minor={Math.round(commission / clicks)} currency={program.currency} />,
    },
    {
      key: 'act',
      head: '',
      cell: (row) => (
        <form action={switchLink} className="actions nowrap" style={{ justifyContent: 'flex-end', flexWrap: 'nowrap' }}>
          {here && (
            <a href={row.address.replace(program.trackingOrigin, here)} target="_blank" rel="noopener">
              Open
            </a>
          )}
          <input type="hidden" name="id" value={row.id} />
          {desk.may('issue_links') && (
            <button
              className="clear"
              style={{ margin: 0 }}
              name="state"
              value={row.state === 'live' ? 'paused' : 'live'}
            >
              {row.state === 'live' ? 'Pause' : 'Resume'}
            </button>
          )}
        </form>
      ),
    },
  ];
  return (
    <Shell desk={desk} station="links" title="Links">
      <div className="stack">
        {desk.may('issue_links') && (
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
          />
        )}
        <section className="card">
          <div className="head">
            <h2 style={{ margin: 0 }}>{view.partner ? `Links of ${view.partner.label}` : 'Links'}</h2>
            <span className="mute small">with what they brought in the period</span>
          </div>
          <RecordTable
            label="Links"
            columns={columns}
            rows={rows}
            keyOf={({ id }) => String(id)}
            traceOf={traceOf}
            shownTrace={desk.param('trace')}
            empty={
              <>
                <b>No links yet</b>Compose one above: partner, channel and offer are enough.
              </>
            }
          />
          <Pager page={desk.page} size={PAGE_SIZE} total={total} hrefOf={(page) => desk.href({ page })} />
        </section>
      </div>
    </Shell>
  );
}
