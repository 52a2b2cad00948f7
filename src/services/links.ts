import Joi from 'joi';
import { CODE_LENGTH, drawLinkCode } from '@/core/links/code';
import { type ComposeContext, composeParts, linkIdentity, ownDestination } from '@/core/links/compose';
import { checkDeepLink } from '@/core/links/destination';
import type { KnownSource, LintOffer } from '@/core/links/findings';
import { lintLink } from '@/core/links/lint';
import { composeLink, redirects } from '@/core/links/parts';
import { type Labels, type LinkFields, aliasField, labelsSchema, linkSchema } from '@/core/links/schema';
import { landingPageOf } from '@/core/offers/schema';
import { type Problem, check } from '@/core/schema/problems';
import { line, longText } from '@/core/schema/fields';
import type { DestinationChange, LinkRow } from '@/store/books/links';
import type { OfferRow } from '@/store/books/offers';
import type { ChannelRow, PartnerRow } from '@/store/books/partners';
import type { ProgramRow } from '@/store/books/programs';
import type { Page, Paging } from '@/store/database';
import { type Actor, audit, requireOwn, requireRight } from './actor';
import { readChannel } from './channels';
import { readOffer } from './offers';
import { readPartner } from './partners';
import { checked } from './programs';
import { Refusal, conflict, invalid, invalidField } from './refusal';
import { type Scope, filterFor } from './scope';
import { sha256 } from './secrets';
import { type Stores, programOf, trackingOrigins } from './stores';

export interface IssuedLink extends LinkRow {
  address: string;
}
export interface LinkListRow extends IssuedLink {
  clicks: number;
  uniques: number;
  conversions: number;
  /** Minor units of the program's currency. */
  commission: number;
}

/** The address to hand out: by its alias where it has one. */
const issued = (link: LinkRow): IssuedLink => ({
  ...link,
  address: composeLink({ ...link.parts, code: link.alias ?? link.code }),
});

export const readLink = (stores: Stores, actor: Actor, id: number): IssuedLink =>
  issued(requireOwn(stores, actor, stores.books.links.byId(id), `link ${id}`));

/** What issuing looks at for every link alike: read once, however many are issued. */
export interface IssueContext {
  readonly program: ProgramRow;
  readonly offers: readonly OfferRow[];
  readonly lintOffers: readonly LintOffer[];
  readonly sources: readonly KnownSource[];
}

export function issueContext(stores: Stores, actor: Actor): IssueContext {
  const offers = stores.books.offers.ofProgram(actor.programId);
  return {
    program: programOf(stores, actor.programId),
    offers,
    lintOffers: offers.map(({ id, name, landingHosts, appended }) => ({ id, label: name, landingHosts, appended })),
    sources: stores.books.sources.ofProgram(actor.programId).map(({ id, preset }) => ({ id, preset })),
  };
}

/** Whom and what a link stands for. */
export interface LinkTarget {
  readonly partner: Pick<PartnerRow, 'id' | 'name' | 'code' | 'state'>;
  readonly channel: Pick<ChannelRow, 'id' | 'name' | 'code' | 'partnerId'>;
  readonly offer: OfferRow;
}

export const composeContext = (
  context: IssueContext,
  { partner, channel, offer }: LinkTarget,
  { landing, host }: Pick<LinkFields, 'landing' | 'host'>,
  code: string,
): ComposeContext => ({
  origin: host || context.program.trackingOrigin,
  code,
  codes: { partner_code: partner.code, channel_code: channel.code, offer_code: offer.code },
  landingPage: landingPageOf(offer, landing),
});

