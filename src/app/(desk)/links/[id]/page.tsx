import type { Metadata } from 'next';
import Link from 'next/link';
import { utmTemplate } from '@/core/links/compose';
import { type LinkKind, markLink, redirects } from '@/core/links/parts';
import { landingPageOf } from '@/core/offers/schema';
import { showCount } from '@/core/reports/measures';
import { isoTime } from '@/core/time/days';
import { showTime } from '@/core/time/zones';
import { type IssuedLink, destinationHistory, linkFigures, readLink } from '@/services/links';
import { readOffer } from '@/services/offers';
import { wholeNumber } from '@/services/scope';
import { readSource } from '@/services/sources';
import { CopyButton } from '@/ui/feedback/CopyButton';
import { Amount } from '@/ui/figures/Amount';
import { RecordTable } from '@/ui/table/RecordTable';
import { WayBack } from '@/ui/shell/WayBack';
import { Shell } from '../../../Shell';
import { type Desk, type SearchParams, openDesk } from '../../../desk';
import { foundOrNot } from '../../../found';
import { MarkedAddress } from '../LinkInSight';
import { QrButton } from '../QrButton';
import { AliasForm, DestinationForm, LabelForm } from './LinkForms';

export const metadata: Metadata = { title: 'Link' };

const KIND_WORDS: Record<LinkKind, string> = {
  referral: 'referral link',
  deep: 'deep link',
  direct: 'direct link, no redirect',
  manual: 'reference, no redirect',
};

export default async function LinkPage({
  params,
  searchParams,
}: {
  params: Promise<{ id: string }>;
  searchParams: SearchParams;
}) {
  const desk = await openDesk(searchParams);
  const { stores, actor } = desk;
  const id = wholeNumber((await params).id) ?? 0;
  const link = foundOrNot(() => readLink(stores, actor, id));
  const code = link.alias ?? link.code;
  return (
    <Shell desk={desk} station="links" title={`Link ${code}`}>
      <div className="stack">
        <section className="card">
          <div className="head">
            <WayBack href="/links" from="Links" title={code} mono />
            <span className="mute">{KIND_WORDS[link.kind]}</span>
            {link.state === 'paused' && <span className="tag wait">paused</span>}
            <div className="right">
              <CopyButton text={link.address} />
              <QrButton address={link.address} name={code} />
            </div>
          </div>
          <div className="pad columns wide-left">
            <div>
              <MarkedAddress marks={markLink({ ...link.parts, code })} />
              <Facts desk={desk} link={link} />
              <h2 style={{ margin: '22px 0 4px' }}>Where it has led</h2>
              <p className="mute small">
                {redirects(link.kind) ? 'Links already out follow.' : 'The page stands in the link itself.'}
              </p>
              <div className="middle">
                <History desk={desk} link={link} />
              </div>
            </div>
            <Terms desk={desk} link={link} />
          </div>
        </section>
      </div>
    </Shell>
  );
}

/** What it brought in the period in sight, and what it is made of. */
function Facts({ desk, link }: { desk: Desk; link: IssuedLink }) {
  const { clicks, uniques, conversions, commission } = linkFigures(desk.stores, desk.actor, desk.scope, link.id);
  const offer = readOffer(desk.stores, desk.actor, link.offerId);
  const source = link.sourceId === null ? undefined : readSource(desk.stores, desk.actor, link.sourceId);
  const rows: [string, React.ReactNode][] = [
    [
      'Partner',
      <Link key="p" href={`/partners/${link.partnerId}`}>
        {link.partnerName}
      </Link>,
    ],
    ['Channel', link.channelName],
    ['Leads to', <code key="to">{link.destination || landingPageOf(offer, link.landing)}</code>],
    [
      'Offer',
      <Link key="o" href={`/setup/offers/${link.offerId}`}>
        {link.offerName}
      </Link>,
    ],
    ['Traffic source', source?.preset.name ?? 'none'],
    ...(Object.keys(link.utm).length > 0
      ? [['UTM', <code key="u">{utmTemplate(link.utm)}</code>] as [string, React.ReactNode]]
      : []),
    ['Issued', showTime(link.createdAt, desk.program.timeZone)],
    [
      'In these days',
      `${showCount(clicks)} clicks, ${showCount(uniques)} unique, ${showCount(conversions)} conversions`,
    ],
    ['Earned', <Amount key="e" minor={commission} currency={desk.program.currency} />],
  ];
  return (
    <dl className="facts">
      {rows.map(([what, value]) => [<dt key={what}>{what}</dt>, <dd key={`${what} is`}>{value}</dd>])}
    </dl>
  );
}

function Terms({ desk, link }: { desk: Desk; link: IssuedLink }) {
  if (!desk.may('issue_links')) return <div />;
  const { landingPages } = readOffer(desk.stores, desk.actor, link.offerId);
  return (
    <div className="stack">
      <div>
        <h2>Leads to</h2>
        {redirects(link.kind) ? (
          <DestinationForm
            id={link.id}
            to={link.destination}
            landing={link.landing}
            pages={landingPages.map(({ name }) => name)}
          />
        ) : (
          <p className="note wait">
            This link has no redirect: the page stands in it, wherever it was published. To lead elsewhere, issue a new
            one and replace it there.
          </p>
        )}
      </div>
      <div>
        <h2>Readable alias</h2>
        {link.alias ? (
          <p>
            <code>{link.alias}</code> <span className="mute">stands for good</span>
          </p>
        ) : (
          <AliasForm id={link.id} />
        )}
      </div>
      <div>
        <h2>Labels</h2>
        <LabelForm id={link.id} labels={link.labels} />
      </div>
    </div>
  );
}

function History({ desk, link }: { desk: Desk; link: IssuedLink }) {
  const zone = desk.program.timeZone;
  return (
    <RecordTable
      label="Where it has led"
      rows={destinationHistory(desk.stores, desk.actor, link.id)}
      keyOf={({ time, destination }) => `${time} ${destination}`}
      empty={<b>Nothing yet</b>}
      columns={[
        {
          key: 'time',
          head: 'Since',
          cell: ({ time }) => (
            <time className="nowrap mute" dateTime={isoTime(time)} title={isoTime(time, zone)}>
              {showTime(time, zone)}
            </time>
          ),
        },
        {
          key: 'to',
          head: 'Page',
          cell: ({ destination, landing }) => (destination ? <code>{destination}</code> : landing || 'landing page'),
        },
        { key: 'who', head: 'By', cell: ({ actor }) => actor },
        { key: 'why', head: 'Reason', cell: ({ reason }) => <span className="mute">{reason}</span> },
      ]}
    />
  );
}
