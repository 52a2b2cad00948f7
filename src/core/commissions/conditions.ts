import type { Conditions } from './sheet';

/** What a row's conditions are held against: one line of a conversion. */
export interface Facts {
  readonly offerId: number;
  readonly event: string;
  readonly partnerId: number;
  readonly channelId?: number;
  readonly country?: string;
  readonly customer?: 'new' | 'returning';
  readonly callLength?: number;
  readonly renewal?: number;
}

export interface LineFacts {
  readonly sku?: string;
  readonly category?: string;
  /** Price of one unit, or the base of the whole conversion; minor units of the program. */
  readonly price: number;
}

type Condition = keyof Conditions;

/** The first condition that fails, or undefined when all hold. */
export function failedCondition(when: Conditions, facts: Facts, line: LineFacts): Condition | undefined {
  if (when.offerId !== undefined && when.offerId !== facts.offerId) return 'offerId';
  if (when.event !== undefined && when.event !== facts.event) return 'event';
  if (when.partnerId !== undefined && when.partnerId !== facts.partnerId) return 'partnerId';
  if (when.channelId !== undefined && when.channelId !== facts.channelId) return 'channelId';
  if (when.sku !== undefined && when.sku !== line.sku) return 'sku';
  if (when.category !== undefined && when.category !== line.category) return 'category';
  if (when.country !== undefined && when.country !== facts.country) return 'country';
  if (when.customer !== undefined && when.customer !== facts.customer) return 'customer';
  if (when.leastAmount !== undefined && line.price < when.leastAmount) return 'leastAmount';
  if (when.leastCallLength !== undefined && (facts.callLength ?? -1) < when.leastCallLength) return 'leastCallLength';
  if (when.renewalFrom !== undefined && (facts.renewal ?? -1) < when.renewalFrom) return 'renewalFrom';
  if (when.renewalTo !== undefined && (facts.renewal ?? Infinity) > when.renewalTo) return 'renewalTo';
  return undefined;
}
