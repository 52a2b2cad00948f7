/** What a visit is read from. */
const noHeaders = () => ({
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
});
export type VisitHeaders = Readonly<ReturnType<typeof noHeaders>>;
type Name = keyof VisitHeaders;

/** Names by their length: most headers of a browser have none of these, and are passed over unread. */
const byLength: Name[][] = [];
for (const name of Object.keys(noHeaders()) as Name[]) (byLength[name.length] ??= []).push(name);
/** Of these the first alone counts when they come several times; others are joined. */
const FIRST_COUNTS: readonly Name[] = ['user-agent', 'referer'];

function nameOf(written: string): Name | undefined {
  const candidates = byLength[written.length];
  if (candidates === undefined) return undefined;
  const lower = written.toLowerCase();
  for (const name of candidates) if (name === lower) return name;
  return undefined;
}

/**
 * The headers that a visit is read from, as node:http has them in `headers`, which would read all twenty that a browser
 * sends and take five times as long.
 * @param raw names and values in turn, as they came
 */
export function visitHeaders(raw: readonly string[]): VisitHeaders {
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
