import { decodeValue } from './parts';

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

/**
 * Merges expanded parameters ("bclid=01J…&sub1=ash") into a destination. The destination's own query keeps its
 * order, encoding and fragment; a name of ours that stands there already takes its first place, once.
 */
export function mergeParameters({ base, pairs, fragment }: Destination, parameters: string): Landing {
  const ours = parameters.replace(/^[?&]+/, '');
  if (pairs.length === 0) return { address: `${base}${ours === '' ? '' : `?${ours}`}${fragment}`, replaced: [] };
  const added = new Map<string, string>();
  for (const raw of ours.split('&')) if (raw !== '') added.set(pairOf(raw).name, raw);
  const replaced: string[] = [];
  const merged: string[] = [];
  for (const { name, raw } of pairs) {
    const replacement = added.get(name);
    if (replacement === undefined) merged.push(raw);
    else if (!replaced.includes(name)) {
      merged.push(replacement);
      replaced.push(name);
    }
  }
  for (const [name, raw] of added) if (!replaced.includes(name)) merged.push(raw);
  return { address: `${base}?${merged.join('&')}${fragment}`, replaced };
}
