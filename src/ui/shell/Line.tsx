import Link from 'next/link';
import type { Currency } from '@/core/money/currency';
import { money } from '@/core/money/money';
import { showAmount } from '@/core/money/text';
import { showCount, showRatio } from '@/core/reports/measures';
import { type Day, showDay } from '@/core/time/calendar';
import type { StationId } from './paths';

export interface Figures {
  toDecide: number;
  links: number;
  counted: number;
  uniques: number;
  setAside: number;
  conversions: number;
  unmatched: number;
  commissions: number;
  commission: number;
  approved: number;
  payable: number;
  payablePartners: number;
  nextPayoutDay: Day;
}
interface Props {
  figures: Figures;
  currency: Currency;
  station: StationId;
  /** Scope parameters, "?from=…" or empty. */
  query: string;
}

/** Amounts on the Line are overviews: whole units; the stations show every cent. */
function whole(minor: number, currency: Currency): string {
  return showAmount(money(minor, currency)).replace(/\.\d+$/, '');
}

/** The job as a line, with live figures for what is in scope, and between stations what happens there. */
export function Line({ figures: f, currency, station, query }: Props) {
  const each = f.commissions === 0 ? undefined : showAmount(money(Math.round(f.commission / f.commissions), currency));
  const stop = (id: StationId, name: string, value: string, about: React.ReactNode, first = false) => (
    <Link
      className={first ? 'stop first' : 'stop'}
      href={`/${id}${query}`}
      aria-current={station === id ? 'page' : undefined}
      prefetch={false}
    >
      <span className="name">{name}</span>
      <span className="value" style={{ display: 'block' }}>
        {value}
      </span>
      <span className="about tag">{about}</span>
    </Link>
  );
  const rail = (text?: string, title?: string) => <div className="rail">{text && <b title={title}>{text}</b>}</div>;
  const aux = (id: StationId, name: string) => (
    <Link href={`/${id}${query}`} aria-current={station === id ? 'page' : undefined} prefetch={false}>
      {name}
    </Link>
  );
  return (
    <nav className="line" aria-label="The Line">
      {stop('today', 'Today', showCount(f.toDecide), <>{f.toDecide > 0 && <span className="dot" />}to decide</>, true)}
      {stop('links', 'Links', showCount(f.links), 'issued')}
      {rail()}
      {stop('clicks', 'Clicks', showCount(f.counted), `${showRatio(f.setAside, f.counted + f.setAside)} set aside`)}
      {rail(showRatio(f.conversions, f.uniques), 'Conversions by unique clicks')}
      {stop(
        'conversions',
        'Conversions',
        showCount(f.conversions),
        f.unmatched > 0 ? (
          <>
            <span className="dot" />
            {showCount(f.unmatched)} unmatched
          </>
        ) : (
          'all matched'
        ),
      )}
      {rail(each && `${each} each`, 'Commission by conversion')}
      {stop('commissions', 'Commissions', whole(f.commission, currency), `${whole(f.approved, currency)} approved`)}
      {rail(`due ${showDay(f.nextPayoutDay, { year: false })}`, 'Next payout day')}
      {stop(
        'payouts',
        'Payouts',
        whole(f.payable, currency),
        `owed to ${showCount(f.payablePartners)} partner${f.payablePartners === 1 ? '' : 's'}`,
      )}
      <div className="aux">
        {aux('partners', 'Partners')}
        {aux('setup', 'Setup')}
      </div>
    </nav>
  );
}
