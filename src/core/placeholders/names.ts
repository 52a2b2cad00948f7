/** Values Brivet itself can fill into landing addresses, outbound postbacks and mail copy. */
export const SUB_SLOTS = ['sub1', 'sub2', 'sub3', 'sub4', 'sub5'] as const;
/** Carried along, shown in logs and traces, never grouped. */
export const ONE_OFF_SLOTS = ['pcid', 'one1', 'one2', 'one3'] as const;
export const VALUE_SLOTS = [...SUB_SLOTS, ...ONE_OFF_SLOTS] as const;
/** Everything a link carries beside its deep link, in the order in which it is written. */
export const CARRIED = [...VALUE_SLOTS, 'cost'] as const;
export type SubSlot = (typeof SUB_SLOTS)[number];
export type ValueSlot = (typeof VALUE_SLOTS)[number];
export type Carried = (typeof CARRIED)[number];

const CARRIED_BY_NAME: ReadonlyMap<string, Carried> = new Map(CARRIED.map((name) => [name, name]));
export const isCarried = (name: string): name is Carried => CARRIED_BY_NAME.has(name);
/** The value that a parameter of this name carries. A text of ours, by which objects are read quicker than by one cut out. */
export const carriedBy = (name: string): Carried | undefined => CARRIED_BY_NAME.get(name);
/** Parameters of the tracking host that are not values: the deep link, and the reference of links without a redirect. */
export const RESERVED_PARAMETERS = ['to', 'ref', 'key', 'click_id'] as const;

export const CARRIED_WORDS: Record<Carried, string> = {
  sub1: 'Sub-ID 1',
  sub2: 'Sub-ID 2',
  sub3: 'Sub-ID 3',
  sub4: 'Sub-ID 4',
  sub5: 'Sub-ID 5',
  pcid: 'Partner click ID',
  one1: 'One-off 1',
  one2: 'One-off 2',
  one3: 'One-off 3',
  cost: 'Cost per click',
};

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
/** What stands in mail copy: plain text, so it is written there as it is. */
export const MAIL_NAMES = [
  'partner_name',
  'partner_code',
  'channel_name',
  'channel_code',
  'offer_name',
  'link',
] as const;

export type ClickName = (typeof CLICK_NAMES)[number];
export type ClickValues = Readonly<Record<string, string>>;
