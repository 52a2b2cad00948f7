/** A seeded source of chance (mulberry32): the same seed, the same history. */
export class Chance {
  constructor(private state: number) {}

  /** In [0, 1). */
  next(): number {
    this.state = (this.state + 0x6d2b79f5) | 0;
    let t = Math.imul(this.state ^ (this.state >>> 15), 1 | this.state);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4_294_967_296;
  }
  /** An integer from 0 to below `bound`. */
  below(bound: number): number {
    return Math.floor(this.next() * bound);
  }
  happens(probability: number): boolean {
    return this.next() < probability;
  }
  pick<T>(from: readonly T[]): T {
    const picked = from[this.below(from.length)];
    if (picked === undefined) throw new RangeError('Nothing to pick from.');
    return picked;
  }
  /** Picks by weight. */
  weighted<T extends { weight: number }>(from: readonly T[]): T {
    let left = this.next() * from.reduce((sum, { weight }) => sum + weight, 0);
    for (const one of from) {
      left -= one.weight;
      if (left < 0) return one;
    }
    return this.pick(from);
  }
  fill(block: Uint8Array): void {
    for (let i = 0; i < block.length; i++) block[i] = this.below(256);
  }
}
