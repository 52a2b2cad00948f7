import { lookup as resolve } from 'node:dns';
import { type IncomingMessage, request as httpRequest } from 'node:http';
import { request as httpsRequest } from 'node:https';
import { BlockList, isIPv6 } from 'node:net';
import type { LookupFunction } from 'node:net';

/** One step of a real chain of redirects. */
export interface ChainHop {
  readonly address: string;
  readonly status?: number;
  /** Milliseconds until the headers came. */
  readonly took: number;
  /** What is wrong with it, for a person; absent when it answered well. */
  readonly problem?: string;
}
export interface ChainOptions {
  /** Where an address really is: in the demo the stand-in of a made-up host, which alone may be on this machine. */
  readonly locationOf?: (address: string) => string;
  readonly timeoutMs?: number;
}

export const MOST_HOPS = 10;
const TIMEOUT_MS = 5000;

/** Ranges of RFC 6890 that are nobody's public server: loopback, private, link-local, shared, reserved, multicast. */
const CLOSED = new BlockList();
for (const [net, bits] of [
  ['0.0.0.0', 8],
  ['10.0.0.0', 8],
  ['100.64.0.0', 10],
  ['127.0.0.0', 8],
  ['169.254.0.0', 16],
  ['172.16.0.0', 12],
  ['192.0.0.0', 24],
  ['192.0.2.0', 24],
  ['192.168.0.0', 16],
  ['198.18.0.0', 15],
  ['198.51.100.0', 24],
  ['203.0.113.0', 24],
  ['224.0.0.0', 3],
] as const)
  CLOSED.addSubnet(net, bits, 'ipv4');
for (const [net, bits] of [
  ['64:ff9b::', 32],
  ['100::', 64],
  ['2001:db8::', 32],
  ['2002::', 16],
  ['fc00::', 7],
  ['fe80::', 10],
  ['ff00::', 8],
] as const)
  CLOSED.addSubnet(net, bits, 'ipv6');

for (const address of ['::', '::1']) CLOSED.addAddress(address, 'ipv6');

/** An IPv4 address in IPv6 form is held against the rules for IPv4. */
export const isClosedAddress = (ip: string): boolean => CLOSED.check(ip, isIPv6(ip) ? 'ipv6' : 'ipv4');

class Closed extends Error {
  constructor(ip: string) {
    super(`It leads to ${ip}, an address inside a network. Brivet does not go there.`);
  }
}

/** Resolves a name and refuses when any of its addresses is closed: checked on the connection that is really made. */
const openLookup: LookupFunction = (hostname, options, callback) =>
  resolve(hostname, { ...options, all: true }, (error, found) => {
    if (error) return callback(error, '', 0);
    const closed = found.find(({ address }) => isClosedAddress(address));
    const first = found[0];
    if (closed || !first) return callback(closed ? new Closed(closed.address) : new Error('no address'), '', 0);
    return options.all ? callback(null, found) : callback(null, first.address, first.family);
  });

function ask(address: string, open: boolean, timeoutMs: number): Promise<IncomingMessage> {
  const url = new URL(address);
  const request = url.protocol === 'https:' ? httpsRequest : httpRequest;
  const literal = url.hostname.replace(/^\[|\]$/g, '');
  return new Promise((done, fail) => {
    // A literal address is never looked up, so it is checked here.
    if (!open && /^[\d.]+$|:/.test(literal) && isClosedAddress(literal)) return fail(new Closed(literal));
    const asked = request(
      url,
      {
        method: 'GET',
        headers: { 'User-Agent': 'Brivet link check', Accept: 'text/html,*/*' },
        signal: AbortSignal.timeout(timeoutMs),
        ...(!open && { lookup: openLookup }),
      },
      (answer) => {
        answer.destroy();
        done(answer);
      },
    );
    asked.on('error', fail);
    asked.end();
  });
}

function wordsFor(error: unknown, timeoutMs: number): string {
  if (error instanceof Closed) return error.message;
  const code = error instanceof Error && 'code' in error ? String(error.code) : '';
  const name = error instanceof Error ? error.name : '';
  if (name === 'TimeoutError' || name === 'AbortError' || code === 'ABORT_ERR')
    return `No answer within ${timeoutMs / 1000} s.`;
  if (code === 'ENOTFOUND' || code === 'EAI_AGAIN') return 'The host has no address: the name is wrong, or gone.';
  if (code === 'ECONNREFUSED') return 'The host refuses the connection.';
  if (code.includes('CERT') || code.includes('TLS') || code === 'EPROTO')
    return 'The certificate of the host is not good.';
  return `The connection failed (${code || (error instanceof Error ? error.message : 'unknown')}).`;
}

/**
 * Follows an address over the network, redirect by redirect, as a browser would: at most ten hops, each with a time
 * limit, never into a private network.
 */
export async function followChain(address: string, options: ChainOptions = {}): Promise<ChainHop[]> {
  const { locationOf = (each: string) => each, timeoutMs = TIMEOUT_MS } = options;
  const hops: ChainHop[] = [];
  let next: string | undefined = address;
  while (next !== undefined) {
    const at: string = next;
    const started = performance.now();
    const took = (): number => Math.round(performance.now() - started);
    const real = locationOf(at);
    let answer: IncomingMessage;
    try {
      answer = await ask(real, real !== at, timeoutMs);
    } catch (error) {
      hops.push({ address: at, took: took(), problem: wordsFor(error, timeoutMs) });
      return hops;
    }
    const { statusCode: status = 0, headers } = answer;
    next = status >= 300 && status < 400 && headers.location ? redirected(headers.location, at) : undefined;
    const problem = problemOf(status, headers.location, next, hops);
    hops.push({ address: at, status, took: took(), ...(problem && { problem }) });
    if (problem) return hops;
  }
  return hops;
}

const redirected = (location: string, from: string): string | undefined => {
  const url = URL.canParse(location, from) ? new URL(location, from) : undefined;
  return url && /^https?:$/.test(url.protocol) ? url.href : undefined;
};

function problemOf(
  status: number,
  location: string | undefined,
  next: string | undefined,
  before: readonly ChainHop[],
): string | undefined {
  if (status >= 300 && status < 400 && location !== undefined && next === undefined)
    return `It redirects to "${location.slice(0, 80)}", which is not a web address.`;
  if (next !== undefined && before.some(({ address }) => address === next)) return 'It redirects in a circle.';
  if (next !== undefined && before.length + 1 >= MOST_HOPS) return `It redirects more than ${MOST_HOPS} times.`;
  if (status >= 400)
    return status === 404 || status === 410
      ? `The page is not there (${status}).`
      : `The server answers with an error (${status}).`;
  return undefined;
}
