import type { Metadata } from 'next';
import Link from 'next/link';
import { showHold } from '@/core/commissions/hold';
import { listOffers } from '@/services/offers';
import { programFields } from '@/services/programs';
import { RecordTable } from '@/ui/table/RecordTable';
import { Shell } from '../../Shell';
import { type Desk, type SearchParams, openDesk } from '../../desk';
import { AuditTrail } from './AuditTrail';
import { ProgramForm, RateForm } from './SetupForms';
import { NumberShelf } from './calls/NumberShelf';
import { SuspicionShelf } from './suspicion/SuspicionShelf';
import { Tokens } from './Tokens';
import { PostbackShelf } from './postback/PostbackShelf';
import { ReadSource } from './ReadSource';
import { SourceList } from './SourceList';
import { TermsShelf } from './TermsShelf';

export const metadata: Metadata = { title: 'Setup' };

const SHELVES = {
  program: 'Program',
  offers: 'Offers',
  sources: 'Sources',
  terms: 'Partner terms',
  postback: 'Postback and tag',
  calls: 'Calls',
  suspicion: 'Suspicion',
  rates: 'Exchange rates',
  tokens: 'Tokens',
  audit: 'Audit',
} as const;
type ShelfId = keyof typeof SHELVES;

export default async function SetupPage({ searchParams }: { searchParams: SearchParams }) {
  const desk = await openDesk(searchParams);
  const manages = desk.may('manage_setup');
  const open = (Object.keys(SHELVES) as ShelfId[]).filter(
    (id) => manages || id === 'offers' || (id === 'audit' && desk.may('see_audit')),
  );
  const shelf = open.find((id) => id === desk.param('shelf')) ?? open[0] ?? 'offers';
  const bodies: Record<ShelfId, () => React.ReactNode> = {
    program: () => program(desk),
    offers: () => offers(desk),
    sources: () => <SourceList desk={desk} />,
    terms: () => <TermsShelf desk={desk} />,
    postback: () => <PostbackShelf desk={desk} />,
    calls: () => <NumberShelf desk={desk} />,
    suspicion: () => <SuspicionShelf desk={desk} />,
    rates: () => rates(desk),
    tokens: () => <Tokens desk={desk} />,
    audit: () => <AuditTrail desk={desk} />,
  };
  return (
    <Shell desk={desk} station="setup" title="Setup">
      <section className="card">
        <div className="head">
          <nav className="shelves" aria-label="Shelves">
            {open.map((id) => (
              <Link key={id} href={`/setup?shelf=${id}`} aria-current={shelf === id ? 'page' : undefined}>
                {SHELVES[id]}
              </Link>
            ))}
          </nav>
          <div className="right">
            {shelf === 'offers' && manages && (
              <Link className="pick" href="/setup/offers/new">
                Add an offer
              </Link>
            )}
            {shelf === 'sources' && manages && (
              <>
                <ReadSource />
                <Link className="pick" href="/setup/sources/new">
                  Add a source
                </Link>
              </>
            )}
          </div>
        </div>
        {bodies[shelf]()}
      </section>
    </Shell>
  );
}

const program = (desk: Desk) => (
  <div className="pad">
    <ProgramForm values={programFields(desk.program)} currency={desk.program.currency} />
  </div>
);

const offers = (desk: Desk) => (
  <RecordTable
    label="Offers"
    rows={listOffers(desk.stores, desk.actor)}
    keyOf={({ id }) => String(id)}
    empty={
      <>
        <b>No offer yet</b>An offer says where links lead and which events pay.
      </>
    }
    columns={[
      {
        key: 'name',
        head: 'Offer',
        cell: ({ id, name }) => (
          <Link className="strong" href={`/setup/offers/${id}`}>
            {name}
          </Link>
        ),
      },
      { key: 'code', head: 'Code', cell: ({ code }) => <code>{code}</code> },
      {
        key: 'state',
        head: 'State',
        cell: ({ state }) => <span className={state === 'live' ? undefined : 'tag wait'}>{state}</span>,
      },
      {
        key: 'page',
        head: 'Landing pages',
        cell: ({ landingPages }) => (
          <>
            <code>{landingPages[0]?.address}</code>
            {landingPages.length > 1 && <div className="mute small">and {landingPages.length - 1} more</div>}
          </>
        ),
      },
      {
        key: 'dates',
        head: 'Days',
        cell: ({ startsOn, endsOn }) => (startsOn || endsOn ? `${startsOn || '…'} to ${endsOn || '…'}` : 'always'),
      },
      { key: 'events', head: 'Events', cell: ({ events }) => events.map(({ event }) => event).join(', ') },
      { key: 'window', head: 'Click window', cell: ({ clickWindowDays }) => `${clickWindowDays} days` },
      { key: 'hold', head: 'Hold', cell: ({ hold }) => showHold(hold) },
    ]}
  />
);

const rates = (desk: Desk) => (
  <div className="pad">
    <p style={{ marginBottom: 12, maxWidth: 640 }}>
      A conversion in another currency is converted at the newest rate on or before its day. A rate once stored for a
      day stands.
    </p>
    <RateForm today={desk.today} currency={desk.program.currency} />
  </div>
);
