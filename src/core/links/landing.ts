import { decodeValue } from './values';

/** A landing address, and the parameters of the destination that ours took the place of. */
export interface Landing {
  readonly address: string;
  readonly replaced: readonly string[];
}

/** A destination taken apart once: what stands before its query, the query's raw pairs by name, and the fragment. */
export interface Destination {
  readonly base: string;
  readonly pairs: readonly { readonly name: string; readonly raw: string }[];
  readonly fragment: string;
}

function pairOf(raw: string): { name: string; raw: string } {
  const equals = raw.indexOf('=');
  return { name: decodeValue(equals < 0 ? raw : raw.slice(0, equals)), raw };
}

/** @param address an absolute address; normalised by the WHATWG URL rules */
export function splitDestination(address: string): Destination {
  const { href, search, hash } = new URL(address);
  return {
    base: href.split(/[?#]/, 1)[0] ?? '',
    pairs: search === '' ? [] : search.slice(1).split('&').map(pairOf),
    fragment: hash,
  };
}

interface Placed<T> {
  readonly raw: string;
  /** Set where the pair is ours. */
  readonly ours?: T;
}

/**
 * The pairs of a destination with ours among them: a name of ours that stands there already takes its first place,
 * once; the others follow at the end. Nothing else moves.
 */
export function placeParameters<T extends { readonly name: string; readonly raw: string }>(
  pairs: Destination['pairs'],
  ours: readonly T[],
): Placed<T>[] {
  const left = new Map(ours.map((one) => [one.name, one]));
  const placed: Placed<T>[] = [];
  for (const { name, raw } of pairs) {
    const own = left.get(name);
    if (own) placed.push({ raw: own.raw, ours: own });
    else if (!ours.some((one) => one.name === name)) placed.push({ raw });
    left.delete(name);
  }
  for (const own of left.values()) placed.push({ raw: own.raw, ours: own });
  return placed;
}

/**
 * Merges expanded parameters ("bclid=01J…&sub1=ash") into a destination. The destination's own query keeps its
 * order, encoding and fragment; a name of ours that stands there already takes its first place, once.
 */
export function mergeParameters({ base, pairs, fragment }: Destination, parameters: string): Landing {
  // Looked for first: on the path of every redirect, an expression that finds nothing costs as much as the rest.
  const ours = parameters.startsWith('?') || parameters.startsWith('&') ? parameters.replace(/^[?&]+/, '') : parameters;
  if (pairs.length === 0) return { address: `${base}${ours === '' ? '' : `?${ours}`}${fragment}`, replaced: [] };
  const added = new Map<string, { name: string; raw: string }>();
  for (const raw of ours.split('&')) {
    const pair = pairOf(raw);
    if (raw !== '') added.set(pair.name, pair);
  }
  const query = placeParameters(pairs, [...added.values()])
    .map(({ raw }) => raw)
    .join('&');
  const replaced = [...added.keys()].filter((name) => pairs.some((pair) => pair.name === name));
  return { address: `${base}?${query}${fragment}`, replaced };
}
