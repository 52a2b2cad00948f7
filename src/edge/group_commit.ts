import { type Arrivals, type ClickRow, type PostbackRow, clickValues, noArrivals } from '@/store/traffic';

/** Makes arrivals durable, all or none. @throws when they could not be */
export type Commit = (arrivals: Arrivals) => void;
/** Called after the commit, or with the reason why it could not be made durable. */
type Settled = (failure?: Error) => void;

/** What the health page says about writing. */
export interface WriteHealth {
  writable: boolean;
  failure?: string;
  /** Clicks that were sent on although they could not be stored. */
  lost: number;
}

/** Gathers what arrives in one turn of the event loop, commits it together, then answers all of it. */
export class GroupCommit {
  private arrivals = noArrivals();
  private settled: Settled[] = [];
  private scheduled = false;
  readonly health: WriteHealth = { writable: true, lost: 0 };

  constructor(
    private readonly commit: Commit,
    private readonly utcDay: () => string,
    private readonly report: (error: Error) => void,
  ) {}

  /** @param through the day on which the click counts for its offer's caps */
  click(click: ClickRow, through: string | undefined, settled: Settled): void {
    this.arrivals.clicks.push(clickValues(click));
    if (through !== undefined) this.countThrough(click.offerId, through);
    this.wait(settled);
  }
  landing(click: ClickRow, settled: Settled): void {
    this.arrivals.landings.push(clickValues(click));
    this.wait(settled);
  }
  postback(postback: PostbackRow, settled: Settled): void {
    this.arrivals.postbacks.push(postback);
    this.wait(settled);
  }
  countUnknownCode(): void {
    this.arrivals.unknownCodes += 1;
    this.schedule();
  }

  private countThrough(offerId: number, day: string): void {
    const { through } = this.arrivals;
    const days = through.get(offerId) ?? [];
    const last = days.at(-1);
    if (last?.day === day) last.clicks += 1;
    else days.push({ day, clicks: 1 });
    through.set(offerId, days);
  }

  private wait(settled: Settled): void {
    this.settled.push(settled);
    this.schedule();
  }

  private schedule(): void {
    if (this.scheduled) return;
    this.scheduled = true;
    setImmediate(() => this.flush());
  }

  /** Also called on the way out, so that nothing that was taken in is left behind. */
  flush(): void {
    this.scheduled = false;
    const { arrivals, settled } = this;
    if (settled.length === 0 && arrivals.unknownCodes === 0) return;
    arrivals.day = this.utcDay();
    this.arrivals = noArrivals();
    this.settled = [];
    let failure: Error | undefined;
    try {
      this.commit(arrivals);
    } catch (error) {
      failure = error instanceof Error ? error : new Error(String(error));
      this.report(failure);
    }
    this.health.writable = failure === undefined;
    this.health.failure = failure?.message;
    for (const each of settled) each(failure);
  }
}
