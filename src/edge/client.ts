import { type AddressSet, readRanges } from '@/core/clicks/addresses';
import type { EdgeHeaders, EdgeRequest } from './headers';

/** Reads BRIVET_PROXIES: addresses or ranges of the proxies before the edge. @throws when one cannot be read */
export function configuredProxies(text: string | undefined): AddressSet | undefined {
  if (!text?.trim()) return undefined;
  const { set, problems } = readRanges(text.split(/[\s,]+/).join('\n'));
  const [problem] = problems;
  if (problem) throw new Error(`BRIVET_PROXIES: ${problem.reason}`);
  return set;
}

export interface Client {
  readonly address: string;
  /** The visitor came through somebody's proxy, as its own headers say. */
  readonly proxied: boolean;
  /** Whether the connection of the visitor was encrypted, as far as is known. */
  readonly https: boolean;
  readonly headers: EdgeHeaders;
}

/** IPv4 on a dual-stack socket is written plainly. */
const plain = (address: string): string =>
  (address.startsWith('::ffff:') && address.includes('.') ? address.slice('::ffff:'.length) : address).trim();

/**
 * Whose request this is. X-Forwarded-For is believed from configured proxies only, from the right, as far as each of
 * them is one; the first address beyond them is the visitor's. What anybody else writes there only tells of a proxy.
 */
export function clientOf({ socket, headers }: EdgeRequest, proxies: AddressSet | undefined): Client {
  const peer = plain(socket.remoteAddress ?? '');
  const { 'x-forwarded-for': forwarded, 'x-forwarded-proto': scheme = '' } = headers;
  const spoken = headers.via !== undefined || headers.forwarded !== undefined;
  if (!proxies?.has(peer)) return { address: peer, proxied: spoken || forwarded !== undefined, https: false, headers };
  const hops = (forwarded ?? '')
    .split(',')
    .map(plain)
    .filter((hop) => hop !== '');
  while (hops.length > 1 && proxies.has(hops.at(-1) ?? '')) hops.pop();
  return {
    address: hops.at(-1) ?? peer,
    proxied: hops.length > 1,
    https: scheme.split(',')[0]?.trim() === 'https',
    headers,
  };
}
