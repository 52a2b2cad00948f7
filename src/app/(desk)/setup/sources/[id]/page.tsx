import type { Metadata } from 'next';
import { notFound } from 'next/navigation';
import { wholeNumber } from '@/services/scope';
import { readSource } from '@/services/sources';
import { WayBack } from '@/ui/shell/WayBack';
import { Shell } from '../../../../Shell';
import { type SearchParams, openDesk } from '../../../../desk';
import { foundOrNot } from '../../../../found';
import { SourceForm } from '../SourceForm';

export const metadata: Metadata = { title: 'Source' };

export default async function SourcePage({
  params,
  searchParams,
}: {
  params: Promise<{ id: string }>;
  searchParams: SearchParams;
}) {
  const desk = await openDesk(searchParams);
  const text = (await params).id;
  const id = wholeNumber(text);
  if ((id === null && text !== 'new') || !desk.may('manage_setup')) notFound();
  const source = id === null ? undefined : foundOrNot(() => readSource(desk.stores, desk.actor, id));
  return (
    <Shell desk={desk} station="setup" title="Source">
      <section className="card">
        <div className="head">
          <WayBack href="/setup?shelf=sources" from="Sources" title={source?.preset.name ?? 'New source'} />
          <span className="mute small">Links already out keep what they were issued with.</span>
          {source && (
            <div className="right">
              <a className="pick" href={`/setup/sources/${source.id}/json`} download>
                Export as JSON
              </a>
            </div>
          )}
        </div>
        <div className="pad">
          <SourceForm id={source?.id} preset={source?.preset} />
        </div>
      </section>
    </Shell>
  );
}
