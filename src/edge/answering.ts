import type { IncomingMessage, ServerResponse } from 'node:http';
import type { Checked } from '@/core/schema/problems';
import type { Client } from './client';
import type { Hit } from './click';

const MAX_BODY = 64 * 1024;
/** Landings are reported from the merchant's pages, another origin. */
export const OPEN = { 'Access-Control-Allow-Origin': '*', 'Cross-Origin-Resource-Policy': 'cross-origin' };
export const PLAIN_HEADERS = {
  'Cache-Control': 'no-store',
  'X-Content-Type-Options': 'nosniff',
  'Referrer-Policy': 'no-referrer-when-downgrade',
};

export function hitOf({ headers, address, proxied }: Client, method: string, query: string): Hit {
  return {
    method,
    query,
    cookie: headers.cookie,
    agent: headers['user-agent'] ?? '',
    referrer: headers.referer,
    language: headers['accept-language'],
    purpose: (headers['sec-purpose'] ?? '') + (headers.purpose ?? '') + (headers['x-moz'] ?? ''),
    client: address,
    proxied,
  };
}

export function readObject(body: string): Checked<Record<string, unknown>> {
  try {
    const value: unknown = JSON.parse(body);
    if (typeof value === 'object' && value !== null && !Array.isArray(value)) return { ok: true, value: { ...value } };
  } catch {
    // Said below, as of any other body that is no object.
  }
  return { ok: false, problems: [{ field: 'body', reason: 'The body is not a JSON object.' }] };
}

/** @returns undefined when the body is too large */
export function readBody(request: IncomingMessage): Promise<string | undefined> {
  return new Promise((resolve) => {
    const chunks: Buffer[] = [];
    let size = 0;
    request.on('data', (chunk: Buffer) => {
      size += chunk.length;
      if (size <= MAX_BODY) chunks.push(chunk);
    });
    request.on('end', () => resolve(size > MAX_BODY ? undefined : Buffer.concat(chunks).toString('utf8')));
    request.on('error', () => resolve(''));
  });
}

export function send(
  response: ServerResponse,
  status: number,
  type: string,
  body: string,
  headers: Record<string, string> = {},
): void {
  response
    .writeHead(status, {
      ...PLAIN_HEADERS,
      ...headers,
      'Content-Type': type,
      'Content-Length': String(Buffer.byteLength(body)),
    })
    .end(body);
}

export function problem(
  response: ServerResponse,
  status: number,
  title: string,
  errors: readonly { field: string; reason: string }[],
  headers: Record<string, string> = {},
): void {
  send(response, status, 'application/problem+json', JSON.stringify({ title, status, errors }), headers);
}
