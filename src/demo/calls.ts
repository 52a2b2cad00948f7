import { isoTime } from '@/core/time/days';
import { checkCall } from '@/services/call_reports';
import type { LeaseRow, PostbackRow } from '@/store/traffic';
import type { Chance } from './chance';

const MINUTE = 60_000;
const PLACES = ['Breda', 'Utrecht', 'Zwolle', 'Ghent', 'Antwerp'];
/** The digits of numbers that are kept for fiction: +44 20 7946 0000 to 0999. */
const CALLER = '+4420794600';

/** Numbers of the pool as they stand in the books. */
export interface DemoNumbers {
  /** One channel's own. */
  readonly own: string;
  readonly visits: readonly { readonly id: number; readonly number: string }[];
}

/** The telephone exchange: who calls which number, when, and for how long. */
export class Exchange {
  private queue: { time: number; fields: Record<string, string> }[] = [];
  private fresh: LeaseRow[] = [];
  private readonly busyUntil = new Map<number, number>();
  private counted = 0;

  constructor(
    private readonly chance: Chance,
    private readonly numbers: DemoNumbers,
    private readonly newId: (time: number) => string,
    private readonly hash: (caller: string) => string,
  ) {}

  /** A visitor is shown a number, and calls it a little later. */
  visitCalls(clickId: string, clickTime: number): void {
    // As the tracking host does: the one that was free longest.
    const until = (id: number): number => this.busyUntil.get(id) ?? 0;
    const [free] = [...this.numbers.visits].sort((a, b) => until(a.id) - until(b.id));
    if (!free || until(free.id) >= clickTime) return;
    this.busyUntil.set(free.id, clickTime + 60 * MINUTE);
    this.fresh.push({ numberId: free.id, clickId, fromTime: clickTime, uptoTime: clickTime + 30 * MINUTE });
    this.call(free.number, clickTime + (2 + this.chance.below(25)) * MINUTE);
  }

  /** Somebody calls the number that stands in a directory; some hide who they are, some call again. */
  directoryCalls(start: number): void {
    if (!this.chance.happens(0.4)) return;
    const time = start + (8 * 60 + this.chance.below(13 * 60)) * MINUTE;
    const caller = this.call(this.numbers.own, time);
    if (this.chance.happens(0.2)) this.call(this.numbers.own, time + 40 * MINUTE, caller);
  }

  private call(number: string, time: number, again?: string): string {
    const { chance } = this;
    const caller = again ?? (chance.happens(0.08) ? '' : `${CALLER}${String(chance.below(100)).padStart(2, '0')}`);
    const answered = chance.happens(0.9);
    const length = answered ? 20 + Math.floor(chance.next() * chance.next() * 600) : 0;
    this.counted += 1;
    const started = Math.floor(time);
    this.queue.push({
      time: started + (length + 5) * 1000,
      fields: {
        ...{ call: `BW-${String(this.counted).padStart(5, '0')}`, number, caller, started: isoTime(started) },
        ...{ answered: answered ? '1' : '0', length: String(length), place: chance.pick(PLACES) },
      },
    });
    return caller;
  }

  /** Leases that were made since they were last asked for. */
  leases(): LeaseRow[] {
    const { fresh } = this;
    this.fresh = [];
    return fresh;
  }

  /** The reports of calls that were over before a time. */
  reports(to: number): PostbackRow[] {
    const due = this.queue.filter(({ time }) => time < to);
    this.queue = this.queue.filter(({ time }) => time >= to);
    return due.map(({ time, fields }): PostbackRow => {
      const raw = { query: new URLSearchParams(fields).toString(), body: '', contentType: null };
      const kept = checkCall(raw, this.hash);
      if (!kept.ok) throw new Error(`A call of the demonstration is malformed: ${JSON.stringify(kept.problems)}`);
      const { query, body, contentType } = kept.value;
      const receipt = { receiptId: this.newId(time), time, programId: 1, method: 'POST', client: '192.0.2.0' };
      return { ...receipt, query, body, contentType, via: 'server', about: 'call' };
    });
  }
}
