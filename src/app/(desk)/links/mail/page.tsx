import type { Metadata } from 'next';
import Link from 'next/link';
import { showTime } from '@/core/time/zones';
import { listMailCopies } from '@/services/mail_copy';
import { readOffer } from '@/services/offers';
import { RecordTable } from '@/ui/table/RecordTable';
import { WayBack } from '@/ui/shell/WayBack';
import { Shell } from '../../../Shell';
import { type SearchParams, openDesk } from '../../../desk';

export const metadata: Metadata = { title: 'Mail copy' };

export default async function MailCopiesPage({ searchParams }: { searchParams: SearchParams }) {
  const desk = await openDesk(searchParams);
  return (
    <Shell desk={desk} station="links" title="Mail copy">
      <section className="card">
        <div className="head">
          <WayBack href="/links" from="Links" title="Mail copy" />
          <span className="mute small">Text in which each partner’s own link stands.</span>
          <div className="right">
            {desk.may('manage_partners') && (
              <Link className="pick" href="/links/mail/new">
                Write one
              </Link>
            )}
          </div>
        </div>
        <RecordTable
          label="Mail copy"
          rows={listMailCopies(desk.stores, desk.actor)}
          keyOf={({ id }) => String(id)}
          empty={
            <>
              <b>No mail copy yet</b>Write a text once; {'{link}'} becomes each partner’s own link.
            </>
          }
          columns={[
            {
              key: 'name',
              head: 'Name',
              cell: ({ id, name }) => (
                <Link className="strong" href={`/links/mail/${id}`}>
                  {name}
                </Link>
              ),
            },
            { key: 'subject', head: 'Subject', cell: ({ subject }) => subject },
            { key: 'offer', head: 'Offer', cell: ({ offerId }) => readOffer(desk.stores, desk.actor, offerId).name },
            { key: 'page', head: 'Page', cell: ({ to }) => (to ? <code>{to}</code> : 'landing page') },
            {
              key: 'changed',
              head: 'Changed',
              cell: ({ changedAt }) => (
                <span className="mute nowrap">{showTime(changedAt, desk.program.timeZone)}</span>
              ),
            },
          ]}
        />
      </section>
    </Shell>
  );
}
