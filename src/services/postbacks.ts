import { cleaned } from '@/core/conversions/personal';
import { readPostback } from '@/core/conversions/postback';
import type { Currency } from '@/core/money/currency';
import type { Checked, Problem } from '@/core/schema/problems';
import type { StoredPostback } from '@/store/traffic';

/** A postback as it arrived, before anything is made of it. */
export type RawPostback = Pick<StoredPostback, 'query' | 'body' | 'contentType'>;

const fromForm = (text: string): Record<string, unknown> => Object.fromEntries(new URLSearchParams(text));

/** The fields of query and body together; the body's stand where both name one. */
export function postbackFields({ query, body, contentType }: RawPostback): Checked<Record<string, unknown>> {
  const fields = fromForm(query);
  if (body === '') return { ok: true, value: fields };
  if (!contentType?.includes('json')) return { ok: true, value: { ...fields, ...fromForm(body) } };
  try {
    const parsed: unknown = JSON.parse(body);
    if (typeof parsed === 'object' && parsed !== null && !Array.isArray(parsed))
      return { ok: true, value: { ...fields, ...parsed } };
  } catch {
    // Answered below, like a body that is JSON but no object.
  }
  return { ok: false, problems: [{ field: 'body', reason: 'The body is not a JSON object.' }] };
}

/** A postback as it may be kept: with what was masked in it. */
export interface Kept extends RawPostback {
  readonly warnings: readonly Problem[];
}

/**
 * What is wrong with a postback, before it is taken; else as it may be kept, without anything personal.
 * @param hash of a customer's ID
 */
export function checkPostback(raw: RawPostback, currency: Currency, hash: (customer: string) => string): Checked<Kept> {
  const fields = postbackFields(raw);
  if (!fields.ok) return fields;
  const { fields: clean, warnings, changed } = cleaned(fields.value, hash);
  const read = readPostback(clean, currency);
  if (!read.ok) return read;
  if (!changed) return { ok: true, value: { ...raw, warnings } };
  // Written anew, it need not hold the key.
  const { key: _key, sig: _sig, ...kept } = clean;
  if (raw.body === '') {
    const query = new URLSearchParams(kept as Record<string, string>).toString();
    return { ok: true, value: { query, body: '', contentType: raw.contentType, warnings } };
  }
  return { ok: true, value: { query: '', body: JSON.stringify(kept), contentType: 'application/json', warnings } };
}
