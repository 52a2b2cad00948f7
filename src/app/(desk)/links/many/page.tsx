import type { Metadata } from 'next';
import { listOffers } from '@/services/offers';
import { listGroups } from '@/services/partners';
import { listSources } from '@/services/sources';
import { WayBack } from '@/ui/shell/WayBack';
import { Shell } from '../../../Shell';
import { type SearchParams, openDesk } from '../../../desk';
import { ManyLinks } from './ManyLinks';

export const metadata: Metadata = { title: 'Many links at once' };

export default async function ManyPage({ searchParams }: { searchParams: SearchParams }) {
  const desk = await openDesk(searchParams);
  const named = ({ id, name }: { id: number; name: string }) => ({ id, label: name });
  return (
    <Shell desk={desk} station="links" title="Many links at once">
      <section className="card">
        <div className="head">
          <WayBack href="/links" from="Links" title="Many at once" />
          <span className="mute small">Nothing is issued before you have seen what becomes of each line.</span>
        </div>
        {desk.may('issue_links') ? (
          <ManyLinks
            offers={listOffers(desk.stores, desk.actor).map(named)}
            sources={listSources(desk.stores, desk.actor).map(({ id, preset }) => ({ id, label: preset.name }))}
            groups={listGroups(desk.stores, desk.actor).map(named)}
            partner={desk.view.partner}
            channel={desk.view.channel}
          />
        ) : (
          <p className="pad">Your role may look at links, not issue them.</p>
        )}
      </section>
    </Shell>
  );
}
