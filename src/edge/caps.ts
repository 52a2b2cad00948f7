import { reachedCap, usedOf } from '@/core/routing/caps';
import type { Cap } from '@/core/routing/plan';
import type { Day } from '@/core/time/calendar';
import type { Routes } from '@/store/books';
import type { TrafficReader } from '@/store/traffic';

/** How old what the books say of conversions may be when a cap asks. */
const BOOKS_MS = 200;

type Periods = Record<Cap['per'], number>;
interface OfferUse {
  today: Day;
  clicks: Periods;
  conversions: Periods;
  spend: Periods;
  /** When the books were read, and at which of their versions. */
  readAt: number;
  version: number;
}

/**
 * How much of each offer's caps is used up. Clicks are counted here, as they are let through, so that a cap of clicks
 * is never overrun; conversions and spend are the books', which follow within moments.
 */
export class CapBook {
  private readonly offers = new Map<number, OfferUse>();

  constructor(
    private readonly traffic: Pick<TrafficReader, 'offerDays'>,
    private readonly books: Pick<Routes, 'routing' | 'version'>,
  ) {}

  reached(offerId: number, caps: readonly Cap[], today: Day, now: number): boolean {
    if (caps.length === 0) return false;
    const use = this.use(offerId, today);
    if (caps.some(({ of }) => of !== 'clicks') && now - use.readAt >= BOOKS_MS) this.readBooks(offerId, use, now);
    return reachedCap(caps, (of, per) => use[of][per]) !== undefined;
  }

  /** A counted click was let through. */
  note(offerId: number, today: Day): void {
    // Not looked at so far: it will be read with the others when a cap first asks.
    const use = this.offers.get(offerId);
    if (!use) return;
    const { clicks } = this.use(offerId, today);
    clicks.day += 1;
    clicks.month += 1;
    clicks.total += 1;
  }

  /** Read again when a new day begins. */
  private use(offerId: number, today: Day): OfferUse {
    const known = this.offers.get(offerId);
    if (known?.today === today) return known;
    const clicks = periods(this.traffic.offerDays(offerId), today);
    if (known) {
      // What is not committed yet is in memory alone.
      clicks.total = Math.max(clicks.total, known.clicks.total);
      if (today.slice(0, 7) === known.today.slice(0, 7)) clicks.month = Math.max(clicks.month, known.clicks.month);
    }
    const none = { day: 0, month: 0, total: 0 };
    const use = { today, clicks, conversions: none, spend: none, readAt: -Infinity, version: -1 };
    this.offers.set(offerId, use);
    return use;
  }

  private readBooks(offerId: number, use: OfferUse, now: number): void {
    use.readAt = now;
    const version = this.books.version();
    if (version === use.version) return;
    use.version = version;
    const days = this.books.routing.offerDays(offerId);
    use.conversions = periods(
      days.map(({ day, conversions }) => ({ day, count: conversions })),
      use.today,
    );
    use.spend = periods(
      days.map(({ day, spend }) => ({ day, count: spend })),
      use.today,
    );
  }
}

const periods = (counts: readonly { day: string; count: number }[], today: Day): Periods => ({
  day: usedOf(counts, today, 'day'),
  month: usedOf(counts, today, 'month'),
  total: usedOf(counts, today, 'total'),
});
