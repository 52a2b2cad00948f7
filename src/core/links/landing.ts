import { decodeValue } from './parts';

/** A landing address, and the parameters of the destination that ours took the place of. */
export interface Landing {
  readonly address: string;
  readonly replaced: readonly string[];
}

const nameOf = (pair: string): string => {
  const equals = pair.indexOf('=');
  return decodeValue(equals < 0 ? pair : pair.slice(0, equals));
};

/**
 * Merges expanded parameters ("bclid=01J…&sub1=ash") into a destination. The destination's own query keeps its
 * order, encoding and fragment; a name of ours that stands there already takes its first place, once.
 * @param destination an absolute address, normalised by the WHATWG URL rules here
 */
export function mergeParameters(destination: string, parameters: string): Landing {
  const url = new URL(destination);
  const added = parameters
    .replace(/^[?&]+/, '')
    .split('&')
    .filter((pair) => pair !== '');
  if (added.length === 0) return { address: url.href, replaced: [] };
  const own = url.search === '' ? [] : url.search.slice(1).split('&');
  const ours = new Map(added.map((pair) => [nameOf(pair), pair]));
  const replaced: string[] = [];
  const merged: string[] = [];
  for (const pair of own) {
    const name = nameOf(pair);
    const replacement = ours.get(name);
    if (replacement === undefined) merged.push(pair);
    else if (!replaced.includes(name)) {
      merged.push(replacement);
      replaced.push(name);
    }
  }
  for (const [name, pair] of ours) if (!replaced.includes(name)) merged.push(pair);
  const base = url.href.split(/[?#]/, 1)[0] ?? '';
  return { address: `${base}?${merged.join('&')}${url.hash}`, replaced };
}
