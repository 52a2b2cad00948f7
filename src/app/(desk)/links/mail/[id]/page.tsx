import type { Metadata } from 'next';
import { notFound } from 'next/navigation';
import { previewMail, readMailCopy } from '@/services/mail_copy';
import { listOffers } from '@/services/offers';
import { wholeNumber } from '@/services/scope';
import { ConfirmButton } from '@/ui/feedback/ConfirmButton';
import { WayBack } from '@/ui/shell/WayBack';
import { Shell } from '../../../../Shell';
import { type SearchParams, openDesk } from '../../../../desk';
import { foundOrNot } from '../../../../found';
import { dropMail, issueMail } from '../../actions';
import { MailForm } from './MailForm';
import { MailPreview } from './MailPreview';

export const metadata: Metadata = { title: 'Mail copy' };

export default async function MailCopyPage({
  params,
  searchParams,
}: {
  params: Promise<{ id: string }>;
  searchParams: SearchParams;
}) {
  const desk = await openDesk(searchParams);
  const { stores, actor } = desk;
  const text = (await params).id;
  const id = wholeNumber(text);
  if ((id === null && text !== 'new') || !desk.may('manage_partners')) notFound();
  const copy = id === null ? undefined : foundOrNot(() => readMailCopy(stores, actor, id));
  const { mail, missing } = copy
    ? previewMail(stores, actor, copy, wholeNumber(desk.param('for')))
    : { mail: undefined, missing: 0 };
  return (
    <Shell desk={desk} station="links" title="Mail copy">
      <section className="card">
        <div className="head">
          <WayBack href="/links/mail" from="Mail copy" title={copy?.name ?? 'New mail copy'} />
          {copy && (
            <div className="right">
              {missing > 0 && (
                <ConfirmButton
                  label={`Issue ${missing} missing`}
                  variant="contained"
                  title={`Issue ${missing} links?`}
                  values={{ id: copy.id }}
                  action={issueMail}
                  consequences="Each partner without a link for this offer and page gets one, counted by the channel shown. Links are permanent."
                />
              )}
              <a className="pick" href={`/links/mail/${copy.id}/csv`}>
                Export as CSV
              </a>
              <ConfirmButton
                label="Delete"
                color="error"
                title={`Delete “${copy.name}”?`}
                values={{ id: copy.id }}
                action={dropMail}
                consequences="The text is gone. Links that were issued for it stay and go on counting."
              />
            </div>
          )}
        </div>
        <div className="pad columns">
          <MailForm
            id={copy?.id}
            values={copy}
            offers={listOffers(stores, actor).map(({ id: offerId, name }) => ({ id: offerId, name }))}
          />
          {copy ? (
            <MailPreview mail={mail} />
          ) : (
            <p className="note calm">
              Once it is kept, every partner’s copy is shown here, with the partner’s own link.
            </p>
          )}
        </div>
      </section>
    </Shell>
  );
}
