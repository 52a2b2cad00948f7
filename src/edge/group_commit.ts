import {
  type Arrivals,
  type ClickRow,
  type LeaseRow,
  type PostbackRow,
  type VisitRow,
  noArrivals,
  pushClick,
} from '@/store/traffic';

/** Two ways to make arrivals durable, all or none; what could not be is said by an error. */
export interface Commits {
  /** On this thread, before it returns: for a few, quicker than to hand them over. */
  here(arrivals: Arrivals): void;
  /** On another, while this one reads on. Batches are written in the order in which they come, those that wait together. */
  aside(arrivals: Arrivals): Promise<void>;
}
/** Called after the commit, or with the reason why it could not be made durable. */
type Settled = (failure?: Error) => void;

/** What the health page says about writing. */
export interface WriteHealth {
  writable: boolean;
  failure?: string;
  /** Clicks that were sent on although they could not be stored. */
  lost: number;
}

/** From so many on they are written aside, at the end of a turn of the event loop. */
const ENOUGH = 16;
/**
 * So many leave in the middle of a turn: the others of it are read meanwhile. Were the whole turn to leave together,
 * reading and writing would wait for each other; with fewer, the disk would be awaited more often.
 */
const FULL = 32;

/**
 * Gathers what arrives while the commit before is written, at the least what arrives in one turn of the event loop,
 * commits it together, then answers all of it.
 */
export class GroupCommit {
  private arrivals = noArrivals();
  private settled: Settled[] = [];
  private scheduled = false;
  /** Batches that are written aside, oldest first. */
  private readonly underway: Promise<void>[] = [];
  readonly health: WriteHealth = { writable: true, lost: 0 };

  constructor(
    private readonly commits: Commits,
    private readonly utcDay: () => string,
    private readonly report: (error: Error) => void,
  ) {}

  /** @param through the day on which the click counts for its offer's caps */
  click(click: ClickRow, through: string | undefined, settled: Settled): void {
    pushClick(this.arrivals.clicks, click);
    if (through !== undefined) this.countThrough(click.offerId, through);
    this.wait(settled);
  }
  landing(click: ClickRow, settled: Settled): void {
    pushClick(this.arrivals.landings, click);
    this.wait(settled);
  }
  postback(postback: PostbackRow, settled: Settled): void {
    this.arrivals.postbacks.push(postback);
    this.wait(settled);
  }
  visit(visit: VisitRow, settled: Settled = () => undefined): void {
    this.arrivals.visits.push(visit);
    this.wait(settled);
  }
  lease(lease: LeaseRow, settled: Settled): void {
    this.arrivals.leases.push(lease);
    this.wait(settled);
  }
  countUnknownCode(): void {
    this.arrivals.unknownCodes += 1;
    this.schedule();
  }

  private countThrough(offerId: number, day: string): void {
    const { through } = this.arrivals;
    const known = through.find((each) => each.offerId === offerId && each.day === day);
    if (known) known.clicks += 1;
    else through.push({ offerId, day, clicks: 1 });
  }

  private wait(settled: Settled): void {
    this.settled.push(settled);
    if (this.settled.length >= FULL) this.depart();
    else this.schedule();
  }

  private schedule(): void {
    if (this.scheduled) return;
    this.scheduled = true;
    setImmediate(() => {
      this.scheduled = false;
      this.depart();
    });
  }

  /** Sends what waits to be written; a few wait until nothing is underway, or until they are enough. */
  private depart(): void {
    const { arrivals, settled } = this;
    if (settled.length < ENOUGH && this.underway.length > 0) return;
    if (settled.length === 0 && arrivals.unknownCodes === 0) return;
    if (arrivals.unknownCodes > 0) arrivals.day = this.utcDay();
    this.arrivals = noArrivals();
    this.settled = [];
    if (settled.length >= ENOUGH) {
      const written = this.commits.aside(arrivals).then(
        () => this.written(settled),
        (error: unknown) => this.written(settled, error),
      );
      this.underway.push(written);
      return;
    }
    let failure: unknown;
    try {
      this.commits.here(arrivals);
    } catch (error) {
      failure = error;
    }
    this.settle(settled, failure);
  }

  private written(settled: readonly Settled[], thrown?: unknown): void {
    this.underway.shift();
    this.settle(settled, thrown);
  }

  private settle(settled: readonly Settled[], thrown?: unknown): void {
    const failure = thrown === undefined || thrown instanceof Error ? thrown : new Error(String(thrown));
    if (failure) this.report(failure);
    this.health.writable = failure === undefined;
    this.health.failure = failure?.message;
    for (const each of settled) each(failure);
    this.depart();
  }

  /** On the way out: nothing that was taken in is left behind. */
  async drain(): Promise<void> {
    this.depart();
    while (this.underway.length > 0) await this.underway[0];
  }
}
