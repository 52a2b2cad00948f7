import { type Postback, readPostback } from '@/core/conversions/postback';
import { type ReportedBy, fromPage } from '@/core/conversions/standing';
import type { Currency } from '@/core/money/currency';
import type { Checked } from '@/core/schema/problems';
import { sha256 } from './secrets';

/** What was said, read without the books: a retry is known by the fingerprint. */
export interface ReadReport {
  readonly fingerprint?: string;
  readonly parsed: Checked<Postback>;
}

/** Without signature and key, which differ between sendings of the same report; a page's report is never the server's. */
function fingerprint(fields: Record<string, unknown>, by: ReportedBy): string {
  const said = Object.entries(fields).filter(([name]) => !['key', 'sig', 'ts', 'program'].includes(name));
  return sha256(JSON.stringify([...said.sort(([a], [b]) => (a < b ? -1 : 1)), ...(fromPage(by) ? [by] : [])]));
}

export const readReport = (fields: Checked<Record<string, unknown>>, by: ReportedBy, currency: Currency): ReadReport =>
  fields.ok
    ? { fingerprint: fingerprint(fields.value, by), parsed: readPostback(fields.value, currency) }
    : { parsed: fields };
