import type { Metadata } from 'next';
import Link from 'next/link';
import { notFound } from 'next/navigation';
import { listOffers } from '@/services/offers';
import { wholeNumber } from '@/services/scope';
import { WayBack } from '@/ui/shell/WayBack';
import { Shell } from '../../../../Shell';
import { type SearchParams, openDesk } from '../../../../desk';
import { copyOffer } from '../../actions';
import { OfferForm } from '../OfferForm';

export const metadata: Metadata = { title: 'Offer' };

export default async function OfferPage({
  params,
  searchParams,
}: {
  params: Promise<{ id: string }>;
  searchParams: SearchParams;
}) {
  const desk = await openDesk(searchParams);
  const { id } = await params;
  const offer = listOffers(desk.stores, desk.actor).find((each) => each.id === wholeNumber(id));
  if (!offer && id !== 'new') notFound();
  const { id: offerId, programId: _, ...values } = offer ?? { id: undefined, programId: 0 };
  return (
    <Shell desk={desk} station="setup" title="Offer">
      <section className="card">
        <div className="head">
          <WayBack href="/setup?shelf=offers" from="Offers" title={offer?.name ?? 'New offer'} />
          {offer && (
            <Link className="pick" style={{ marginLeft: 'auto' }} href={`/setup/offers/${offer.id}/routing`}>
              Routing
            </Link>
          )}
          {offer && desk.may('manage_setup') && (
            <form action={copyOffer}>
              <button className="pick" name="id" value={offer.id}>
                Duplicate
              </button>
            </form>
          )}
        </div>
        <div className="pad">{'code' in values ? <OfferForm id={offerId} values={values} /> : <OfferForm />}</div>
      </section>
    </Shell>
  );
}
