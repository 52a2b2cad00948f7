import type { Metadata } from 'next';
import Link from 'next/link';
import { showDay } from '@/core/time/calendar';
import { dayOf } from '@/core/time/zones';
import { listChannels } from '@/services/channels';
import { partnerFields, readPartner } from '@/services/partners';
import { wholeNumber } from '@/services/scope';
import { listSources } from '@/services/sources';
import { RecordTable } from '@/ui/table/RecordTable';
import { WayBack } from '@/ui/shell/WayBack';
import { Shell } from '../../../Shell';
import { type SearchParams, openDesk } from '../../../desk';
import { foundOrNot } from '../../../found';
import { EditChannel, EditPartner, NewChannel } from '../PartnerForms';
import { Application } from './Application';
import { PartnerMoney } from './PartnerMoney';
import { StateSteps } from './StateSteps';

export const metadata: Metadata = { title: 'Partner' };

export default async function PartnerPage({
  params,
  searchParams,
}: {
  params: Promise<{ id: string }>;
  searchParams: SearchParams;
}) {
  const desk = await openDesk(searchParams);
  const id = wholeNumber((await params).id) ?? 0;
  const partner = foundOrNot(() => readPartner(desk.stores, desk.actor, id));
  const channels = listChannels(desk.stores, desk.actor, id);
  const mayManage = desk.may('manage_partners');
  const sources = listSources(desk.stores, desk.actor).map(({ id: sourceId, preset }) => ({
    id: sourceId,
    name: preset.name,
  }));
  return (
    <Shell desk={desk} station="partners" title={partner.name}>
      <div className="stack">
        <section className="card">
          <div className="head">
            <WayBack href="/partners" from="Partners" title={partner.name} />
            <code>{partner.code}</code>
            <span className={partner.state === 'active' ? 'mute' : 'tag wait'}>
              {partner.state} since {showDay(dayOf(partner.stateSince, desk.program.timeZone))}
            </span>
            <div className="right">
              <Link className="pick" href={`/links?partner=${id}`}>
                Links
              </Link>
              <Link className="pick" href={`/commissions?partner=${id}`}>
                Commissions
              </Link>
              {mayManage && <StateSteps id={id} name={partner.name} state={partner.state} />}
            </div>
          </div>
          <Application partner={partner} zone={desk.program.timeZone} />
          <div className="pad columns wide-left">
            <div>
              {mayManage ? (
                <EditPartner
                  id={id}
                  values={partnerFields(desk.stores, partner)}
                  currency={desk.program.currency}
                  applicant={partner.state === 'applied'}
                />
              ) : (
                <p className="mute">{partner.notes || 'No notes.'}</p>
              )}
            </div>
            <PartnerMoney desk={desk} partner={partner} />
          </div>
        </section>
        <section className="card">
          <div className="head">
            <h2 style={{ margin: 0 }}>Channels</h2>
            <span className="mute small">everything is counted by them</span>
            <div className="right">{mayManage && <NewChannel partnerId={id} sources={sources} />}</div>
          </div>
          <RecordTable
            label="Channels"
            rows={channels}
            keyOf={(channel) => String(channel.id)}
            empty={
              <>
                <b>No channel yet</b>Links are issued for a channel: add the first.
              </>
            }
            columns={[
              { key: 'name', head: 'Channel', cell: ({ name }) => <span className="strong">{name}</span> },
              { key: 'code', head: 'Code', cell: ({ code }) => <code>{code}</code> },
              { key: 'kind', head: 'Kind', cell: ({ kind }) => kind },
              { key: 'address', head: 'Address', cell: ({ address }) => <code>{address}</code> },
              {
                key: 'source',
                head: 'Default source',
                cell: ({ sourceId }) =>
                  sources.find((source) => source.id === sourceId)?.name ?? <span className="mute">none</span>,
              },
              {
                key: 'links',
                head: '',
                cell: ({ id: channelId }) => <Link href={`/links?partner=${id}&channel=${channelId}`}>Links</Link>,
              },
              {
                key: 'edit',
                head: '',
                cell: ({ id: channelId, code, name, kind, address, sourceId }) =>
                  mayManage && (
                    <EditChannel id={channelId} values={{ code, name, kind, address, sourceId }} sources={sources} />
                  ),
              },
            ]}
          />
        </section>
      </div>
    </Shell>
  );
}
