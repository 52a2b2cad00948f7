import { createHmac } from 'node:crypto';
import { DAY_MS } from '@/core/time/days';

/** How long a visitor's click on an offer makes the next one a repeat. */
export const UNIQUE_WINDOW_MS = DAY_MS;

/**
 * Who clicked which offer in the last 24 hours. Two generations, each a window long: old entries go with the whole
 * older generation, so memory follows the traffic of two days and nothing is ever searched for expiry.
 */
export class RecentVisitors {
  private current = new Map<string, number>();
  private previous = new Map<string, number>();
  private since = 0;

  /** Notes a counted click. @returns whether it is the first of any of these visitor keys within the window */
  note(visitors: readonly string[], offerId: number, time: number): boolean {
    if (time - this.since >= UNIQUE_WINDOW_MS) {
      this.previous = time - this.since >= 2 * UNIQUE_WINDOW_MS ? new Map() : this.current;
      this.current = new Map();
      this.since = time;
    }
    let unique = true;
    for (const visitor of visitors) {
      const key = `${offerId} ${visitor}`;
      const last = this.current.get(key) ?? this.previous.get(key);
      if (last !== undefined && time - last < UNIQUE_WINDOW_MS) unique = false;
      this.current.set(key, time);
    }
    return unique;
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
