import { CARRIED, type Carried, carriedBy, isCarried } from '../placeholders/names';
import { encodeValue } from '../placeholders/encode';
import { type Layout, type SlotValue, decodeValue, isBlank, readWritten, writtenValue } from './values';
import { placeParameters, splitDestination } from './landing';

/**
 * Referral: leads to a page kept by Brivet. Deep: carries its page in `to`. Direct: the page itself, with what the
 * page tag reads, no redirect. Manual: only a reference, put behind any page that has the tag.
 */
export const LINK_KINDS = ['referral', 'deep', 'direct', 'manual'] as const;
export type LinkKind = (typeof LINK_KINDS)[number];
/** Only what passes the tracking host can be led elsewhere later. */
export const redirects = (kind: LinkKind): boolean => kind === 'referral' || kind === 'deep';

/** Parameter names that a source gave to values: `keyword` for sub1. */
export type ParameterNames = Partial<Record<Carried, string>>;

/** Everything an issued link says, apart from what its code stands for. */
export interface LinkParts {
  readonly kind: LinkKind;
  /** Origin of the tracking host, "https://go.larkmoor.example". */
  readonly origin: string;
  /** The code, or the alias that stands for it. */
  readonly code: string;
  readonly names?: ParameterNames;
  readonly values: Partial<Record<Carried, SlotValue>>;
  /** Deep: the page as issued. Direct and manual: the page the parameters stand on. */
  readonly to?: string;
}

/** The parameter by which links without a redirect say whose they are. */
export const REFERENCE = 'ref';

/** One marked stretch of an issued link, for display; the texts joined are the link. */
export interface LinkMark {
  readonly part: 'host' | 'code' | 'plain' | 'slot' | 'destination';
  readonly text: string;
  readonly slot?: Carried;
}

/** The values a link carries, in fixed order, with the names under which they are written. */
function carriedParameters({ names, values }: LinkParts): { name: string; slot: Carried; text: string }[] {
  return CARRIED.flatMap((slot) => {
    const value = values[slot];
    if (value === undefined || isBlank(value)) return [];
    return [{ name: names?.[slot] ?? slot, slot, text: writtenValue(value) }];
  });
}

/** The link in its marked parts: parameters in fixed order, `to` always last and encoded. */
export function markLink(parts: LinkParts): LinkMark[] {
  return redirects(parts.kind) ? markRedirect(parts) : markDirect(parts);
}

function markRedirect(parts: LinkParts): LinkMark[] {
  const marks: LinkMark[] = [
    { part: 'host', text: `${parts.origin}/` },
    { part: 'code', text: parts.code },
  ];
  const parameter = (name: string, mark: LinkMark): void => {
    marks.push({ part: 'plain', text: `${marks.length === 2 ? '?' : '&'}${name}=` }, mark);
  };
  for (const { name, slot, text } of carriedParameters(parts)) parameter(name, { part: 'slot', text, slot });
  if (parts.to) parameter('to', { part: 'destination', text: encodeValue(parts.to) });
  return marks;
}

/** The page with our parameters merged into its query; without a page, the query alone. */
function markDirect(parts: LinkParts): LinkMark[] {
  const ours = [
    { name: REFERENCE, text: parts.code, mark: 'code' as const },
    ...carriedParameters(parts).map(({ name, slot, text }) => ({ name, text, mark: 'slot' as const, slot })),
  ];
  const page = parts.to ? splitDestination(parts.to) : { base: '', pairs: [], fragment: '' };
  const placed = placeParameters(
    page.pairs,
    ours.map((each) => ({ ...each, raw: `${each.name}=${each.text}` })),
  );
  const marks: LinkMark[] = page.base === '' ? [] : [{ part: 'destination', text: page.base }];
  for (const [i, { raw, ours: own }] of placed.entries()) {
    const lead = i === 0 ? '?' : '&';
    if (!own) marks.push({ part: 'destination', text: lead + raw });
    else
      marks.push(
        { part: 'plain', text: `${lead}${own.name}=` },
        { part: own.mark, text: own.text, ...('slot' in own && { slot: own.slot }) },
      );
  }
  if (page.fragment !== '') marks.push({ part: 'destination', text: page.fragment });
  return marks;
}

