import type { Metadata } from 'next';
import Link from 'next/link';
import { DAY_MS, showDay } from '@/core/time/calendar';
import { showTime } from '@/core/time/zones';
import { edgeTrouble } from '@/services/edge_health';
import { today } from '@/services/today';
import { Amount } from '@/ui/figures/Amount';
import { Shell } from '../../Shell';
import { type SearchParams, openDesk } from '../../desk';

export const metadata: Metadata = { title: 'Today' };

const age = (since: number, now: number): string => {
  const days = Math.floor((now - since) / DAY_MS);
  return days === 0 ? 'today' : days === 1 ? 'since yesterday' : `for ${days} days`;
};

export default async function TodayPage({ searchParams }: { searchParams: SearchParams }) {
  const desk = await openDesk(searchParams);
  const trouble = desk.actor.partnerId === null ? await edgeTrouble() : undefined;
  const entries = [...(trouble ? [trouble] : []), ...today(desk.stores, desk.actor)];
  const now = desk.stores.now();
  return (
    <Shell desk={desk} station="today" title="Today">
      <section className="card">
        <div className="head">
          <h2 style={{ margin: 0 }}>
            {entries.length === 0 ? 'Nothing waits for you' : `${entries.length} to decide`}
          </h2>
          <span className="mute">{showDay(desk.view.periods[0]?.to ?? desk.view.to)}</span>
        </div>
        {entries.length === 0 ? (
          <div className="empty">
            <b>A good day</b>
            The next payout day is {showDay(desk.figures.nextPayoutDay)}; commissions show up here when their hold ends.
          </div>
        ) : (
          <ul className="queue" aria-label="To decide">
            {entries.map(({ key, urgency, title, why, since, amount, action, href }) => (
              <li key={key}>
                <span
                  className={urgency === 'trouble' ? 'dot trouble' : 'dot'}
                  role="img"
                  aria-label={urgency === 'trouble' ? 'Trouble' : 'Waiting'}
                />
                <div>
                  <div className="title">{title}</div>
                  <div className="mute">{why}</div>
                </div>
                <span
                  className="mute small"
                  title={since === undefined ? undefined : showTime(since, desk.program.timeZone)}
                >
                  {since !== undefined && age(since, now)}
                </span>
                <span className="num strong">
                  {amount !== undefined && <Amount minor={amount} currency={desk.program.currency} />}
                </span>
                <Link href={href} className="pick" style={{ justifySelf: 'end', textDecoration: 'none' }}>
                  {action}
                </Link>
              </li>
            ))}
          </ul>
        )}
      </section>
    </Shell>
  );
}
