import type { NumberRow } from '@/store/books/calls';
import type { LeaseRow, StoredClick, TrafficReader } from '@/store/traffic';

/** A number is a visit's for so long after it was asked for last; asked for again in the second half, for longer. */
const LEASE_MS = 30 * 60_000;
/** Nobody else is shown it for so long after that: who has it on a note may still call. */
const QUIET_MS = 30 * 60_000;

interface Pool {
  numbersOf(offerId: number): NumberRow[];
}
type Held = Pick<LeaseRow, 'clickId' | 'uptoTime'>;

/** Which telephone number each visit is shown. What was promised is read back after a restart. */
export class NumberBook {
  private readonly held = new Map<number, Held>();
  private readonly offers = new Map<number, NumberRow[]>();
  private version = -1;

  constructor(
    traffic: Pick<TrafficReader, 'leasesSince'>,
    private readonly pool: Pool,
    now: number,
  ) {
    for (const { numberId, clickId, uptoTime } of traffic.leasesSince(now - QUIET_MS))
      this.held.set(numberId, { clickId, uptoTime });
  }

  private numbers(offerId: number, version: number): NumberRow[] {
    if (version !== this.version) {
      this.version = version;
      this.offers.clear();
    }
    const known = this.offers.get(offerId) ?? this.pool.numbersOf(offerId);
    this.offers.set(offerId, known);
    return known;
  }

  /**
   * The number for a click's visit: its own while it lasts, else the one that was free longest, else its channel's.
   * @param version of what is in the books
   * @returns a lease to make durable before the number is shown, where there is a new one
   */
  forClick(
    { clickId, offerId, channelId }: Pick<StoredClick, 'clickId' | 'offerId' | 'channelId'>,
    now: number,
    version: number,
  ): { number?: string; lease?: LeaseRow } {
    const numbers = this.numbers(offerId, version);
    const shared = numbers.filter(({ use }) => use === 'visits');
    const own = shared.find(({ id }) => this.held.get(id)?.clickId === clickId);
    const ends = (id: number): number => this.held.get(id)?.uptoTime ?? 0;
    if (own && ends(own.id) - now > LEASE_MS / 2) return { number: own.number };
    const mine = own && ends(own.id) > now ? own : undefined;
    const chosen =
      mine ?? shared.filter(({ id }) => ends(id) + QUIET_MS <= now).sort((a, b) => ends(a.id) - ends(b.id))[0];
    if (!chosen) {
      const number = numbers.find((each) => each.channelId === channelId)?.number;
      return number === undefined ? {} : { number };
    }
    const lease = { numberId: chosen.id, clickId, fromTime: now, uptoTime: now + LEASE_MS };
    this.held.set(chosen.id, lease);
    return { number: chosen.number, lease };
  }
}
