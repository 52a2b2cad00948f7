import Link from 'next/link';
import { showTime } from '@/core/time/zones';
import type { PartnerRow } from '@/store/books/partners';

/** What the applicant told, who sent them, which terms they accepted, and why they were refused or closed. */
export function Application({ partner, zone }: { partner: PartnerRow; zone: string }) {
  const { application, termsVersion, termsAcceptedAt, referrerId, referrerName, stateReason, state } = partner;
  const facts: [string, React.ReactNode][] = [];
  if (stateReason) facts.push([state === 'refused' ? 'Refused because' : 'Closed because', stateReason]);
  if (application) {
    facts.push(['How they would send people', application.about]);
    facts.push([
      'Where they publish',
      <code key="address">
        {application.address} ({application.channelKind})
      </code>,
    ]);
  }
  if (referrerId !== null)
    facts.push([
      'Referred by',
      <Link key="r" href={`/partners/${referrerId}`}>
        {referrerName}
      </Link>,
    ]);
  if (termsVersion !== null && termsAcceptedAt !== null)
    facts.push([
      'Terms accepted',
      <>
        <Link key="t" href="/setup?shelf=terms">
          version {termsVersion}
        </Link>
        , {showTime(termsAcceptedAt, zone)}
      </>,
    ]);
  if (facts.length === 0) return null;
  return (
    <div className="pad" style={{ borderBottom: '1px solid var(--hair)' }}>
      <dl className="facts">
        {facts.map(([what, value]) => [<dt key={what}>{what}</dt>, <dd key={`${what} is`}>{value}</dd>])}
      </dl>
    </div>
  );
}
