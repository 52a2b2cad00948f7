import type { Instant } from '../time/days';

/** How old the time in a signed postback may be, and how far ahead its clock. */
export const SIGNED_FOR_MS = 10 * 60_000;

/**
 * The text that a signature is made over (HMAC-SHA256, in hexadecimal): the parameters of query and form without
 * `sig`, sorted by name, then by value, encoded as forms are (application/x-www-form-urlencoded, the URL standard);
 * with a JSON body, a line feed and the body as it is sent.
 */
export function signedText(query: string, body: string, contentType: string | null): string {
  const isJson = body !== '' && (contentType?.includes('json') ?? false);
  const pairs = [...new URLSearchParams(query), ...(isJson ? [] : new URLSearchParams(body))];
  const rest = pairs.filter(([name]) => name !== 'sig');
  rest.sort(([a, x], [b, y]) => (a < b ? -1 : a > b ? 1 : x < y ? -1 : x > y ? 1 : 0));
  const text = new URLSearchParams(rest).toString();
  return isJson ? `${text}\n${body}` : text;
}

/** Why the time of a signed postback is refused. @param ts seconds since 1970, as text */
export function signedTimeProblem(ts: string | undefined, now: Instant): string | undefined {
  if (ts === undefined || !/^\d{9,11}$/.test(ts))
    return 'A signed postback needs ts: the time of sending in seconds since 1970.';
  const age = now - Number(ts) * 1000;
  if (age > SIGNED_FOR_MS) return 'ts is older than 10 minutes. Sign each sending anew, retries too.';
  return age < -SIGNED_FOR_MS ? 'ts lies more than 10 minutes ahead. Set the clock of the sending server.' : undefined;
}
