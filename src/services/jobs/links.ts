import Joi from 'joi';
import { LINK_COLUMNS, type LinkRecord, lineFields, unknownKind } from '@/core/links/bulk';
import { LINK_KINDS, type LinkKind, composeLink } from '@/core/links/parts';
import { type LinkFields, linkSchema } from '@/core/links/schema';
import { CHANNEL_KINDS } from '@/core/partners/schema';
import { id, oneOf } from '@/core/schema/fields';
import { type Problem, check } from '@/core/schema/problems';
import type { ChannelRow, PartnerRow } from '@/store/books/partners';
import { type Actor, audit, requireRight } from '../actor';
import { type IssueContext, type LinkTarget, identityOf, issueContext, issueProblems, storeLink } from '../links';
import { checked } from '../programs';
import { invalidField } from '../refusal';
import type { Stores } from '../stores';
import type { JobLine, JobWork, Tick } from './job';
import { MOST_LINES, type TableLine, readTable } from './table';

/** Choices that hold for every line which says nothing else. */
interface Defaults {
  partnerId?: number;
  channelId?: number;
  offerId?: number;
  sourceId?: number;
  kind?: LinkKind;
  campaign?: string;
}
/** Lines of a file, or every partner × channel × page. */
export type LinksInput =
  | { form: 'lines'; text: string; defaults: Defaults }
  | {
      form: 'matrix';
      /** Of these partners; empty for all active ones of the group, or of the program. */
      partnerIds: number[];
      groupId?: number;
      channelKinds: string[];
      pages: string;
      defaults: Defaults;
    };

const defaults = Joi.object<Defaults>({
  partnerId: id('Partner'),
  channelId: id('Channel'),
  offerId: id('Offer'),
  sourceId: id('Source'),
  kind: oneOf('Kind', ...LINK_KINDS),
  campaign: Joi.string().trim().max(80).allow(''),
}).default({});
export const linksInputSchema = Joi.object<LinksInput>({
  form: oneOf('Form', 'lines', 'matrix').required(),
  text: Joi.string().max(10_000_000).allow('').when('form', { is: 'lines', then: Joi.required() }).label('Lines'),
  partnerIds: Joi.array().items(id('Partner')).max(5000).default([]).label('Partners'),
  groupId: id('Group'),
  channelKinds: Joi.array()
    .items(oneOf('Kind of channel', ...CHANNEL_KINDS))
    .default([])
    .label('Kinds of channel'),
  pages: Joi.string().max(200_000).allow('').default('').label('Pages'),
  defaults,
});

/** What an export of links says beside what a link is made of. */
const EXPORT_ONLY = [
  ...['code', 'address', 'state', 'partner_name', 'channel_name', 'offer_name'],
  ...['clicks', 'unique_clicks', 'conversions', 'commission', 'currency'],
];

/** Looks everything up once, by code, however many lines name it. */
class Lookup {
  private readonly partners = new Map<string, PartnerRow | undefined>();
  private readonly channels = new Map<string, ChannelRow | undefined>();
  constructor(
    private readonly stores: Stores,
    private readonly actor: Actor,
    readonly context: IssueContext,
  ) {}

  private mine(partner: PartnerRow | undefined): PartnerRow | undefined {
    const { programId, partnerId } = this.actor;
    return partner?.programId === programId && (partnerId === null || partnerId === partner.id) ? partner : undefined;
  }
  private kept<T>(map: Map<string, T | undefined>, key: string, read: () => T | undefined): T | undefined {
    if (!map.has(key)) map.set(key, read());
    return map.get(key);
  }
  partner(code: string): PartnerRow | undefined {
    return this.kept(this.partners, code, () =>
      this.mine(this.stores.books.partners.byCode(this.actor.programId, code)),
    );
  }
  partnerById(partnerId: number): PartnerRow | undefined {
    return this.kept(this.partners, `#${partnerId}`, () => this.mine(this.stores.books.partners.byId(partnerId)));
  }
  channel(partnerId: number, code: string): ChannelRow | undefined {
    return this.kept(this.channels, `${partnerId} ${code}`, () =>
      this.stores.books.partners.channelByCode(partnerId, code),
    );
  }
  channelById(channelId: number): ChannelRow | undefined {
    return this.kept(this.channels, `#${channelId}`, () => this.stores.books.partners.channel(channelId));
  }
}

