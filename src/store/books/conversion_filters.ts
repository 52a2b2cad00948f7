/** Fields that a list can be narrowed by, and where they stand. */
const FILTERED: Readonly<Record<string, string>> = {
  event: 'c.event',
  order: 'c.order_ref',
  click_id: 'c.click_id',
  coupon: 'c.coupon',
  state: 'coalesce(m.state, c.state)',
  amount_currency: 'c.currency',
  completed: 'c.completed',
  payable_on: 'm.payable_on',
  matched_by: 'c.matched_by',
  reported_by: 'c.reported_by',
  unmatched: 'c.unmatched',
  customer: "c.facts ->> '$.customer'",
  visitor: 'c.visitor',
};
export interface ConversionFilter {
  readonly field: string;
  readonly how: 'is' | 'not' | 'has';
  readonly text: string;
}
const CUSTOM = /^x_[a-z0-9_]{1,40}$/;
export const isConversionFilter = (field: string): boolean => Object.hasOwn(FILTERED, field) || CUSTOM.test(field);

/** A filter as a condition; fields are of the list above, or checked names of the merchant's own. */
export function conditionOf({ field, how }: ConversionFilter, i: number): string {
  const place = Object.hasOwn(FILTERED, field) ? FILTERED[field] : undefined;
  if (place === undefined && !CUSTOM.test(field)) throw new Error(`Conversions have no field “${field}”.`);
  const value = `coalesce(${place ?? `c.custom ->> '$.${field}'`}, '')`;
  const text = `:text${i}`;
  if (how === 'has') return `instr(lower(${value}), lower(${text})) > 0`;
  return `${value} ${how === 'is' ? '=' : '<>'} ${text} COLLATE NOCASE`;
}
