/** Values Brivet itself can fill into landing addresses, outbound postbacks and mail copy. */
export const SUB_SLOTS = ['sub1', 'sub2', 'sub3', 'sub4', 'sub5'] as const;
/** Carried along, shown in logs and traces, never grouped. */
export const ONE_OFF_SLOTS = ['pcid', 'one1', 'one2', 'one3'] as const;
export const VALUE_SLOTS = [...SUB_SLOTS, ...ONE_OFF_SLOTS] as const;
export type SubSlot = (typeof SUB_SLOTS)[number];
export type ValueSlot = (typeof VALUE_SLOTS)[number];

export const CLICK_NAMES = [
  'click_id',
  'link_code',
  'partner_code',
  'channel_code',
  'offer_code',
  ...VALUE_SLOTS,
  'country',
  'device',
] as const;
export const CONVERSION_NAMES = [
  'event',
  'order',
  'amount',
  'currency',
  'commission',
  'status',
  'conversion_id',
  'time',
] as const;

export type ClickName = (typeof CLICK_NAMES)[number];
export type ClickValues = Readonly<Record<string, string>>;
