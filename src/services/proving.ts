import Joi from 'joi';
import { payableOn } from '@/core/commissions/hold';
import { type Rating, rateConversion } from '@/core/commissions/rate';
import type { Finding } from '@/core/links/findings';
import { composeParts, utmAtRedirect, utmTemplate } from '@/core/links/compose';
import { lintLink } from '@/core/links/lint';
import { CODE_LENGTH } from '@/core/links/code';
import { composeLink, readNames, readQuery, redirects } from '@/core/links/parts';
import { type Examples, type Proof, proveLink } from '@/core/links/proof';
import { type LinkFields, linkSchema } from '@/core/links/schema';
import { splitComposite } from '@/core/links/values';
import { parseAmount } from '@/core/money/text';
import { CARRIED } from '@/core/placeholders/names';
import { compileRoute, joinAppended } from '@/core/routing/route';
import { check } from '@/core/schema/problems';
import type { Day } from '@/core/time/days';
import { examplesOf } from '@/core/sources/schema';
import { type Actor, requireRight } from './actor';
import { readChannel } from './channels';
import { newestClick } from './clicks';
import { type LinkTarget, composeContext, issueContext } from './links';
import { readOffer } from './offers';
import { readPartner } from './partners';
import { checked } from './programs';
import { invalidField } from './refusal';
import { offerTimes } from './routes';
import { type Stores, programOf, todayIn, trackingOrigins } from './stores';
import { sheetInForce } from './terms';

interface ProofRequest {
  link: LinkFields;
  /** By placeholder, or by slot for what is left to the partner. */
  examples: Record<string, string>;
  /** What a conversion would be, to say what it earns. */
  event?: string;
  amount?: string;
}
export const proofSchema = Joi.object<ProofRequest>({
  link: linkSchema.required(),
  examples: Joi.object().pattern(Joi.string().max(120), Joi.string().allow('').max(300)).default({}).label('Examples'),
  event: Joi.string().max(30).label('Event'),
  amount: Joi.string().max(30).label('Amount'),
});

export interface FullProof {
  address: string;
  proof: Proof;
  findings: Finding[];
  rating?: Rating;
  payable?: Day;
}

/** Proves a link that is not issued, as the workbench does in the browser, with the same functions. */
export function prove(stores: Stores, actor: Actor, input: unknown): FullProof {
  requireRight(stores, actor, 'look', 'proof');
  const { link, examples, event, amount } = checked(check(proofSchema, input));
  const target: LinkTarget = {
    partner: readPartner(stores, actor, link.partnerId),
    channel: readChannel(stores, actor, link.channelId),
    offer: readOffer(stores, actor, link.offerId),
  };
  const context = issueContext(stores, actor);
  const { offer } = target;
  const source = context.sources.find(({ id }) => id === link.sourceId);
  const composing = composeContext(context, target, link, '·'.repeat(CODE_LENGTH));
  const parts = composeParts(link, composing);
  const address = composeLink(parts);
  const route = compileRoute({
    ...{ linkLive: true, partnerLive: target.partner.state === 'active', offerLive: offer.state === 'live' },
    ...offerTimes(offer, context.program.timeZone),
    landingPage: composing.landingPage,
    landingHosts: offer.landingHosts,
    trackingOrigins: trackingOrigins(context.program),
    appended: joinAppended(offer.appended, utmAtRedirect(link) ? utmTemplate(link.utm) : ''),
    ...((parts.to ?? link.to) !== '' && { destination: parts.to ?? link.to }),
    ...(parts.to && { issuedTo: parts.to }),
    fallback: offer.fallback || context.program.fallback,
  });
  const filled: Examples = { ...(source && examplesOf(source.preset)), ...examples };
  const proof = proveLink(parts, route, composing.codes, filled, stores.now());
  const lintOffer = context.lintOffers.find(({ id }) => id === offer.id);
  const findings = lintLink({
    ...{ kind: link.kind, to: link.to, values: link.values, names: link.names, address, source },
    ...{ sources: context.sources, offers: context.lintOffers, ...(lintOffer && { offer: lintOffer }) },
    origins: trackingOrigins(context.program),
  });
  return { address, proof, findings, ...(event !== undefined && earning(stores, actor, target, event, amount)) };
}

function earning(stores: Stores, actor: Actor, { partner, channel, offer }: LinkTarget, event: string, text = '0') {
  const { currency } = programOf(stores, actor.programId);
  const amount = parseAmount(text, currency);
  if (!amount.ok) throw invalidField('amount', amount.reason);
  if (!offer.events.some((each) => each.event === event))
    throw invalidField('event', `${offer.name} has no event "${event}".`);
  const rating = rateConversion(
    { version: 0, rows: sheetInForce(stores, actor)?.sheet.rows ?? [] },
    {
      ...{ offerId: offer.id, event, partnerId: partner.id, channelId: channel.id, program: currency },
      figures: { currency, amount: amount.value.minor, tax: 0, shipping: 0, discount: 0, items: [] },
    },
  );
  const payable = payableOn(offer.hold, todayIn(stores, actor.programId), undefined);
  return { rating, ...(payable && { payable }) };
}

/**
 * What the last real click of a channel carried, as examples for the proof: by the placeholder that was filled.
 * @returns undefined when nobody clicked there yet
 */
export function lastClickExamples(
  stores: Stores,
  actor: Actor,
  channelId: number,
  offerId: number,
): { examples: Record<string, string>; time: number } | undefined {
  readChannel(stores, actor, channelId);
  const click = newestClick(stores, actor.programId, channelId, offerId);
  const link = click && stores.books.links.byId(click.linkId);
  if (!click || !link || !redirects(link.kind)) return undefined;
  const arrival = readQuery(click.query, readNames(link.parts.names));
  const carried: Record<string, string | undefined> = { ...arrival.slots, cost: arrival.cost };
  const examples: Record<string, string> = {};
  for (const slot of CARRIED) {
    const value = link.parts.values[slot];
    const text = carried[slot];
    if (!value || text === undefined) continue;
    if (value.kind === 'partner') examples[slot] = text;
    if (value.kind === 'source') examples[value.text] = text;
    if (value.kind === 'composite') {
      const pieces = splitComposite(text, { separator: value.separator, names: value.parts.map(({ name }) => name) });
      for (const [i, part] of value.parts.entries())
        if (part.kind === 'source' && pieces[i]) examples[part.text] = pieces[i];
    }
  }
  return { examples, time: click.time };
}