interface Planned {
  readonly target: LinkTarget;
  readonly fields: LinkFields;
}

/** A problem by the name of the column it stands in. */
const byColumn = ({ field, reason }: Problem): Problem => ({
  field: field === 'to' ? 'destination' : field.replace(/^values\./, '').replace(/Id$/, ''),
  reason,
});

/** Everything about one line: whom it is for, what it carries, and why it cannot be issued. */
function plan(lookup: Lookup, record: LinkRecord, preset: Defaults): Planned | Problem[] {
  const problems: Problem[] = [];
  const missing = (field: string, reason: string): undefined => void problems.push({ field, reason });
  const code = (column: 'partner' | 'channel' | 'offer' | 'source'): string => record[column]?.trim() ?? '';
  const { context } = lookup;
  const partner =
    code('partner') === ''
      ? preset.partnerId === undefined
        ? missing('partner', 'No partner: name the code in the line, or choose one for all.')
        : (lookup.partnerById(preset.partnerId) ?? missing('partner', 'The chosen partner is not here.'))
      : (lookup.partner(code('partner').toUpperCase()) ??
        missing('partner', `"${code('partner')}" is not the code of a partner.`));
  const channel = partner && channelOf(lookup, partner, code('channel'), preset, missing);
  const offer =
    code('offer') === ''
      ? (context.offers.find(({ id: each }) => each === preset.offerId) ??
        missing('offer', 'No offer: name the code in the line, or choose one for all.'))
      : (context.offers.find((each) => each.code === code('offer').toUpperCase()) ??
        missing('offer', `"${code('offer')}" is not the code of an offer.`));
  const sourceId =
    code('source') === ''
      ? (preset.sourceId ?? channel?.sourceId ?? null)
      : (context.sources.find(({ preset: { name } }) => name.toLowerCase() === code('source').toLowerCase())?.id ??
        missing('source', `"${code('source')}" is not a source that is set up here.`));
  const odd = unknownKind(record);
  if (odd !== undefined) missing('kind', `"${odd}" is not a kind of link: ${LINK_KINDS.join(', ')}.`);
  if (!partner || !channel || !offer || problems.length > 0) return problems;
  const source = context.sources.find(({ id: each }) => each === sourceId);
  const line = lineFields(record, source?.preset, preset.kind);
  const result = check(linkSchema, {
    ...line,
    labels: { ...(preset.campaign && { campaign: preset.campaign }), ...line.labels },
    partnerId: partner.id,
    channelId: channel.id,
    offerId: offer.id,
    sourceId: source?.id ?? null,
  });
  if (!result.ok) return result.problems;
  const target = { partner, channel, offer };
  const unfit = issueProblems(context, target, result.value);
  return unfit.length > 0 ? unfit : { target, fields: result.value };
}

function channelOf(
  lookup: Lookup,
  partner: PartnerRow,
  code: string,
  preset: Defaults,
  missing: (field: string, reason: string) => undefined,
): ChannelRow | undefined {
  if (code !== '')
    return (
      lookup.channel(partner.id, code.toUpperCase()) ?? missing('channel', `${partner.name} has no channel "${code}".`)
    );
  if (preset.channelId === undefined)
    return missing('channel', 'No channel: name the code in the line, or choose one for all.');
  const channel = lookup.channelById(preset.channelId);
  return channel?.partnerId === partner.id
    ? channel
    : missing('channel', `The channel chosen for all lines is not one of ${partner.name}.`);
}

