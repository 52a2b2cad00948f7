import { ONE_OFF_SLOTS, SUB_SLOTS, VALUE_SLOTS, type ValueSlot } from '../placeholders/names';
import { encodeValue } from '../placeholders/encode';
import { looksUnfilled } from '../placeholders/unfilled';

/**
 * A value carried by a link. A fixed one is text of ours and is encoded; one that the traffic source fills
 * holds the source's placeholder, which is written literally because the source looks for it letter by letter.
 */
export interface SlotValue {
  readonly kind: 'fixed' | 'source';
  readonly text: string;
}

/** Everything an issued link says, apart from what its code stands for. */
export interface LinkParts {
  /** Origin of the tracking host, "https://go.larkmoor.example". */
  readonly origin: string;
  readonly code: string;
  readonly slots: Partial<Record<ValueSlot, SlotValue>>;
  /** Cost of this click: a decimal or the source's placeholder. */
  readonly cost?: SlotValue;
  /** Deep link: an absolute address. */
  readonly to?: string;
}

/** Decodes as application/x-www-form-urlencoded does: "+" is a space, broken escapes stay as they are. */
export function decodeValue(raw: string): string {
  const spaced = raw.includes('+') ? raw.replaceAll('+', ' ') : raw;
  if (!spaced.includes('%')) return spaced;
  try {
    return decodeURIComponent(spaced);
  } catch {
    // Placeholders like %%AD%% are no escapes: decode the sound ones only.
    return spaced.replace(/(?:%[0-9A-Fa-f]{2})+/g, (escapes) => {
      try {
        return decodeURIComponent(escapes);
      } catch {
        return escapes;
      }
    });
  }
}

/** What would end or split the parameter when written unencoded. */
const BREAKS_A_QUERY = /[&#\s\u0000-\u001f\u007f]/;

/** Why a source's placeholder cannot be written into a link, or undefined when it can. */
export function sourceTextProblem(text: string): string | undefined {
  const found = BREAKS_A_QUERY.exec(text);
  if (!found) return undefined;
  const sign = /\s/.test(found[0]) ? 'a space' : `"${found[0]}"`;
  return `A value filled by the source is written as it stands, so it cannot contain ${sign}. Use a fixed value, or another placeholder.`;
}

/** One marked stretch of an issued link, for display; the texts joined are the link. */
export interface LinkMark {
  readonly part: 'host' | 'code' | 'plain' | 'slot' | 'destination';
  readonly text: string;
  readonly slot?: ValueSlot | 'cost';
}

const written = (value: SlotValue): string => (value.kind === 'source' ? value.text : encodeValue(value.text));

/** The link in its marked parts: parameters in fixed order, `to` always last and encoded. */
export function markLink(parts: LinkParts): LinkMark[] {
  const marks: LinkMark[] = [
    { part: 'host', text: `${parts.origin}/` },
    { part: 'code', text: parts.code },
  ];
  let lead = '?';
  const parameter = (name: string, mark: LinkMark): void => {
    marks.push({ part: 'plain', text: `${lead}${name}=` }, mark);
    lead = '&';
  };
  for (const slot of [...SUB_SLOTS, ...ONE_OFF_SLOTS]) {
    const value = parts.slots[slot];
    if (value && value.text !== '') parameter(slot, { part: 'slot', text: written(value), slot });
  }
  if (parts.cost && parts.cost.text !== '')
    parameter('cost', { part: 'slot', text: written(parts.cost), slot: 'cost' });
  if (parts.to) parameter('to', { part: 'destination', text: encodeValue(parts.to) });
  return marks;
}

export const composeLink = (parts: LinkParts): string =>
  markLink(parts)
    .map((mark) => mark.text)
    .join('');

/** What a request to the tracking host carries, decoded. */
export interface Arrival {
  readonly slots: Partial<Record<ValueSlot, string>>;
  readonly cost?: string;
  readonly to?: string;
}

const SLOT_NAMES: ReadonlySet<string> = new Set(VALUE_SLOTS);
const isSlot = (name: string): name is ValueSlot => SLOT_NAMES.has(name);

/**
 * Reads the query of an issued link as it arrives (without "?"). The first of a repeated parameter counts.
 * An unencoded `to` (it begins with http:// or https:// literally) takes all that follows.
 */
export function readQuery(query: string): Arrival {
  const slots: Partial<Record<ValueSlot, string>> = {};
  let cost: string | undefined;
  let to: string | undefined;
  let at = 0;
  while (at < query.length) {
    const end = query.indexOf('&', at);
    const pair = query.slice(at, end < 0 ? undefined : end);
    const equals = pair.indexOf('=');
    const name = equals < 0 ? pair : pair.slice(0, equals);
    const raw = equals < 0 ? '' : pair.slice(equals + 1);
    if (name === 'to' && to === undefined) {
      if (/^https?:\/\//i.test(raw)) return { slots, cost, to: query.slice(at + 3) };
      to = decodeValue(raw);
    } else if (name === 'cost') cost ??= decodeValue(raw);
    else if (isSlot(name)) slots[name] ??= decodeValue(raw);
    if (end < 0) break;
    at = end + 1;
  }
  return { slots, cost, to };
}

/**
 * Takes an issued link apart again. A value that is not what encoding would have written, or that has the look
 * of a placeholder, stood there literally, so the source fills it.
 */
export function parseLink(address: string): LinkParts | undefined {
  const match = /^(https?:\/\/[^/?#\s]+)\/([^/?#\s]+)(?:\?([^#]*))?$/.exec(address.trim());
  const [, origin, code, query = ''] = match ?? [];
  if (origin === undefined || code === undefined) return undefined;
  const { to } = readQuery(query);
  const slots: Partial<Record<ValueSlot, SlotValue>> = {};
  let cost: SlotValue | undefined;
  for (const pair of query.split(/[?&]to=/)[0]?.split('&') ?? []) {
    const equals = pair.indexOf('=');
    const name = pair.slice(0, equals);
    const raw = pair.slice(equals + 1);
    const text = decodeValue(raw);
    const fixed = encodeValue(text) === raw && !looksUnfilled(raw);
    const value: SlotValue = fixed ? { kind: 'fixed', text } : { kind: 'source', text: raw };
    if (name === 'cost') cost ??= value;
    else if (isSlot(name)) slots[name] ??= value;
  }
  return { origin, code, slots, ...(cost && { cost }), ...(to !== undefined && to !== '' && { to }) };
}
