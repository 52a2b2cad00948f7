import type { Metadata } from 'next';
import Link from 'next/link';
import { showCount } from '@/core/reports/measures';
import { listCoupons } from '@/services/coupons';
import { listOffers } from '@/services/offers';
import { wholeNumber } from '@/services/scope';
import { DeskList } from '../../../DeskList';
import { WayBack } from '@/ui/shell/WayBack';
import { Shell } from '../../../Shell';
import { type SearchParams, openDesk } from '../../../desk';
import { AddCoupon, CouponDates } from './CouponForms';

export const metadata: Metadata = { title: 'Coupons' };

const daysOf = (startsOn: string, endsOn: string): string =>
  startsOn === '' && endsOn === '' ? 'always' : `${startsOn || '…'} to ${endsOn || '…'}`;

export default async function CouponsPage({ searchParams }: { searchParams: SearchParams }) {
  const desk = await openDesk(searchParams);
  const { stores, actor, today } = desk;
  const partnerId = wholeNumber(desk.param('partner'));
  const list = listCoupons(stores, actor, { partnerId, text: desk.param('q') ?? '', ...desk.paging });
  const manages = desk.may('manage_partners');
  const offers = listOffers(stores, actor).map(({ id, name }) => ({ id, name }));
  return (
    <Shell desk={desk} station="partners" title="Coupons">
      <section className="card">
        <div className="head">
          <WayBack href="/partners" from="Partners" title="Coupons" />
          <span className="mute small">For customers who come without a link: the code says whose they are.</span>
          {manages && (
            <div className="right">
              <Link className="pick" href="/partners/import?what=coupons">
                Import a file
              </Link>
              <AddCoupon offers={offers} />
            </div>
          )}
        </div>
        <DeskList
          desk={desk}
          label="Coupons"
          list={list}
          exported="coupons"
          keyOf={({ id }) => String(id)}
          empty={
            <>
              <b>No coupon yet</b>A code that a partner reads out or prints earns for its channel when the shop reports
              it as <code>code</code>.
            </>
          }
          columns={[
            { key: 'code', head: 'Code', cell: ({ code }) => <code className="strong">{code}</code> },
            {
              key: 'partner',
              head: 'Partner',
              cell: ({ partnerId: id, partnerName }) => <Link href={`/partners/${id}`}>{partnerName}</Link>,
            },
            { key: 'channel', head: 'Channel', cell: ({ channelName }) => channelName },
            { key: 'offer', head: 'Offer', cell: ({ offerName }) => offerName },
            {
              key: 'days',
              head: 'Days',
              cell: ({ startsOn, endsOn }) => (
                <span className={(endsOn !== '' && endsOn < today) || startsOn > today ? 'tag wait' : undefined}>
                  {daysOf(startsOn, endsOn)}
                </span>
              ),
            },
            { key: 'conversions', head: 'Conversions', num: true, cell: ({ conversions }) => showCount(conversions) },
            {
              key: 'change',
              head: '',
              cell: ({ id, code, startsOn, endsOn }) =>
                manages && <CouponDates id={id} code={code} startsOn={startsOn} endsOn={endsOn} />,
            },
          ]}
        />
      </section>
    </Shell>
  );
}
