import { IncomingMessage } from 'node:http';

/** The headers by which the edge goes, and those that node:http itself asks for. */
const noHeaders = () => ({
  host: undefined as string | undefined,
  expect: undefined as string | undefined,
  te: undefined as string | undefined,
  cookie: undefined as string | undefined,
  'user-agent': undefined as string | undefined,
  referer: undefined as string | undefined,
  'accept-language': undefined as string | undefined,
  'sec-purpose': undefined as string | undefined,
  purpose: undefined as string | undefined,
  'x-moz': undefined as string | undefined,
  via: undefined as string | undefined,
  forwarded: undefined as string | undefined,
  'x-forwarded-for': undefined as string | undefined,
  'x-forwarded-proto': undefined as string | undefined,
  'content-type': undefined as string | undefined,
  authorization: undefined as string | undefined,
});
export type EdgeHeaders = Readonly<ReturnType<typeof noHeaders>>;
type Name = keyof EdgeHeaders;

/** Names by their length: most headers of a browser have none of these, and are passed over unread. */
const byLength: Name[][] = [];
for (const name of Object.keys(noHeaders()) as Name[]) (byLength[name.length] ??= []).push(name);
/** Of these the first alone counts when they come several times; others are joined. */
const FIRST_COUNTS: readonly Name[] = ['host', 'user-agent', 'referer', 'content-type', 'authorization'];

function nameOf(written: string): Name | undefined {
  const candidates = byLength[written.length];
  if (candidates === undefined) return undefined;
  const lower = written.toLowerCase();
  for (const name of candidates) if (name === lower) return name;
  return undefined;
}

/** @param raw names and values in turn, as they came */
function readHeaders(raw: readonly string[]): EdgeHeaders {
  const headers = noHeaders();
  for (let i = 0; i < raw.length; i += 2) {
    const name = nameOf(raw[i] as string);
    if (name === undefined) continue;
    const before = headers[name];
    const value = raw[i + 1] as string;
    if (before === undefined) headers[name] = value;
    else if (!FIRST_COUNTS.includes(name)) headers[name] = `${before}${name === 'cookie' ? '; ' : ', '}${value}`;
  }
  return headers;
}

/**
 * A request whose `headers` are those above alone. node:http asks for the host of every request, and would read all
 * twenty headers of a browser for that, which takes five times as long.
 */
export class EdgeRequest extends IncomingMessage {
  declare readonly headers: EdgeHeaders;
  known: EdgeHeaders | undefined = undefined;
}
Object.defineProperty(EdgeRequest.prototype, 'headers', {
  get(this: EdgeRequest): EdgeHeaders {
    return (this.known ??= readHeaders(this.rawHeaders));
  },
});