/** Why a link cannot be issued, each with its field; empty when it can. The same for one and for ten thousand. */
export function issueProblems(context: IssueContext, target: LinkTarget, fields: LinkFields): Problem[] {
  const { partner, channel, offer } = target;
  const problems: Problem[] = [];
  const say = (field: string, reason: string): void => void problems.push({ field, reason });
  if (channel.partnerId !== partner.id) say('channelId', `${channel.name} is not a channel of ${partner.name}.`);
  if (partner.state !== 'active')
    say('partnerId', `${partner.name} is ${partner.state}; links are issued to active partners only.`);
  if (fields.landing !== '' && !offer.landingPages.some(({ name }) => name === fields.landing))
    say('landing', `${offer.name} has no landing page named ${fields.landing}.`);
  if (fields.kind === 'deep' && fields.to === '') say('to', 'A deep link needs the page it leads to.');
  if (fields.host !== undefined && fields.host !== '' && !trackingOrigins(context.program).includes(fields.host))
    say(
      'host',
      `${fields.host} is not one of the program’s tracking hosts: ${trackingOrigins(context.program).join(', ')}.`,
    );
  const { sourceId, to, kind, values, names } = fields;
  const source = context.sources.find(({ id }) => id === sourceId);
  if (sourceId != null && !source) say('sourceId', 'This source is not set up here.');
  const page = landingPageOf(offer, fields.landing);
  if (kind === 'direct' && to === '' && /\{(?!partner_code|channel_code|offer_code)/.test(page))
    say('kind', `${page} needs values of a click, which a link without a redirect does not have.`);
  const address = composeLink(composeParts(fields, composeContext(context, target, fields, '·'.repeat(CODE_LENGTH))));
  const lintOffer = context.lintOffers.find(({ id }) => id === offer.id);
  for (const { severity, field, reason } of lintLink({
    ...{ kind, to, values, names, address, source, sources: context.sources, offers: context.lintOffers },
    origins: trackingOrigins(context.program),
    ...(lintOffer && { offer: lintOffer }),
  }))
    if (severity === 'error') say(field === 'to' ? 'to' : `values.${field}`, reason);
  return problems;
}

/** Writes a link that was checked. Called within a transaction. */
export function storeLink(
  stores: Stores,
  actor: Actor,
  context: IssueContext,
  target: LinkTarget,
  fields: LinkFields,
): { id: number; code: string; address: string } {
  const { links } = stores.books;
  let code = drawLinkCode(stores.randomBytes);
  while (links.byCode(code)) code = drawLinkCode(stores.randomBytes);
  const parts = composeParts(fields, composeContext(context, target, fields, code));
  const now = stores.now();
  const destination = ownDestination(fields, parts);
  const id = links.insert({
    programId: actor.programId,
    code,
    alias: fields.alias || null,
    kind: fields.kind,
    partnerId: target.partner.id,
    channelId: target.channel.id,
    offerId: target.offer.id,
    sourceId: fields.sourceId ?? null,
    parts,
    landing: fields.landing,
    destination,
    labels: fields.labels,
    utm: fields.utm,
    utmForm: fields.utmForm,
    identity: identityOf(context, target, fields),
    createdBy: actor.userId,
    now,
  });
  links.setDestination(id, { time: now, actor: actor.name, destination, landing: fields.landing, reason: 'issued' });
  return { id, code, address: composeLink({ ...parts, code: fields.alias || code }) };
}

/** The same for links that are the same, whatever code is drawn for them. */
export function identityOf(context: IssueContext, target: LinkTarget, fields: LinkFields): string {
  const parts = composeParts(fields, composeContext(context, target, fields, ''));
  return sha256(linkIdentity(fields, parts)).slice(0, 32);
}

/** Issues a link: a permanent code for this partner, channel and offer, and the address to hand out. */
export function issueLink(stores: Stores, actor: Actor, input: unknown): IssuedLink {
  requireRight(stores, actor, 'issue_links', 'link');
  const fields = checked(check(linkSchema, input));
  const target: LinkTarget = {
    partner: readPartner(stores, actor, fields.partnerId),
    channel: readChannel(stores, actor, fields.channelId),
    offer: readOffer(stores, actor, fields.offerId),
  };
  const context = issueContext(stores, actor);
  const problems = issueProblems(context, target, fields);
  if (problems.length > 0) throw invalid(problems);
  const id = stores.books.inTransaction(() => {
    refuseTakenAlias(stores, fields.alias);
    const link = storeLink(stores, actor, context, target, fields);
    audit(stores, actor, 'issued', `link ${link.id}`, link.code);
    return link.id;
  });
  return readLink(stores, actor, id);
}

function refuseTakenAlias(stores: Stores, alias: string): void {
  if (alias !== '' && stores.books.links.byAlias(alias))
    throw invalidField('alias', `"${alias}" is the alias of another link. Aliases are permanent: choose another.`);
}

/** A partner may pause its own link; it goes on when a manager says so, who may have paused it. */
export function setLinkState(stores: Stores, actor: Actor, id: number, state: 'live' | 'paused'): IssuedLink {
  requireRight(stores, actor, state === 'live' ? 'manage_partners' : 'issue_links', `link ${id}`);
  readLink(stores, actor, id);
  stores.books.inTransaction(() => {
    stores.books.links.setState(id, state);
    audit(stores, actor, state === 'live' ? 'resumed' : 'paused', `link ${id}`);
  });
  return readLink(stores, actor, id);
}

/** Gives a link a readable alias. It stands for good: it may be printed somewhere the next minute. */
export function giveAlias(stores: Stores, actor: Actor, id: number, input: unknown): IssuedLink {
  requireRight(stores, actor, 'issue_links', `link ${id}`);
  const link = readLink(stores, actor, id);
  const { alias } = checked(check(Joi.object<{ alias: string }>({ alias: aliasField.disallow('').required() }), input));
  if (link.alias !== null) throw conflict(`This link has the alias ${link.alias}, which stands for good.`);
  refuseTakenAlias(stores, alias);
  stores.books.inTransaction(() => {
    stores.books.links.setAlias(id, alias);
    audit(stores, actor, 'gave alias', `link ${id}`, alias);
  });
  return readLink(stores, actor, id);
}

export function labelLink(stores: Stores, actor: Actor, id: number, input: unknown): IssuedLink {
  requireRight(stores, actor, 'issue_links', `link ${id}`);
  readLink(stores, actor, id);
  const labels: Labels = checked(check(labelsSchema, input));
  stores.books.inTransaction(() => {
    stores.books.links.setLabels(id, labels);
    audit(stores, actor, 'labelled', `link ${id}`, JSON.stringify(labels));
  });
  return readLink(stores, actor, id);
}

export interface NewDestination {
  /** The page; empty for the landing page. */
  to: string;
  landing: string;
  reason: string;
}
export const newDestinationSchema = Joi.object<NewDestination>({
  to: Joi.string().trim().max(2000).allow('').default('').label('Page'),
  landing: line('Landing page', 80).allow('').default(''),
  reason: longText('Reason').max(300).default(''),
});

/** Checks where links of an offer are to lead. */
export function checkedDestination(stores: Stores, actor: Actor, offerId: number, input: unknown): NewDestination {
  const offer = readOffer(stores, actor, offerId);
  const change = checked(check(newDestinationSchema, input));
  if (change.to !== '') {
    const page = checkDeepLink(change.to, offer.landingHosts);
    if (!page.ok) throw invalidField('to', page.reason);
    if (trackingOrigins(programOf(stores, actor.programId)).includes(page.url.origin))
      throw invalidField('to', 'This is the tracking host itself: a link that led to a link would count twice.');
    return { ...change, landing: '' };
  }
  if (change.landing !== '' && !offer.landingPages.some(({ name }) => name === change.landing))
    throw invalidField('landing', `${offer.name} has no landing page named ${change.landing}.`);
  return change;
}

/** Leads a link elsewhere; links already out follow. @throws Refusal 'conflict' for a link without a redirect */
export function changeDestination(stores: Stores, actor: Actor, id: number, input: unknown): IssuedLink {
  requireRight(stores, actor, 'issue_links', `link ${id}`);
  const link = readLink(stores, actor, id);
  if (!redirects(link.kind))
    throw conflict(`${link.code} has no redirect: the page stands in the link itself. Issue a new one.`);
  const change = checkedDestination(stores, actor, link.offerId, input);
  stores.books.inTransaction(() => leadElsewhere(stores, actor, id, change));
  return readLink(stores, actor, id);
}

export function leadElsewhere(stores: Stores, actor: Actor, id: number, { to, landing, reason }: NewDestination): void {
  const time = stores.now();
  stores.books.links.setDestination(id, { time, actor: actor.name, destination: to, landing, reason });
  audit(stores, actor, 'led elsewhere', `link ${id}`, to || landing || 'landing page');
}

export function destinationHistory(stores: Stores, actor: Actor, id: number): DestinationChange[] {
  readLink(stores, actor, id);
  return stores.books.links.destinationHistory(id);
}

/** The link of an address, code or alias, or undefined. */
export function findLink(stores: Stores, actor: Actor, codeOrAlias: string): IssuedLink | undefined {
  const { links } = stores.books;
  const row = links.byCode(codeOrAlias) ?? links.byAlias(codeOrAlias.toLowerCase());
  try {
    return row && readLink(stores, actor, row.id);
  } catch (error) {
    if (error instanceof Refusal) return undefined;
    throw error;
  }
}

/** What one link brought in the period of a scope. */
export function linkFigures(stores: Stores, actor: Actor, scope: Scope, id: number) {
  const { programId } = readLink(stores, actor, id);
  const filter = { ...filterFor(actor, scope), programId, partnerId: null, channelId: null, offerId: null };
  const clicks = stores.rollups.byLink(filter, [id])[0];
  const earned = stores.books.figures.byLink(filter, [id])[0];
  return {
    clicks: clicks?.counted ?? 0,
    uniques: clicks?.uniques ?? 0,
    conversions: earned?.conversions ?? 0,
    commission: earned?.commission ?? 0,
  };
}

/** The links of a scope with what they brought in its period. */
export function listLinks(stores: Stores, actor: Actor, scope: Scope, paging: Paging, text = ''): Page<LinkListRow> {
  const filter = filterFor(actor, scope);
  const { programId, partnerId, channelId, offerId } = filter;
  const { rows, total } = stores.books.links.list({ programId, partnerId, channelId, offerId, text }, paging);
  const ids = rows.map(({ id }) => id);
  const clicks = new Map(stores.rollups.byLink(filter, ids).map((row) => [row.linkId, row]));
  const earnings = new Map(stores.books.figures.byLink(filter, ids).map((row) => [row.linkId, row]));
  return {
    total,
    rows: rows.map((link) => ({
      ...issued(link),
      clicks: clicks.get(link.id)?.counted ?? 0,
      uniques: clicks.get(link.id)?.uniques ?? 0,
      conversions: earnings.get(link.id)?.conversions ?? 0,
      commission: earnings.get(link.id)?.commission ?? 0,
    })),
  };
}
