import type { Ppm } from '../money/money';

/** What must hold for a row to pay; an absent condition always holds. Amounts are minor units of the program. */
export interface Conditions {
  readonly offerId?: number;
  readonly event?: string;
  readonly partnerId?: number;
  readonly channelId?: number;
  readonly sku?: string;
  readonly category?: string;
  readonly country?: string;
  readonly customer?: 'new' | 'returning';
  /** Compared with the price of one unit of an item, or with the base where there are no items. */
  readonly leastAmount?: number;
  /** Seconds. */
  readonly leastCallLength?: number;
  /** Number of the renewal, the first order being 0. */
  readonly renewalFrom?: number;
  readonly renewalTo?: number;
}

/** `upTo` is the last unit of the band: a count of conversions, or a base in minor units; null is without end. */
export interface Band {
  readonly upTo: number | null;
  readonly rate: Ppm;
}

export type Pay =
  | { readonly kind: 'percent'; readonly rate: Ppm; readonly least?: number; readonly most?: number }
  | { readonly kind: 'fixed'; readonly amount: number; readonly per: 'conversion' | 'unit' }
  | { readonly kind: 'bands'; readonly by: 'count' | 'base'; readonly bands: readonly Band[] };

export interface SheetRow {
  /** Permanent within the sheet's history, so that volumes and explanations can refer to it. */
  readonly id: string;
  readonly label: string;
  readonly when: Conditions;
  readonly pay: Pay;
}

/** One version of a program's terms. Rows in order: the first that matches pays. */
export interface RateSheet {
  readonly version: number;
  readonly rows: readonly SheetRow[];
}
