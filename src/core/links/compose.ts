import type { ClickValues } from '../placeholders/names';
import { encodeValue } from '../placeholders/encode';
import { CLICK_NAMES } from '../placeholders/names';
import { compileTemplate } from '../placeholders/template';
import { mergeParameters, splitDestination } from './landing';
import type { LinkParts } from './parts';
import type { LinkFields, Utm } from './schema';
import { looksUnfilled } from '../placeholders/unfilled';
import { type SlotValue, isBlank } from './values';

export const UTM_FIELDS = ['source', 'medium', 'campaign', 'term', 'content'] as const;

/**
 * The UTM parameters as a template for a query: texts encoded, values of Brivet left to be expanded.
 * @example utmTemplate({ source: 'brivet', campaign: 'autumn {channel_code}' }) // 'utm_source=brivet&utm_campaign=autumn%20{channel_code}'
 */
export const utmTemplate = (utm: Utm): string =>
  UTM_FIELDS.flatMap((field) => {
    const text = utm[field] ?? '';
    if (text === '') return [];
    const written = text
      .split(/(\{[^{}]*\})/)
      .map((piece, i) => (i % 2 === 1 ? piece : encodeValue(piece)))
      .join('');
    return [`utm_${field}=${written}`];
  }).join('&');

/** Long: the parameters stand in the address. Short: Brivet adds them at the redirect, and the link stays short. */
export const utmAtRedirect = ({ kind, utmForm }: Pick<LinkFields, 'kind' | 'utmForm'>): boolean =>
  kind === 'referral' || (kind === 'deep' && utmForm === 'short');

export interface ComposeContext {
  readonly origin: string;
  /** The code, the alias, or dots where it is yet to be drawn. */
  readonly code: string;
  /** partner_code, channel_code, offer_code. */
  readonly codes: ClickValues;
  /** The offer's landing page that was chosen. */
  readonly landingPage: string;
}

/** The page the link leads to, without the values of a click: its own, or the offer's landing page where that is needed. */
function pageOf(fields: LinkFields, context: ComposeContext): string | undefined {
  const own = fields.to.trim();
  if (own !== '') return own;
  if (fields.kind !== 'direct') return undefined;
  const page = compileTemplate(context.landingPage, CLICK_NAMES);
  return page.ok ? page.template.expand(context.codes) : undefined;
}

/**
 * From what was chosen to what is issued. The workbench, the bulk issuer, the API and mail copy all come through here,
 * so that they give the same address.
 */
export function composeParts(fields: LinkFields, context: ComposeContext): LinkParts {
  const values = Object.fromEntries(Object.entries(fields.values).filter(([, value]) => !isBlank(value)));
  const names = fields.names && Object.keys(fields.names).length > 0 ? { names: fields.names } : {};
  const parts = { kind: fields.kind, origin: context.origin, code: context.code, ...names, values };
  const page = pageOf(fields, context);
  // A referral keeps its page to itself: that is what keeps it short, and lets it lead elsewhere later.
  if (page === undefined || fields.kind === 'referral') return parts;
  return { ...parts, to: withUtm(page, fields, context.codes) };
}

function withUtm(page: string, fields: LinkFields, codes: ClickValues): string {
  const utm = utmTemplate(fields.utm);
  if (utm === '' || utmAtRedirect(fields) || !URL.canParse(page)) return page;
  const template = compileTemplate(utm, CLICK_NAMES);
  return template.ok ? mergeParameters(splitDestination(page), template.template.expand(codes)).address : page;
}

/** The page kept in the books, to which the link leads until it is changed; empty means the offer's landing page. */
export const ownDestination = (fields: LinkFields, parts: LinkParts): string => parts.to ?? fields.to.trim();

/** A text that is written the same whether it was meant as fixed or as the source's placeholder is the latter. */
const told = (value: SlotValue): SlotValue =>
  value.kind === 'fixed' && looksUnfilled(value.text) && encodeValue(value.text) === value.text
    ? { kind: 'source', text: value.text }
    : value;

/** What makes two links the same: the same file read twice issues nothing twice. */
export function linkIdentity(fields: LinkFields, parts: LinkParts): string {
  const { partnerId, channelId, offerId, kind, values, names, alias } = fields;
  // Where the UTM parameters stand in the page, they are part of the page.
  const apart = utmAtRedirect(fields);
  const to = apart ? fields.to.trim() : ownDestination(fields, parts);
  const landing = to === '' ? fields.landing : '';
  const utm = apart ? fields.utm : {};
  const ordered = (record: object): [string, unknown][] =>
    Object.entries(record)
      .filter(([, value]) => value !== '' && value !== undefined)
      .sort(([a], [b]) => (a < b ? -1 : 1));
  return JSON.stringify([
    ...[partnerId, channelId, offerId, kind, landing, to, alias],
    ordered(
      Object.fromEntries(
        Object.entries(values).flatMap(([slot, value]) => (isBlank(value) ? [] : [[slot, told(value)]])),
      ),
    ),
    ...[ordered(names ?? {}), ordered(utm)],
  ]);
}
