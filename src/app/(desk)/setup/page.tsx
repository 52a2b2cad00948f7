import type { Metadata } from 'next';
import Link from 'next/link';
import { showHold } from '@/core/commissions/hold';
import { isoTime } from '@/core/time/days';
import { showTime } from '@/core/time/zones';
import { listAudit } from '@/services/audit';
import { listOffers } from '@/services/offers';
import { programFields } from '@/services/programs';
import { listTokens } from '@/services/sign_in';
import { ConfirmButton } from '@/ui/feedback/ConfirmButton';
import { RecordTable } from '@/ui/table/RecordTable';
import { DeskList } from '../../DeskList';
import { Shell } from '../../Shell';
import { type Desk, type SearchParams, openDesk } from '../../desk';
import { ProgramForm, RateForm, TokenForm } from './SetupForms';
import { PostbackShelf } from './postback/PostbackShelf';
import { ReadSource } from './ReadSource';
import { SourceList } from './SourceList';
import { TermsShelf } from './TermsShelf';
import { endToken } from './actions';

export const metadata: Metadata = { title: 'Setup' };

const SHELVES = {
  program: 'Program',
  offers: 'Offers',
  sources: 'Sources',
  terms: 'Partner terms',
  postback: 'Postback and tag',
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
    rates: () => rates(desk),
    tokens: () => tokens(desk),
    audit: () => auditTrail(desk),
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
              <Link className="pick" style={{ textDecoration: 'none' }} href="/setup/offers/new">
                Add an offer
              </Link>
            )}
            {shelf === 'sources' && manages && (
              <>
                <ReadSource />
                <Link className="pick" style={{ textDecoration: 'none' }} href="/setup/sources/new">
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

const tokens = (desk: Desk) => (
  <>
    <div className="pad">
      <p style={{ marginBottom: 12 }}>
        A token lets a program of yours do over <code>/api/v1</code> what you may do here.{' '}
        <a href="/api/v1/openapi.json">Description of the API</a>
      </p>
      <TokenForm />
    </div>
    <RecordTable
      label="Tokens"
      rows={listTokens(desk.stores, desk.actor)}
      keyOf={({ id }) => String(id)}
      empty={<b>No token yet</b>}
      columns={[
        { key: 'name', head: 'For', cell: ({ name }) => name },
        { key: 'user', head: 'With the rights of', cell: ({ userName }) => userName },
        { key: 'made', head: 'Made', cell: ({ createdAt }) => showTime(createdAt, desk.program.timeZone) },
        {
          key: 'used',
          head: 'Last used',
          cell: ({ lastUsedAt }) => (lastUsedAt === null ? 'never' : showTime(lastUsedAt, desk.program.timeZone)),
        },
        {
          key: 'end',
          head: '',
          cell: ({ id, name, revokedAt }) =>
            revokedAt === null ? (
              <ConfirmButton
                label="Revoke"
                variant="text"
                color="error"
                title={`Revoke “${name}”?`}
                values={{ id }}
                action={endToken}
                consequences="Whatever uses it is refused from now on. This cannot be undone; a new token can be made."
              />
            ) : (
              <span className="mute">revoked</span>
            ),
        },
      ]}
    />
  </>
);

const auditTrail = (desk: Desk) => {
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
};
