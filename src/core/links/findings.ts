import type { Carried } from '../placeholders/names';
import type { SourcePreset } from '../sources/schema';
import type { LinkKind, ParameterNames } from './parts';
import type { SlotValue } from './values';

/** What is looked at: a link while it is composed, before anything is saved. */
export interface LintInput {
  readonly kind: LinkKind;
  readonly to: string;
  /** Origins of the tracking hosts. */
  readonly origins: readonly string[];
  readonly values: Partial<Record<Carried, SlotValue>>;
  readonly names?: ParameterNames;
  /** The address as it would be issued. */
  readonly address: string;
  readonly offer?: LintOffer;
  readonly offers: readonly LintOffer[];
  readonly source?: KnownSource;
  readonly sources: readonly KnownSource[];
}
export interface LintOffer {
  readonly id: number;
  readonly label: string;
  readonly landingHosts: readonly string[];
  readonly appended: string;
}
export interface KnownSource {
  readonly id: number;
  readonly preset: SourcePreset;
}

/** What a fix does to the draft; undefined in `values` takes a value away. */
export interface Change {
  readonly kind?: LinkKind;
  readonly to?: string;
  readonly values?: Partial<Record<Carried, SlotValue | undefined>>;
  readonly offerId?: number;
  readonly sourceId?: number;
}

export const FINDING_CODES = [
  'second_question_mark',
  'sub_id_in_destination',
  'double_encoding',
  'reserved_character',
  'parameter_stands_already',
  'fragment_before_query',
  'other_source',
  'unknown_placeholder',
  'host_not_allowed',
  'unique_in_group',
  'personal_data',
  'http_destination',
  'too_long',
  'own_link',
  'not_an_address',
  'separator_in_part',
] as const;
export type FindingCode = (typeof FINDING_CODES)[number];

/** Something about a link that will not do what its author thinks, with the way out. */
export interface Finding {
  readonly code: FindingCode;
  /** An error would lose the visitor, the click or the value; a warning may be meant. */
  readonly severity: 'error' | 'warning';
  readonly field: 'to' | 'link' | Carried;
  readonly reason: string;
  readonly fix?: { readonly label: string; readonly change: Change };
}
