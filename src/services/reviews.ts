import Joi from 'joi';
import { type SuspicionFacts, lookAt, scoreOf, suspicionSchema } from '@/core/conversions/suspicion';
import type { SuspicionSettings } from '@/core/conversions/suspicion';
import { reasonWhere } from '@/core/schema/fields';
import { check } from '@/core/schema/problems';
import { addDays, day } from '@/core/time/days';
import type { ConversionRow } from '@/store/books/conversions';
import type { ReviewListRow, ReviewRow } from '@/store/books/reviews';
import type { Page, Paging } from '@/store/database';
import type { RollupReader } from '@/store/rollups';
import { type Actor, audit, requireRight } from './actor';
import { readConversion } from './conversions';
import { type MatchedConversion, decide, isMatched, takeBack } from './earning';
import { checked } from './programs';
import { conflict } from './refusal';
import { type Scope, filterFor } from './scope';
import { customerHasher, deriveKey, sha256 } from './secrets';
import { type Stores, programOf, todayIn } from './stores';

/** Older ones are not looked at any more: what they earned was decided on long ago. */
const DAYS_LOOKED_AT = 90;
const POSITION = 'reviews';

/** What the customer's ID would be, were the partner or one of its people the customer. */
function partnerAs({ books, secret }: Stores, conversion: MatchedConversion): string | undefined {
  if (conversion.customerHash === null) return undefined;
  const hash = customerHasher(deriveKey(secret, 'customers'), conversion.programId);
  const partner = books.partners.byId(conversion.partnerId);
  const users = books.users
    .ofProgram(conversion.programId)
    .filter(({ partnerId }) => partnerId === conversion.partnerId);
  const ids = [...(partner ? [partner.email, partner.code] : []), ...users.map(({ email }) => email)];
  const forms = ids.flatMap((id) => [id, id.toLowerCase()]);
  return forms.find((id) => `~${hash(id)}` === conversion.customerHash);
}

function factsOf(stores: Stores, rollups: RollupReader, conversion: MatchedConversion): SuspicionFacts {
  const { books, traffic } = stores;
  const { programId, partnerId, channelId, offerId, time, id, facts } = conversion;
  const click = conversion.clickId === null ? undefined : traffic.click(conversion.clickId);
  // A cut address is shared by hundreds; the browser, known by its cookie or its day, is not.
  const known = programOf(stores, programId).privacy === 'cut' ? click?.visitor : click?.client;
  const origin = known ? sha256(known).slice(0, 32) : undefined;
  if (origin) books.reviews.putOrigin(id, programId, origin, time);
  const of = day(conversion.day);
  const counts = (from: string, to: string): SuspicionFacts['today'] => ({
    conversions: books.reviews.ofDays(channelId, offerId, from, to),
    uniques: rollups.figures({ programId, partnerId, channelId, offerId, from, to }).uniques,
  });
  const as = partnerAs(stores, conversion);
  return {
    time,
    // A renewal comes when its month is over, whatever its click.
    ...(click && facts.renewal === undefined && { clickTime: click.time }),
    fromAddress: origin ? books.reviews.fromOrigin(programId, origin, time) : 0,
    ...(as !== undefined && { partnerAs: as }),
    customersOfCard:
      conversion.cardHash === null ? 0 : books.reviews.customersOfCard(programId, conversion.cardHash, time),
    today: counts(of, of),
    usual: counts(addDays(of, -28), addDays(of, -1)),
  };
}

function lookAtOne(stores: Stores, rollups: RollupReader, conversion: ConversionRow): void {
  const { reviews } = stores.books;
  if (!isMatched(conversion) || conversion.state !== 'pending') return reviews.drop(conversion.id);
  const settings = reviews.settings(conversion.programId);
  const signals = lookAt(factsOf(stores, rollups, conversion), settings);
  const score = scoreOf(signals);
  if (score < settings.reviewFrom) return reviews.drop(conversion.id);
  const { id: conversionId, programId } = conversion;
  reviews.open({ conversionId, programId, score, signals, time: stores.now() });
}

/**
 * Looks at the next conversions that are new or changed, in one transaction with the position.
 * @returns how many changes were read
 */
export function reviewConversions(stores: Stores, rollups: RollupReader = stores.rollups, limit = 500): number {
  const { books } = stores;
  return books.inTransaction(() => {
    const changes = books.conversions.changesAfter(books.positions.get(POSITION), limit);
    for (const id of new Set(changes.map(({ conversionId }) => conversionId))) {
      const conversion = books.conversions.plain(id);
      if (conversion && conversion.day >= addDays(todayIn(stores, conversion.programId), -DAYS_LOOKED_AT))
        lookAtOne(stores, rollups, conversion);
    }
    const last = changes.at(-1);
    if (last) books.positions.set(POSITION, last.seq);
    return changes.length;
  });
}

