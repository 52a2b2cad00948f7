import { createHmac } from 'node:crypto';
import { DAY_MS } from '@/core/time/days';

/** The longest time for which a visitor's click on an offer may make the next one a repeat. */
export const LONGEST_WINDOW_MS = DAY_MS;

/** 48 bits of a visitor ID and the offer as one number: a map of numbers takes a third of a map of texts. */
const keyOf = (visitor: string, offerId: number): number =>
  (Number.parseInt(visitor.slice(-12), 16) + offerId * 0x9e3779b97f4b) % 0x1000000000000;

/**
 * Numbers by key that are forgotten after a day. Two generations, each a day long: old entries go with the whole
 * older generation, so memory follows the traffic of two days and nothing is ever searched for expiry.
 */
class Generations {
  private current = new Map<number, number>();
  private previous = new Map<number, number>();
  private since = 0;

  get(key: number, time: number): number | undefined {
    if (time - this.since >= LONGEST_WINDOW_MS) {
      this.previous = time - this.since >= 2 * LONGEST_WINDOW_MS ? new Map() : this.current;
      this.current = new Map();
      this.since = time;
    }
    return this.current.get(key) ?? this.previous.get(key);
  }
  set(key: number, value: number): void {
    this.current.set(key, value);
  }
}

/** Who clicked which offer lately. */
export class RecentVisitors {
  private readonly last = new Generations();
  /** Start of a visitor's day and clicks within it, as time × 1024 + clicks; only of offers that limit them. */
  private readonly pressed = new Generations();

  /** Notes a counted click. @returns whether it is the first of any of these visitor keys within the window */
  note(visitors: readonly string[], offerId: number, time: number, windowMs = LONGEST_WINDOW_MS): boolean {
    let unique = true;
    for (const visitor of visitors) {
      const key = keyOf(visitor, offerId);
      const last = this.last.get(key, time);
      // A clock that was set back makes no visitor new.
      if (last !== undefined && time - last < windowMs) unique = false;
      this.last.set(key, last !== undefined && last > time ? last : time);
    }
    return unique;
  }

  /** Clicks of a visitor on an offer within the 24 hours that began with the first of them. */
  clicksOf(visitor: string, offerId: number, time: number): number {
    const packed = this.pressed.get(keyOf(visitor, offerId), time) ?? 0;
    return time - Math.floor(packed / 1024) < DAY_MS ? packed % 1024 : 0;
  }
  notePress(visitors: readonly string[], offerId: number, time: number): void {
    for (const visitor of visitors) {
      const key = keyOf(visitor, offerId);
      const packed = this.pressed.get(key, time) ?? 0;
      const goesOn = time - Math.floor(packed / 1024) < DAY_MS && packed % 1024 > 0;
      this.pressed.set(key, goesOn ? Math.min(packed + 1, packed - (packed % 1024) + 1023) : time * 1024 + 1);
    }
  }
}

/** Counts clicks a minute by address and link. */
export class FloodWatch {
  private minute = 0;
  private readonly counts = new Map<string, number>();

  /** Notes a click. @returns how many there were of this address on this link within the minute */
  note(client: string, linkId: number, time: number): number {
    const minute = Math.floor(time / 60_000);
    if (minute !== this.minute) {
      this.minute = minute;
      this.counts.clear();
    }
    const key = `${linkId} ${client}`;
    const count = (this.counts.get(key) ?? 0) + 1;
    this.counts.set(key, count);
    return count;
  }
}

/** A keyed hash that changes every day: tells visitors apart without a cookie, and not from one day to the next. */
export const dailyVisitor = (key: Buffer, time: number, client: string, agent: string): string =>
  createHmac('sha256', key)
    .update(`${Math.floor(time / DAY_MS)}\n${client}\n${agent}`)
    .digest('hex')
    .slice(0, 32);

/** The address as the program's privacy setting lets it be kept: whole, cut to /24 or /48, or a keyed hash. */
export function keptAddress(privacy: 'whole' | 'cut' | 'hash', address: string, key: Buffer): string {
  if (privacy === 'whole') return address;
  if (privacy === 'hash') return createHmac('sha256', key).update(address).digest('hex').slice(0, 16);
  if (address.includes('.')) return `${address.slice(0, address.lastIndexOf('.'))}.0`;
  const [head = '', tail] = address.split('::');
  const groups = head.split(':').filter((group) => group !== '');
  const full = tail === undefined ? groups : [...groups, ...Array<string>(Math.max(0, 3 - groups.length)).fill('0')];
  return `${full.slice(0, 3).join(':')}::`;
}