export const composeLink = (parts: LinkParts): string =>
  markLink(parts)
    .map((mark) => mark.text)
    .join('');

/** Names that a source gave, turned around: which value a parameter carries. */
export type ReadNames = ReadonlyMap<string, Carried>;
export function readNames(names: ParameterNames | undefined): ReadNames | undefined {
  const given = Object.entries(names ?? {}).filter((pair): pair is [Carried, string] => isCarried(pair[0]));
  return given.length === 0 ? undefined : new Map(given.map(([slot, name]) => [name, slot]));
}

/** What a request to the tracking host carries, decoded. */
export interface Arrival {
  readonly slots: Partial<Record<Exclude<Carried, 'cost'>, string>>;
  readonly cost?: string;
  readonly to?: string;
}

/**
 * Reads the query of an issued link as it arrives (without "?"). The first of a repeated parameter counts.
 * An unencoded `to` (it begins with http:// or https:// literally) takes all that follows.
 * @param names what the link's source calls its values; our own names are understood as well
 */
export function readQuery(query: string, names?: ReadNames): Arrival {
  const slots: Partial<Record<Exclude<Carried, 'cost'>, string>> = {};
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
    } else {
      const carried = names?.get(name) ?? carriedBy(name);
      if (carried === 'cost') cost ??= decodeValue(raw);
      else if (carried) slots[carried] ??= decodeValue(raw);
    }
    if (end < 0) break;
    at = end + 1;
  }
  return { slots, cost, to };
}

/** What is known of a link beside its address, to take it apart exactly. */
export interface Known {
  readonly names?: ParameterNames;
  readonly layouts?: Partial<Record<Carried, Layout>>;
}

/** The values among raw pairs ("sub1=ash"), and the pairs that are not ours. */
export function takeValues(
  pairs: readonly string[],
  known: Known,
): { values: Partial<Record<Carried, SlotValue>>; rest: string[] } {
  const names = readNames(known.names);
  const values: Partial<Record<Carried, SlotValue>> = {};
  const rest: string[] = [];
  for (const pair of pairs) {
    const equals = pair.indexOf('=');
    const name = equals < 0 ? pair : pair.slice(0, equals);
    const slot = names?.get(name) ?? carriedBy(name);
    if (slot) values[slot] ??= readWritten(equals < 0 ? '' : pair.slice(equals + 1), known.layouts?.[slot]);
    else if (pair !== '') rest.push(pair);
  }
  return { values, rest };
}

/** Takes a link of the tracking host apart again, or gives undefined for what has another form. */
export function parseLink(address: string, known: Known = {}): LinkParts | undefined {
  const match = /^(https?:\/\/[^/?#\s]+)\/([^/?#\s]+)(?:\?([^#]*))?$/.exec(address.trim());
  const [, origin, code, query = ''] = match ?? [];
  if (origin === undefined || code === undefined) return undefined;
  const { to } = readQuery(query);
  const { values } = takeValues(query.split(/(?:^|&)to=/)[0]?.split('&') ?? [], known);
  const kind = to ? 'deep' : 'referral';
  return { kind, origin, code, ...(known.names && { names: known.names }), values, ...(to && { to }) };
}

/** Takes a link without a redirect apart: the page, whose it is, and what it carries. */
export function parseDirect(address: string, origin: string, known: Known = {}): LinkParts | undefined {
  if (!URL.canParse(address)) return undefined;
  const { base, pairs, fragment } = splitDestination(address);
  const code = pairs.find(({ name }) => name === REFERENCE)?.raw.slice(REFERENCE.length + 1);
  if (code === undefined) return undefined;
  const { values, rest } = takeValues(
    pairs.filter(({ name }) => name !== REFERENCE).map(({ raw }) => raw),
    known,
  );
  const to = `${base}${rest.length === 0 ? '' : `?${rest.join('&')}`}${fragment}`;
  return { kind: 'direct', origin, code, ...(known.names && { names: known.names }), values, to };
}