export const readSuspicion = (stores: Stores, actor: Actor): SuspicionSettings => {
  requireRight(stores, actor, 'manage_setup', 'suspicion');
  return stores.books.reviews.settings(actor.programId);
};

/** Changes what leads to a review; what is undecided of the last months is looked at again. */
export function saveSuspicion(stores: Stores, actor: Actor, input: unknown): SuspicionSettings {
  requireRight(stores, actor, 'manage_setup', 'suspicion');
  const settings = checked(check(suspicionSchema, input));
  const { books } = stores;
  books.inTransaction(() => {
    books.reviews.setSettings(actor.programId, settings);
    books.positions.set(POSITION, 0);
    audit(stores, actor, 'changed', 'suspicion', JSON.stringify(settings));
  });
  return settings;
}

export const listReviews = (
  stores: Stores,
  actor: Actor,
  scope: Scope,
  state: ReviewRow['state'],
  paging: Paging,
): Page<ReviewListRow> => {
  requireRight(stores, actor, 'decide_commissions', 'reviews');
  return stores.books.reviews.list(filterFor(actor, scope), state, paging);
};

export const openReviews = (stores: Stores, actor: Actor, scope: Scope): number =>
  stores.books.reviews.count(filterFor(actor, scope));

/** What was seen of a conversion; partners do not learn what is looked for. */
export const reviewOf = (stores: Stores, actor: Actor, conversionId: number): ReviewRow | undefined =>
  actor.partnerId === null ? stores.books.reviews.byId(readConversion(stores, actor, conversionId).id) : undefined;

interface Decision {
  ids: number[];
  way: 'clear' | 'reject';
  reason: string;
}
export const reviewSchema: Joi.ObjectSchema<Decision> = Joi.object<Decision>({
  ids: Joi.array().items(Joi.number().integer().min(1)).min(1).max(10_000).required().label('Conversions').messages({
    'array.min': 'Choose at least one conversion.',
  }),
  way: Joi.string().valid('clear', 'reject').required().label('Decision'),
  reason: reasonWhere('way', ['reject']),
});

/** Says that nothing is wrong with conversions in review, or that they are not to be paid; all or none. @returns how many */
export function decideReviews(stores: Stores, actor: Actor, input: unknown): number {
  requireRight(stores, actor, 'decide_commissions', 'reviews');
  const { ids, way, reason } = checked(check(reviewSchema, input));
  const { books } = stores;
  const chosen = [...new Set(ids)];
  for (const id of chosen) readConversion(stores, actor, id);
  books.inTransaction(() => {
    for (const id of chosen) {
      if (books.reviews.byId(id)?.state !== 'open')
        throw conflict(`Conversion ${id} is not in review any more: somebody was quicker. Look again.`);
      const state = way === 'clear' ? 'cleared' : 'rejected';
      books.reviews.decide(id, state, actor.name, stores.now(), reason);
      // Partners read this history: what was seen is kept with the review alone.
      books.conversions.addHistory(id, {
        ...{
          time: stores.now(),
          actor: actor.name,
          what: way === 'clear' ? 'review: nothing wrong' : 'review: rejected',
        },
        detail: reason,
      });
      const commission = books.commissions.byConversion(id);
      if (way === 'clear' || !commission) continue;
      if (commission.state === 'pending' || commission.state === 'needs_rate')
        decide(stores, commission, 'rejected', actor.name, reason);
      else if (commission.state !== 'rejected' && commission.state !== 'reversed')
        takeBack(stores, commission, undefined, actor.name, reason);
    }
    audit(stores, actor, way === 'clear' ? 'cleared' : 'rejected', `${chosen.length} conversions in review`, reason);
  });
  return chosen.length;
}

/** Puts what was cleared back into review. @returns how many */
export function reopenReviews(stores: Stores, actor: Actor, ids: readonly number[]): number {
  requireRight(stores, actor, 'decide_commissions', 'reviews');
  for (const id of ids) readConversion(stores, actor, id);
  stores.books.inTransaction(() => {
    for (const id of ids) {
      if (stores.books.reviews.byId(id)?.state !== 'cleared') throw conflict(`Conversion ${id} was not cleared.`);
      stores.books.reviews.decide(id, 'open', '', stores.now(), '');
    }
    audit(stores, actor, 'put back', `${ids.length} conversions into review`, '');
  });
  return ids.length;
}
