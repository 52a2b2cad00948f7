import type { Metadata } from 'next';
import Link from 'next/link';
import { notFound } from 'next/navigation';
import { Shell } from '../../../Shell';
import { type SearchParams, openDesk } from '../../../desk';
import { ImportPeople } from './ImportPeople';

export const metadata: Metadata = { title: 'Import partners and channels' };

const SHELVES = { partners: 'Partners', channels: 'Channels' } as const;

export default async function ImportPage({ searchParams }: { searchParams: SearchParams }) {
  const desk = await openDesk(searchParams);
  if (!desk.may('manage_partners')) notFound();
  const what = desk.param('what') === 'channels' ? 'channels' : 'partners';
  return (
    <Shell desk={desk} station="partners" title="Import">
      <section className="card">
        <div className="head">
          <Link href="/partners" className="mute">
            Partners
          </Link>
          <h2 style={{ margin: 0, fontSize: 17 }}>Import</h2>
          <nav className="shelves" aria-label="Shelves">
            {(Object.keys(SHELVES) as (keyof typeof SHELVES)[]).map((id) => (
              <Link key={id} href={`/partners/import?what=${id}`} aria-current={what === id ? 'page' : undefined}>
                {SHELVES[id]}
              </Link>
            ))}
          </nav>
          <div className="right">
            <a className="pick" style={{ textDecoration: 'none' }} href={`/export/${what}`} download>
              Export {what} as CSV
            </a>
          </div>
        </div>
        <ImportPeople key={what} what={what} />
      </section>
    </Shell>
  );
}
