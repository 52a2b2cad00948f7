import { readFileSync } from 'node:fs';
import type { IncomingMessage, ServerResponse } from 'node:http';

/** What the outsiders were told of the partner program: where it listens, and the merchant's key. */
export interface Told {
  readonly postbackUrl: string;
  readonly callUrl: string;
  readonly key: string;
  readonly tagUrl: string;
  /** Numbers that the telephone exchange serves. */
  readonly numbers: readonly string[];
}
export const told = (): Told =>
  JSON.parse(readFileSync(process.env.BRIVET_STANDINS_FILE ?? 'data/standins.json', 'utf8')) as Told;

/** A request with what was sent along. */
export interface Asked {
  readonly method: string;
  readonly url: URL;
  readonly cookie: string;
  readonly form: URLSearchParams;
}
/** What is answered: a page, or the way to another. */
export interface Said {
  readonly status?: number;
  readonly html?: string;
  readonly to?: string;
  readonly headers?: Record<string, string>;
}

export const escape = (text: string): string => text.replace(/[&<>"']/g, (sign) => `&#${sign.charCodeAt(0)};`);
export const euros = (cents: number): string => (cents / 100).toFixed(2);
export const field = (form: URLSearchParams, name: string): string => form.get(name)?.trim() ?? '';

/** A page of one of the outsiders: each has its own colours, none is Brivet's. */
export const page = (
  of: { name: string; ink: string; paper: string; main: string },
  title: string,
  body: string,
  tail = '',
): string => `<!doctype html><html lang="en"><head><meta charset="utf-8">
<meta name="viewport" content="width=device-width"><title>${escape(title)} · ${escape(of.name)}</title><style>
body{margin:0;font:16px/1.5 Georgia,serif;background:${of.paper};color:${of.ink}}header{background:${of.main};color:${of.paper};padding:18px 32px;font-size:22px;display:flex;gap:24px;align-items:baseline}
header a{color:inherit;font-size:15px}main{max-width:860px;margin:32px auto;padding:0 24px}article{display:flex;flex-wrap:wrap;align-items:center;gap:12px;border-bottom:1px solid #0002;padding:14px 0}
article h2{font-size:18px;margin:0;flex:1;font-weight:normal;min-width:220px}button{font:inherit;background:${of.main};color:#fff;border:0;border-radius:4px;padding:6px 14px;cursor:pointer}
form{display:flex;flex-wrap:wrap;gap:8px;align-items:center;margin:0}input,select,textarea{font:inherit;padding:5px 8px;border:1px solid #0005;border-radius:4px;background:#fff;color:inherit}
label{font-size:14px}table{border-collapse:collapse;width:100%;font-size:14px}td,th{text-align:left;padding:6px 10px 6px 0;border-bottom:1px solid #0002;vertical-align:top}
aside{margin-top:32px;font:13px/1.6 monospace;opacity:.8;overflow-wrap:anywhere}main a{color:${of.main}}</style></head>
<body><header>${of.name}<a href="/">Shop</a><a href="/desk">Back office</a><a href="/exchange">Telephone exchange</a><a href="/ads">Ad platform</a></header><main>${body}</main>${tail}</body></html>`;

export const options = (values: readonly (readonly [string, string])[], chosen: string): string =>
  values
    .map(
      ([value, words]) =>
        `<option value="${escape(value)}"${value === chosen ? ' selected' : ''}>${escape(words)}</option>`,
    )
    .join('');

/** Sends a report as the merchant's server or the exchange would. @returns the answer in words */
export async function send(address: string, fields: Record<string, string>): Promise<string> {
  try {
    const answer = await fetch(`${address}?${new URLSearchParams(fields).toString()}`);
    return `${answer.status} ${await answer.text()}`;
  } catch (error) {
    return `not reached: ${String(error)}`;
  }
}

export function readForm(request: IncomingMessage): Promise<URLSearchParams> {
  return new Promise((resolve) => {
    let text = '';
    request.on('data', (chunk: Buffer) => (text = (text + chunk.toString()).slice(0, 20_000)));
    request.on('end', () => resolve(new URLSearchParams(text)));
  });
}

export const say = (response: ServerResponse, { status, html = '', to, headers = {} }: Said): void =>
  void response
    .writeHead(status ?? (to === undefined ? 200 : 303), {
      'Content-Type': 'text/html; charset=utf-8',
      'Cache-Control': 'no-store',
      ...(to !== undefined && { Location: to }),
      ...headers,
    })
    .end(html);
