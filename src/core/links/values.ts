import { encodeValue } from '../placeholders/encode';
import { looksUnfilled } from '../placeholders/unfilled';

/** One part of a composite value: "keyword" filled by the source, or "2026-11" fixed. */
export interface CompositePart {
  readonly name: string;
  readonly kind: 'fixed' | 'source';
  readonly text: string;
}

/**
 * A value carried by a link. A fixed one is text of ours and is encoded; one that the traffic source fills holds
 * the source's placeholder, which is written literally because the source looks for it letter by letter; one left to
 * the partner is written empty, for the partner to fill; a composite one joins several parts in one slot.
 */
export type SlotValue =
  | { readonly kind: 'fixed' | 'source'; readonly text: string }
  | { readonly kind: 'partner' }
  | { readonly kind: 'composite'; readonly separator: string; readonly parts: readonly CompositePart[] };

/** How a composite value is taken apart again: kept with the link, so that reports can split it. */
export interface Layout {
  readonly separator: string;
  readonly names: readonly string[];
}

/** Characters that no program ever encodes (RFC 3986 §2.3), so a separator made of them arrives as it was written. */
const SEPARATOR = /^[-_.~]{1,3}$/;
export const isSeparator = (text: string): boolean => SEPARATOR.test(text);

/** The value as it stands in the address. */
export function writtenValue(value: SlotValue): string {
  if (value.kind === 'partner') return '';
  if (value.kind === 'composite') return value.parts.map(writtenValue).join(value.separator);
  return value.kind === 'source' ? value.text : encodeValue(value.text);
}

/** A value that would write nothing, and is not meant to be empty. */
export const isBlank = (value: SlotValue | undefined): boolean =>
  value === undefined ||
  (value.kind === 'composite'
    ? value.parts.every(({ text }) => text === '')
    : value.kind !== 'partner' && value.text === '');

/** The texts in a value that a source fills. */
export function sourceTexts(value: SlotValue): string[] {
  if (value.kind === 'composite') return value.parts.flatMap(sourceTexts);
  return value.kind === 'source' && value.text !== '' ? [value.text] : [];
}

/** The texts in a value that are ours. */
export function fixedTexts(value: SlotValue): string[] {
  if (value.kind === 'composite') return value.parts.flatMap(fixedTexts);
  return value.kind === 'fixed' && value.text !== '' ? [value.text] : [];
}

export const layoutOf = (value: SlotValue | undefined): Layout | undefined =>
  value?.kind === 'composite' ? { separator: value.separator, names: value.parts.map(({ name }) => name) } : undefined;

/**
 * Splits a composite value by its layout. Where the separator stands more often than it should, a part contains it:
 * the first part takes the surplus, since it is the free text (a keyword) in nearly all layouts. Missing parts are ''.
 * @example splitComposite('ash-glaze-exact', { separator: '-', names: ['keyword', 'match'] }) // ['ash-glaze', 'exact']
 */
export function splitComposite(value: string, { separator, names }: Layout): string[] {
  const pieces = value.split(separator);
  const surplus = Math.max(0, pieces.length - names.length);
  const first = pieces.slice(0, surplus + 1).join(separator);
  const rest = pieces.slice(surplus + 1);
  return names.map((_, i) => (i === 0 ? first : (rest[i - 1] ?? '')));
}

/**
 * Decodes as application/x-www-form-urlencoded does: "+" is a space, broken escapes stay as they are.
 */
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

/**
 * Reads a written value back. What is not what encoding would have written, or has the look of a placeholder, stood
 * there literally, so the source fills it; nothing at all is left to the partner.
 */
export function readWritten(raw: string, layout?: Layout): SlotValue {
  if (layout) {
    const pieces = splitComposite(raw, layout);
    const parts = layout.names.map((name, i): CompositePart => ({ name, ...readPlain(pieces[i] ?? '') }));
    return { kind: 'composite', separator: layout.separator, parts };
  }
  return raw === '' ? { kind: 'partner' } : readPlain(raw);
}

function readPlain(raw: string): { kind: 'fixed' | 'source'; text: string } {
  const text = decodeValue(raw);
  const fixed = encodeValue(text) === raw && !looksUnfilled(raw);
  return fixed ? { kind: 'fixed', text } : { kind: 'source', text: raw };
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
