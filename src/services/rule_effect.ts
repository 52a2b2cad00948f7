import Joi from 'joi';
import { AddressSet } from '@/core/clicks/addresses';
import { check } from '@/core/schema/problems';
import { addDays, startOfDay } from '@/core/time/days';
import type { AddressedClick } from '@/store/traffic';
import { type Actor, requireRight } from './actor';
import { rangesOf, readAddressList } from './address_lists';
import { checked } from './programs';
import { invalidField } from './refusal';
import { type Stores, programOf, todayIn } from './stores';

export const EFFECT_DAYS = 30;

/** A rule that is not in force yet: a limit of clicks a minute, a list that stands, or addresses that were pasted. */
export interface RuleTry {
  floodMost?: number;
  listId?: number;
  text?: string;
}
const trySchema = Joi.object<RuleTry>({
  floodMost: Joi.number().integer().min(1).max(100_000).label('Clicks a minute'),
  listId: Joi.number().integer().min(1).label('List'),
  text: Joi.string().max(20_000_000).label('Addresses'),
}).xor('floodMost', 'listId', 'text');

/** What a rule would have set aside of the counted clicks of the last days. */
export interface RuleEffect {
  readonly days: number;
  /** Addresses were kept cut: the true figure may be lower. Kept as hashes: lists cannot be tried at all. */
  readonly certainty: 'exact' | 'at_most';
  readonly clicks: number;
  readonly of: number;
  /** What hangs on those clicks. Commission in minor units. */
  readonly conversions: number;
  readonly commission: number;
  readonly partners: readonly { readonly partner: string; readonly clicks: number }[];
}

type Takes = (click: AddressedClick) => boolean;

/** More than so many clicks of an address on a link within a minute; the clicks come in order. */
function floodBeyond(most: number): Takes {
  let minute = -1;
  const counts = new Map<string, number>();
  return ({ time, linkId, client }) => {
    const now = Math.floor(time / 60_000);
    if (now !== minute) counts.clear();
    minute = now;
    const key = `${linkId} ${client}`;
    counts.set(key, (counts.get(key) ?? 0) + 1);
    return (counts.get(key) ?? 0) > most;
  };
}

/** Tries a rule on the last 30 days before it is switched on. Reads every click of them: for a thread of its own. */
export function ruleEffect(stores: Stores, actor: Actor, input: unknown): RuleEffect {
  requireRight(stores, actor, 'manage_setup', 'rule');
  const asked = checked(check(trySchema, input));
  if (asked.listId !== undefined) readAddressList(stores, actor, asked.listId);
  const { privacy, timeZone } = programOf(stores, actor.programId);
  if (privacy === 'hash' && asked.floodMost === undefined)
    throw invalidField(
      'text',
      'Addresses are kept as hashes only, so a list cannot be tried on the past. It works on what comes.',
    );
  const takes =
    asked.floodMost === undefined ? listTakes(stores, asked, privacy === 'cut') : floodBeyond(asked.floodMost);
  const from = addDays(todayIn(stores, actor.programId), 1 - EFFECT_DAYS);
  const since = startOfDay(from, timeZone);
  const partners = new Map<number, number>();
  let [clicks, of, conversions, commission] = [0, 0, 0, 0];
  for (const click of stores.traffic.addressesFrom(stores.rollups.clicks.seqFrom(from) ?? 1, actor.programId)) {
    if (click.time < since) continue;
    of += 1;
    if (!takes(click)) continue;
    clicks += 1;
    partners.set(click.partnerId, (partners.get(click.partnerId) ?? 0) + 1);
    const earned = stores.books.conversions.earnedByClick(click.clickId);
    if (earned === undefined) continue;
    conversions += 1;
    commission += earned;
  }
  return {
    days: EFFECT_DAYS,
    certainty: privacy === 'cut' ? 'at_most' : 'exact',
    ...{ clicks, of, conversions, commission },
    partners: [...partners]
      .sort((a, b) => b[1] - a[1])
      .slice(0, 10)
      .map(([id, count]) => ({ partner: stores.books.partners.byId(id)?.name ?? `${id}`, clicks: count })),
  };
}

function listTakes({ books }: Stores, { listId, text }: RuleTry, cut: boolean): Takes {
  const kept = listId === undefined ? undefined : books.routing.rangesOf(listId);
  const set = kept ? AddressSet.read(kept) : rangesOf(text ?? '').set;
  // One answer an address: there are far fewer of them than clicks.
  const known = new Map<string, boolean>();
  return ({ client }) => {
    if (client === null) return false;
    let listed = known.get(client);
    if (listed === undefined) known.set(client, (listed = cut ? set.touches(client) : set.has(client)));
    return listed;
  };
}
