import { CARRIED, type Carried } from '../placeholders/names';
import { looksUnfilled } from '../placeholders/unfilled';
import { type SourcePreset, namesOf, valuesOf } from '../sources/schema';
import { UTM_FIELDS } from './compose';
import { LINK_KINDS, type LinkKind } from './parts';
import type { Labels, LinkFields, Utm } from './schema';
import type { SlotValue } from './values';

/** Columns of a file of links. Every one but the page may be left out where a choice for all lines stands in. */
export const LINK_COLUMNS = [
  'partner',
  'channel',
  'offer',
  'destination',
  'landing',
  'kind',
  'alias',
  'source',
  ...CARRIED,
  'campaign',
  'ad',
  'product',
  'tags',
  ...UTM_FIELDS.map((field) => `utm_${field}` as const),
] as const;
export type LinkColumn = (typeof LINK_COLUMNS)[number];
export type LinkRecord = Partial<Record<LinkColumn, string>>;

/** In a cell: the partner fills this value. */
export const LEFT_TO_PARTNER = '*';

/** A value as it stands in a cell: a placeholder is the source's, "*" leaves it to the partner, all else is fixed. */
export function cellValue(text: string, preset: SourcePreset | undefined): SlotValue {
  if (text === LEFT_TO_PARTNER) return { kind: 'partner' };
  const placeholder = preset?.tokens.some(({ token }) => text.includes(token)) || looksUnfilled(text);
  return { kind: placeholder ? 'source' : 'fixed', text };
}

/** A value as it stands in a cell: the other way round. */
export function shownValue(value: SlotValue): string {
  if (value.kind === 'partner') return LEFT_TO_PARTNER;
  return value.kind === 'composite' ? value.parts.map(({ text }) => text).join(value.separator) : value.text;
}

/** What a line says about the link itself; whom it is for is looked up by its codes. */
export type LineFields = Omit<LinkFields, 'partnerId' | 'channelId' | 'offerId' | 'sourceId'>;

/** A line as the fields of a link, with what the source's preset puts where a cell is empty. */
export function lineFields(
  record: LinkRecord,
  preset: SourcePreset | undefined,
  presetKind: LinkKind | undefined,
): LineFields {
  const text = (column: LinkColumn): string => record[column]?.trim() ?? '';
  const to = text('destination');
  const named = LINK_KINDS.find((kind) => kind === text('kind').toLowerCase());
  const values: Partial<Record<Carried, SlotValue>> = preset ? { ...valuesOf(preset) } : {};
  for (const slot of CARRIED) {
    const standing = values[slot];
    // A cell that says what the preset says keeps the preset's layout.
    if (text(slot) === '' || (standing && shownValue(standing) === text(slot))) continue;
    values[slot] = cellValue(text(slot), preset);
  }
  const labels: Labels = {};
  for (const label of ['campaign', 'ad', 'product'] as const) if (text(label) !== '') labels[label] = text(label);
  const tags = text('tags')
    .split(/[;,]/)
    .map((tag) => tag.trim())
    .filter((tag) => tag !== '');
  if (tags.length > 0) labels.tags = tags;
  const utm: Utm = {};
  for (const field of UTM_FIELDS) if (text(`utm_${field}`) !== '') utm[field] = text(`utm_${field}`);
  return {
    kind: named ?? presetKind ?? (to === '' ? 'referral' : 'deep'),
    landing: text('landing'),
    to,
    values,
    ...(preset && { names: namesOf(preset) }),
    alias: text('alias').toLowerCase(),
    labels,
    utm,
    utmForm: 'short',
  };
}

/** A kind that is written in a cell and does not exist, for the reason. */
export const unknownKind = (record: LinkRecord): string | undefined => {
  const kind = record.kind?.trim().toLowerCase() ?? '';
  return kind === '' || LINK_KINDS.some((each) => each === kind) ? undefined : kind;
};
