import type { Metadata } from 'next';
import Link from 'next/link';
import { showCount } from '@/core/reports/measures';
import { type LinkListRow, listLinks } from '@/services/links';
import { redirects } from '@/core/links/parts';
import { listOffers } from '@/services/offers';
import { offerTimes } from '@/services/routes';
import { listSources } from '@/services/sources';
import { trackingOrigins } from '@/services/stores';
import { standInLocations } from '@/services/standins';
import { sheetInForce } from '@/services/terms';
import { Amount } from '@/ui/figures/Amount';
import { SCOPE_PARAMETERS } from '@/ui/shell/paths';
import type { Column } from '@/ui/table/RecordTable';
import { DeskList } from '../../DeskList';
import { Shell } from '../../Shell';
import { type Desk, type SearchParams, openDesk } from '../../desk';
import { Workbench } from './Workbench';
import { switchLink } from './actions';
import type { Bench } from './composing';

export const metadata: Metadata = { title: 'Links' };

const traceOf = ({ id }: LinkListRow): string => `link:${id}`;

/** In the demo made-up hosts answer on this machine. */
const here = (address: string): string | undefined => {
  const there = standInLocations(process.env.BRIVET_STANDIN_HOSTS)?.(address);
  return there === address ? undefined : there;
};

function benchOf(desk: Desk): Bench {
  const { program, stores, actor } = desk;
  return {
    origins: trackingOrigins(program),
    currency: program.currency,
    sources: listSources(stores, actor).map(({ id, preset }) => ({ id, preset })),
    rows: sheetInForce(stores, actor)?.sheet.rows ?? [],
    today: desk.today,
    now: stores.now(),
    offers: listOffers(stores, actor).map((offer) => ({
      id: offer.id,
      label: offer.name,
      about: offer.code,
      landingPages: offer.landingPages,
      landingHosts: offer.landingHosts,
      appended: offer.appended,
      fallback: offer.fallback || program.fallback,
      live: offer.state === 'live',
      ...offerTimes(offer, program.timeZone),
      hold: offer.hold,
      events: offer.events.filter(({ payable }) => payable).map(({ event }) => event),
    })),
  };
}

function goesTo({ destination, landing, offerName }: LinkListRow): string {
  return destination ? destination.replace(/^https?:\/\/[^/]+/, '') || '/' : landing || `landing page of ${offerName}`;
}

function RowActions({ row, mayChange }: { row: LinkListRow; mayChange: boolean }) {
  const open = here(row.address);
  const next = row.state === 'live' ? 'paused' : 'live';
  return (
    <form action={switchLink} className="actions small" style={{ gap: 10 }}>
      {row.state === 'paused' && <span className="tag wait">paused</span>}
      {open && (
        <a className="mute" href={open} target="_blank" rel="noopener">
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
  const text = desk.param('find') ?? '';
  const list = listLinks(desk.stores, desk.actor, desk.scope, desk.paging, text);
  const { view, program } = desk;
  const columns: Column<LinkListRow>[] = [
    {
      key: 'code',
      head: 'Link',
      cell: (row) => (
        <>
          <Link className="amount mono" href={`/links/${row.id}`} title={row.address}>
            {row.alias ?? row.code}
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
          <div className="clip" style={{ maxWidth: 150 }} title={row.destination || undefined}>
            {!redirects(row.kind) && <span className="mute">{row.kind === 'direct' ? 'direct ' : 'reference '}</span>}
            {goesTo(row)}
          </div>
          <RowActions row={row} mayChange={desk.may('issue_links')} />
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
      <div className="actions" style={{ margin: '22px 0 4px' }}>
        <h2 style={{ margin: 0 }}>{view.partner ? `Links of ${view.partner.label}` : 'Links in scope'}</h2>
        <Link className="more" style={{ marginLeft: 'auto' }} href="/links/destinations">
          Destinations
        </Link>
        <form role="search">
          {SCOPE_PARAMETERS.map((name) => {
            const value = desk.param(name);
            return value && <input key={name} type="hidden" name={name} value={value} />;
          })}
          <input
            className="text"
            style={{ width: 190 }}
            name="find"
            defaultValue={text}
            placeholder="Code, alias, page or label"
            aria-label="Code, alias, page or label"
          />
        </form>
      </div>
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
            <b>{text ? 'No link fits' : 'No links yet'}</b>
            {text
              ? 'Look for a part of a code, alias, page or label.'
              : 'Compose one here: partner, channel and offer are enough.'}
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
          bench={benchOf(desk)}
          partner={view.partner}
          channel={view.channel}
          offerId={view.offer?.id}
        >
          {issued}
        </Workbench>
      ) : (
        <section className="card pad">{issued}</section>
      )}
    </Shell>
  );
}
