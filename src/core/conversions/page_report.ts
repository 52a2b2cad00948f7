import type { Currency } from '../money/currency';
import { type Checked } from '../schema/problems';
import { type Postback, readPostback } from './postback';

/** What a page may say of a conversion. Status, time and completion are the merchant's server's to tell. */
const ALLOWED = [
  'click_id',
  'event',
  'order',
  'amount',
  'tax',
  'shipping',
  'discount',
  'currency',
  'items',
  'customer',
  'visitor',
];

/** The fields of a report from a page that are listened to; it needs the click ID, by which its program is known. */
export function pageFields(said: Record<string, unknown>): Record<string, unknown> {
  return Object.fromEntries(
    Object.entries(said).filter(([name]) => ALLOWED.includes(name) || /^x_[a-z0-9_]{1,40}$/.test(name)),
  );
}

/** Reads such a report like a postback. */
export function readPageReport(said: Record<string, unknown>, currency: Currency): Checked<Postback> {
  const read = readPostback(pageFields(said), currency);
  if (read.ok && read.value.clickId === undefined)
    return { ok: false, problems: [{ field: 'click_id', reason: 'A report from a page needs the click_id.' }] };
  return read;
}
