import type { Metadata } from 'next';
import Link from 'next/link';
import { showCount } from '@/core/reports/measures';
import { Shell } from '../../Shell';
import { type SearchParams, openDesk } from '../../desk';
import { Explorer } from './Explorer';
import { Log } from './Log';
import { SetAside } from './SetAside';
import { type Shelf, shelfOf } from './looking';

export const metadata: Metadata = { title: 'Clicks' };

export default async function ClicksPage({ searchParams }: { searchParams: SearchParams }) {
  const desk = await openDesk(searchParams);
  const shelf = shelfOf(desk);
  const elsewhere = { page: undefined, trace: undefined, upto: undefined, sort: undefined, order: undefined };
  const to = (id: Shelf, words: React.ReactNode) => (
    <Link
      href={desk.href({ ...elsewhere, shelf: id === 'counted' ? undefined : id })}
      aria-current={shelf === id ? 'page' : undefined}
    >
      {words}
    </Link>
  );
  return (
    <Shell desk={desk} station="clicks" title="Clicks">
      <section className="card">
        <div className="head">
          <nav className="shelves" aria-label="Shelves">
            {to(
              'counted',
              <>
                Counted <b>{showCount(desk.figures.counted)}</b>
              </>,
            )}
            {to(
              'set_aside',
              <>
                Set aside <b>{showCount(desk.figures.setAside)}</b>
              </>,
            )}
            {to('explore', 'Explorer')}
          </nav>
          <span className="mute small">{showCount(desk.figures.uniques)} unique</span>
        </div>
        {shelf === 'explore' ? (
          <Explorer desk={desk} />
        ) : (
          <>
            {shelf === 'set_aside' && <SetAside desk={desk} />}
            <Log desk={desk} shelf={shelf} />
          </>
        )}
      </section>
    </Shell>
  );
}
