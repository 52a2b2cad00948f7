/** What a merchant's server may report beside click and event, with what stands for it until it is filled in. */
export const REPORTABLE = [
  ['order', 'ORDER', 'Number of the order: the same conversion is known by it again'],
  ['amount', 'AMOUNT', 'The whole price, like 121.00'],
  ['tax', 'TAX', 'Part of the amount that earns nothing'],
  ['shipping', 'SHIPPING', 'Part of the amount that earns nothing'],
  ['discount', 'DISCOUNT', 'Taken off the amount already'],
  ['currency', 'CURRENCY', 'Three letters; without it the program’s own'],
  ['items', 'ITEMS', 'JSON list of sku, category, quantity, price'],
  ['code', 'COUPON', 'Code of a coupon the customer gave'],
  [
    'visitor',
    'VISITOR',
    'What brivet.visitor() says on the page: whose click it was, where the server has no click ID',
  ],
  ['customer', 'NEW_OR_RETURNING', 'new or returning'],
  ['customer_id', 'CUSTOMER_ID', 'Kept as a hash only: the same customer is known again'],
  ['card', 'CARD', 'What the payment provider knows the card by, never its number: kept as a hash only'],
  ['renewal', 'RENEWAL', 'Which renewal of a subscription it is, from 1'],
  ['call_length', 'SECONDS', 'Length of a call in seconds'],
  ['time', 'TIME', 'When it happened, ISO 8601; without it, when it is received'],
  ['completed', 'COMPLETED', 'Day on which it was delivered or done'],
  ['status', 'STATUS', 'pending, approved, rejected or reversed, of a conversion reported before'],
] as const;
export type Reportable = (typeof REPORTABLE)[number][0];

export type Sending = 'get' | 'form' | 'json';
export interface AddressWishes {
  /** Of the tracking host. */
  readonly origin: string;
  readonly event: string;
  readonly chosen: readonly Reportable[];
  /** Custom fields, with their x_. */
  readonly custom: readonly string[];
  readonly sending: Sending;
  readonly by: 'key' | 'signature';
  readonly programId: number;
}

/** What the merchant's developer writes: request line, headers and body, capitals to be filled in. */
export function postbackExample({ origin, event, chosen, custom, sending, by, programId }: AddressWishes): string {
  const stands = new Map<string, string>(REPORTABLE.map(([name, word]) => [name, word]));
  const own: [string, string][] = [
    ['click_id', 'CLICK_ID'],
    ['event', event],
    ...chosen.map((name): [string, string] => [name, stands.get(name) ?? '']),
    ...custom.map((name): [string, string] => [name, name.replace(/^x_/, '').toUpperCase()]),
  ];
  const proof: [string, string][] =
    by === 'key'
      ? [['key', 'KEY']]
      : [
          ['program', String(programId)],
          ['ts', 'SECONDS_SINCE_1970'],
          ['sig', 'SIGNATURE'],
        ];
  const pairs = (all: [string, string][]): string => all.map(([name, value]) => `${name}=${value}`).join('&');
  if (sending === 'get') return `${origin}/postback?${pairs([...proof, ...own])}`;
  if (sending === 'form')
    return `POST ${origin}/postback\nContent-Type: application/x-www-form-urlencoded\n\n${pairs([...proof, ...own])}`;
  const body = JSON.stringify(Object.fromEntries(own), null, 2).replace(
    '"ITEMS"',
    '[{"sku": "SKU", "price": "PRICE"}]',
  );
  return `POST ${origin}/postback?${pairs(proof)}\nContent-Type: application/json\n\n${body}`;
}
