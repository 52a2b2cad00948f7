import { type FileReading, lineFields } from '@/core/conversions/file';
import { cleaned } from '@/core/conversions/personal';
import type { Currency } from '@/core/money/currency';
import type { Problem } from '@/core/schema/problems';
import { zonedIso } from '@/core/time/days';
import { type ReadReport, readReport } from './report_reading';

/** What lines of a file are read by. */
export interface LineReading {
  readonly reading: FileReading;
  readonly zone: string;
  readonly currency: Currency;
}
/** Whose a line says it is, by codes. */
export interface OwnerCodes {
  readonly partner: string;
  readonly channel?: string;
  readonly offer?: string;
  readonly event?: string;
}
/** A line as far as it can be read without the books. */
export interface FileLine {
  /** Its event and order, in words. */
  readonly what: string;
  /** What cannot be read in it. */
  readonly problems: readonly Problem[];
  readonly warnings: readonly Problem[];
  readonly owner?: OwnerCodes;
  readonly report?: ReadReport;
}

/** @param hash of a customer's ID */
export function readLine(
  cells: readonly string[],
  { reading, zone, currency }: LineReading,
  hash: (customer: string) => string,
): FileLine {
  const { fields, problems } = lineFields(cells, reading, (local) => zonedIso(local, zone));
  const what = [fields.event, fields.order ?? fields.click_id ?? fields.code].filter(Boolean).join(' ');
  if (problems.length > 0) return { what, problems, warnings: [] };
  const { partner, channel, offer, commission: _compared, ...said } = fields;
  const { fields: clean, warnings } = cleaned(said, hash);
  return {
    ...{ what, problems, warnings },
    ...(partner !== undefined && { owner: { partner, channel, offer, event: said.event } }),
    report: readReport({ ok: true, value: clean }, 'file', currency),
  };
}
