import type { Metadata } from 'next';
import Link from 'next/link';
import { notFound } from 'next/navigation';
import { WayBack } from '@/ui/shell/WayBack';
import { Shell } from '../../../Shell';
import { type SearchParams, openDesk } from '../../../desk';
import { ImportPeople } from './ImportPeople';

export const metadata: Metadata = { title: 'Import partners, channels and coupons' };

const SHELVES = { partners: 'Partners', channels: 'Channels', coupons: 'Coupons' } as const;

export default async function ImportPage({ searchParams }: { searchParams: SearchParams }) {
  const desk = await openDesk(searchParams);
  if (!desk.may('manage_partners')) notFound();
  const all = Object.keys(SHELVES) as (keyof typeof SHELVES)[];
  const what = all.find((id) => id === desk.param('what')) ?? 'partners';
  return (
    <Shell desk={desk} station="partners" title="Import">
      <section className="card">
        <div className="head">
          <WayBack href="/partners" from="Partners" title="Import" />
          <nav className="shelves" aria-label="Shelves">
            {all.map((id) => (
              <Link key={id} href={`/partners/import?what=${id}`} aria-current={what === id ? 'page' : undefined}>
                {SHELVES[id]}
              </Link>
            ))}
          </nav>
          <div className="right">
            <a className="pick" href={`/export/${what}`} download>
              Export {what} as CSV
            </a>
          </div>
        </div>
        <ImportPeople key={what} what={what} />
      </section>
    </Shell>
  );
}
