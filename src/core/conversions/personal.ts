import type { Problem } from '../schema/problems';

/** What stands in place of a value that was not kept. */
export const MASKED = '(not kept)';
/** Of a customer ID, once it is hashed. */
export const HASHED = /^~[0-9a-f]{32}$/;

const NAMED =
  /(^|_)(e?mail|phone|tel|mobile|(first|last|full|customer|user|sur)_?name|street|address|iban|bic|cvc|cvv|birth(day|date)?|dob|passport|ssn)(_|$)|^name$/;
const EMAIL = /[^\s@]+@[^\s@]+\.[^\s@]{2,}/;

/** Whether a run of digits is a card number as ISO/IEC 7812 has it: 13 to 19 digits, a known first one, and Luhn's sum. */
function isCardNumber(value: string): boolean {
  const digits = value.replaceAll(/[ -]/g, '');
  if (!/^[3-6]\d{12,18}$/.test(digits)) return false;
  const sum = [...digits].reverse().reduce((all, digit, index) => {
    const twice = Number(digit) * (index % 2 === 1 ? 2 : 1);
    return all + (twice > 9 ? twice - 9 : twice);
  }, 0);
  return sum % 10 === 0;
}

/** Why a custom field looks like something about a person, which is not kept. */
export function personalReason(name: string, value: string): string | undefined {
  if (NAMED.test(name.toLowerCase().replace(/^x_/, ''))) return `${name} is named like something about a person`;
  if (EMAIL.test(value)) return `${name} looks like an e-mail address`;
  return isCardNumber(value) ? `${name} looks like a card number` : undefined;
}

export interface Cleaned {
  readonly fields: Record<string, unknown>;
  /** What was masked, and why; empty where all was kept. */
  readonly warnings: Problem[];
  /** Whether anything differs from what came. */
  readonly changed: boolean;
}

/**
 * Takes what is personal out of a report before it is kept: custom fields are masked, the customer's ID and the card's fingerprint are hashed.
 * An order number that is an e-mail address is left to the check of the postback, which refuses it.
 * @param hash of a customer's ID, keyed, 32 hexadecimal digits
 */
export function cleaned(fields: Readonly<Record<string, unknown>>, hash: (customer: string) => string): Cleaned {
  const kept: Record<string, unknown> = {};
  const warnings: Problem[] = [];
  let changed = false;
  for (const [name, value] of Object.entries(fields)) {
    const text = typeof value === 'string' || typeof value === 'number' ? String(value) : undefined;
    kept[name] = value;
    if (text === undefined || text === '') continue;
    const reason = name.startsWith('x_') && text !== MASKED ? personalReason(name, text) : undefined;
    if (reason) {
      kept[name] = MASKED;
      warnings.push({ field: name, reason: `${reason}: it was not kept.` });
    } else if (name === 'card' && isCardNumber(text)) {
      delete kept[name];
      warnings.push({
        field: name,
        reason: 'card is a card number: it was not kept. Send the fingerprint of your payment provider.',
      });
    } else if ((name === 'customer_id' || name === 'card') && !HASHED.test(text)) kept[name] = `~${hash(text)}`;
    else continue;
    changed = true;
  }
  return { fields: kept, warnings, changed };
}

/** Why an order number is refused. */
export const personalOrder = (order: string): string | undefined =>
  EMAIL.test(order)
    ? 'order is an e-mail address. Send the number of the order; nothing about persons is kept.'
    : undefined;
