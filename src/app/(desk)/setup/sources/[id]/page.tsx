import type { Metadata } from 'next';
import Link from 'next/link';
import { notFound } from 'next/navigation';
import { wholeNumber } from '@/services/scope';
import { readSource } from '@/services/sources';
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
          <Link href="/setup?shelf=sources" className="mute">
            Sources
          </Link>
          <h2 style={{ margin: 0, fontSize: 17 }}>{source?.preset.name ?? 'New source'}</h2>
          <span className="mute small">Links already out keep what they were issued with.</span>
          {source && (
            <div className="right">
              <a className="pick" style={{ textDecoration: 'none' }} href={`/setup/sources/${source.id}/json`} download>
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
