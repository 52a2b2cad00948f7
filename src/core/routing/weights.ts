import type { Destination } from './plan';

/** Finalizer of MurmurHash3 (32 bits): every bit of the input moves half of the output's. */
function mixed(bits: number): number {
  let hash = bits | 0;
  hash = Math.imul(hash ^ (hash >>> 16), 0x85ebca6b);
  hash = Math.imul(hash ^ (hash >>> 13), 0xc2b2ae35);
  return (hash ^ (hash >>> 16)) >>> 0;
}

function hashOf(text: string): number {
  let hash = 0x811c9dc5;
  for (let i = 0; i < text.length; i++) hash = Math.imul(hash ^ text.charCodeAt(i), 0x01000193);
  return mixed(hash);
}

/** The 32 bits of a visitor ID by which pages are dealt out: its first eight hex digits. */
export const bucketOf = (visitor: string): number => Number.parseInt(visitor.slice(0, 8), 16) >>> 0;

/** A destination that can be dealt to, with its part of the hash worked out. */
export interface Dealt<T> {
  readonly weight: number;
  readonly seed: number;
  readonly target: T;
}

export const prepareDeal = <T>(
  destinations: readonly Destination[],
  rule: string,
  round: number,
  targetOf: (page: string) => T | undefined,
): Dealt<T>[] =>
  destinations.flatMap(({ page, weight, on }) => {
    const target = on && weight > 0 ? targetOf(page) : undefined;
    return target === undefined ? [] : [{ weight, seed: hashOf(`${rule} ${round} ${page}`), target }];
  });

/**
 * Deals a visitor to one of several destinations in proportion to their weights. Each destination draws a lot for the
 * visitor, −ln(u) ÷ weight with u from a hash of both, and the smallest wins (weighted rendezvous hashing): the same
 * visitor always gets the same place, and taking a destination away, or changing its weight, moves nobody but those who
 * come from it or go to it.
 */
export function deal<T>(among: readonly Dealt<T>[], bucket: number): T | undefined {
  if (among.length < 2) return among[0]?.target;
  let won: T | undefined;
  let least = Infinity;
  for (const { weight, seed, target } of among) {
    const lot = -Math.log((mixed(mixed(bucket ^ seed) + seed) + 0.5) / 0x1_0000_0000) / weight;
    if (lot < least) {
      least = lot;
      won = target;
    }
  }
  return won;
}
