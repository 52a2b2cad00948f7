import type { TrafficWriter } from '@/store/traffic';

interface Waiting {
  write(traffic: TrafficWriter): void;
  /** Called after the commit, or with the reason why it could not be made durable. */
  settled(failure?: Error): void;
}

/** What the health page says about writing. */
export interface WriteHealth {
  writable: boolean;
  failure?: string;
  /** Clicks that were sent on although they could not be stored. */
  lost: number;
}

/** Gathers what arrives in one turn of the event loop, commits it together, then answers all of it. */
export class GroupCommit {
  private waiting: Waiting[] = [];
  private scheduled = false;
  private unknownCodes = 0;
  readonly health: WriteHealth = { writable: true, lost: 0 };

  constructor(
    private readonly traffic: TrafficWriter,
    private readonly utcDay: () => string,
    private readonly report: (error: Error) => void,
  ) {}

  add(one: Waiting): void {
    this.waiting.push(one);
    this.schedule();
  }

  countUnknownCode(): void {
    this.unknownCodes += 1;
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
    const batch = this.waiting;
    const unknown = this.unknownCodes;
    if (batch.length === 0 && unknown === 0) return;
    this.waiting = [];
    this.unknownCodes = 0;
    let failure: Error | undefined;
    try {
      this.traffic.commitTogether(() => {
        for (const one of batch) one.write(this.traffic);
        if (unknown > 0) this.traffic.countUnknownCodes(this.utcDay(), unknown);
      });
      this.health.writable = true;
      this.health.failure = undefined;
    } catch (error) {
      failure = error instanceof Error ? error : new Error(String(error));
      this.health.writable = false;
      this.health.failure = failure.message;
      this.report(failure);
    }
    for (const one of batch) one.settled(failure);
  }
}