/** The matrix as lines: every page for every fitting channel of every chosen partner. */
function matrixLines(
  stores: Stores,
  actor: Actor,
  lookup: Lookup,
  input: Extract<LinksInput, { form: 'matrix' }>,
): TableLine<(typeof LINK_COLUMNS)[number]>[] {
  const { partners } = stores.books;
  const chosen =
    input.partnerIds.length > 0
      ? input.partnerIds.flatMap((partnerId) => lookup.partnerById(partnerId) ?? [])
      : partners.list(
          {
            programId: actor.programId,
            partnerId: actor.partnerId,
            state: 'active',
            groupId: input.groupId ?? null,
            text: '',
          },
          { limit: 10_000, offset: 0 },
        ).rows;
  const pages = input.pages
    .split(/\r?\n/)
    .map((page) => page.trim())
    .filter((page) => page !== '');
  const lines: TableLine<(typeof LINK_COLUMNS)[number]>[] = [];
  for (const partner of chosen)
    for (const channel of partners.channels(partner.id))
      if (input.channelKinds.length === 0 || input.channelKinds.includes(channel.kind))
        for (const destination of pages.length === 0 ? [''] : pages) {
          lines.push({ line: lines.length + 1, record: { partner: partner.code, channel: channel.code, destination } });
          if (lines.length > MOST_LINES)
            throw invalidField(
              'pages',
              `This makes more than ${MOST_LINES} links. Choose fewer partners, channels or pages.`,
            );
        }
  if (lines.length === 0)
    throw invalidField('channelKinds', 'No channel fits: choose other partners or kinds of channel.');
  return lines;
}

/** Issues the good lines in one transaction. A line whose link stands already issues nothing, so a file can be read again. */
export const linksJob: JobWork = (stores, actor, raw, write, tick) => {
  requireRight(stores, actor, 'issue_links', 'links');
  const input = checked(check(linksInputSchema, raw));
  const lookup = new Lookup(stores, actor, issueContext(stores, actor));
  const lines =
    input.form === 'lines'
      ? readTable(input.text, LINK_COLUMNS, { plain: 'destination', ignored: EXPORT_ONLY })
      : matrixLines(stores, actor, lookup, input);
  const work = (): JobLine[] => planLines(stores, actor, lookup, lines, input.defaults, write, tick);
  return write ? stores.books.inTransaction(work) : work();
};

function planLines(
  stores: Stores,
  actor: Actor,
  lookup: Lookup,
  lines: readonly TableLine<(typeof LINK_COLUMNS)[number]>[],
  preset: Defaults,
  write: boolean,
  tick: Tick,
): JobLine[] {
  const seen = new Map<string, { line: number; code: string | undefined }>();
  const aliases = new Map<string, number>();
  let written = 0;
  const done = lines.map(({ line, record }, i): JobLine => {
    tick(i, lines.length);
    const what = record.destination || record.landing || 'landing page';
    const planned = plan(lookup, record, preset);
    if (Array.isArray(planned)) return { line, outcome: 'refused', what, problems: planned.map(byColumn) };
    const { target, fields } = planned;
    const about = `${target.partner.name}, ${target.channel.name} → ${fields.to || target.offer.name}`;
    const identity = identityOf(lookup.context, target, fields);
    const earlier = seen.get(identity);
    if (earlier)
      return {
        line,
        outcome: 'same',
        what: about,
        problems: [{ field: 'line', reason: `The same as line ${earlier.line}.` }],
        code: earlier.code,
      };
    const standing = stores.books.links.standing(actor.programId, identity);
    seen.set(identity, { line, code: standing?.code });
    if (standing) return { line, outcome: 'same', what: about, problems: [], ...addressOf(stores, standing.id) };
    const alias = aliasProblems(stores, fields.alias, aliases, line);
    if (alias.length > 0) return { line, outcome: 'refused', what: about, problems: alias };
    if (!write) return { line, outcome: 'new', what: about, problems: [] };
    const link = storeLink(stores, actor, lookup.context, target, fields);
    seen.set(identity, { line, code: link.code });
    written += 1;
    return { line, outcome: 'new', what: about, problems: [], code: link.code, address: link.address };
  });
  tick(lines.length, lines.length);
  if (written > 0) audit(stores, actor, 'issued', 'links', `${written} at once`);
  return done;
}

function aliasProblems(stores: Stores, alias: string, aliases: Map<string, number>, line: number): Problem[] {
  if (alias === '') return [];
  const earlier = aliases.get(alias);
  aliases.set(alias, line);
  if (earlier !== undefined) return [{ field: 'alias', reason: `Line ${earlier} gives the alias "${alias}" already.` }];
  return stores.books.links.byAlias(alias)
    ? [{ field: 'alias', reason: `"${alias}" is the alias of another link.` }]
    : [];
}

function addressOf(stores: Stores, id: number): { code?: string; address?: string } {
  const link = stores.books.links.byId(id);
  return link ? { code: link.code, address: composeLink({ ...link.parts, code: link.alias ?? link.code }) } : {};
}
