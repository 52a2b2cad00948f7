import Joi from 'joi';
import { OUTCOME_WORDS, outcomeReason } from '@/core/conversions/outcomes';
import { signedText } from '@/core/conversions/signature';
import { check } from '@/core/schema/problems';
import type { OutcomeRow } from '@/store/books/outcomes';
import type { StoredPostback } from '@/store/traffic';
import { type Actor, requireOwn, requireRight } from './actor';
import { postbackFields } from './postbacks';
import { checked } from './programs';
import { conflict } from './refusal';
import { deriveKey, hmac, signingSecret } from './secrets';
import { type Stores, edgeOrigin, programOf } from './stores';

export interface Receipt {
  postback: StoredPostback;
  /** Undefined while the worker has not come to it. */
  outcome?: OutcomeRow;
}

const hidden = (text: string): string => text.replace(/((?:key|sig)["']?\s*[=:]\s*["']?)[\w-]+/g, '$1…');

export const NEWEST_RECEIPTS = 100;

/** The newest postbacks of the merchant and reports of pages, with what became of each. */
export function newestReceipts(stores: Stores, actor: Actor): Receipt[] {
  requireRight(stores, actor, 'manage_setup', 'postbacks');
  return stores.traffic.newestPostbacks(actor.programId, NEWEST_RECEIPTS).map((postback) => ({
    postback: { ...postback, query: hidden(postback.query), body: hidden(postback.body) },
    outcome: stores.books.conversions.outcome(postback.receiptId),
  }));
}

/** What the tracking host answered to a test. */
export interface TestAnswer {
  readonly status: number;
  readonly answer: string;
  readonly receipt?: string;
}

/**
 * Sends a test to this installation's own tracking host as the merchant's server would, signed. It is taken, matched
 * and explained, and changes nothing. Where no click is named, the offer's newest stands in.
 * @param edge where the tracking host listens
 */
export async function sendTestPostback(
  stores: Stores,
  actor: Actor,
  input: unknown,
  edge = edgeOrigin(),
): Promise<TestAnswer> {
  requireRight(stores, actor, 'manage_setup', 'postbacks');
  const { fields } = checked(check(testSchema, input));
  const { signingVersion } = programOf(stores, actor.programId);
  const secret = signingSecret(deriveKey(stores.secret, 'postback signatures'), actor.programId, signingVersion);
  const sent = Object.entries(fields).filter(([, value]) => value !== '');
  // Its time is that of the machine, as the tracking host's is.
  const ts = String(Math.floor(stores.now() / 1000));
  const query = new URLSearchParams([
    ...sent,
    ['program', String(actor.programId)],
    ['test', '1'],
    ['ts', ts],
  ]).toString();
  const sig = hmac(secret, signedText(query, '', null));
  try {
    const answer = await fetch(`${edge}/postback?${query}&sig=${sig}`, { signal: AbortSignal.timeout(5000) });
    const text = await answer.text();
    return { status: answer.status, answer: text, receipt: /"receipt":"(\w{26})"/.exec(text)?.[1] };
  } catch {
    throw conflict('The tracking host does not answer. Today says why, when it goes on.');
  }
}

const testSchema = Joi.object<{ fields: Record<string, string> }>({
  fields: Joi.object()
    .pattern(/^[a-z0-9_]{1,60}$/, Joi.string().allow('').max(2000))
    .required(),
});

/** What became of a postback, by the receipt ID of its answer. Its key is taken out of what is shown. */
export function readReceipt(stores: Stores, actor: Actor, receiptId: string): Receipt {
  const what = `receipt ${receiptId}`;
  const stored = requireOwn(stores, { ...actor, partnerId: null }, stores.traffic.postback(receiptId), what);
  const outcome = stores.books.conversions.outcome(receiptId);
  // A partner sees what was reported of its own conversions.
  if (actor.partnerId !== null)
    requireOwn(stores, actor, stores.books.conversions.byId(outcome?.conversionId ?? 0), what);
  return { postback: { ...stored, query: hidden(stored.query), body: hidden(stored.body) }, outcome };
}

/** What became of a postback, in words; undefined while the worker has not come to it. */
export function outcomeOf(stores: Stores, actor: Actor, receiptId: string): string | undefined {
  const { outcome } = readReceipt(stores, actor, receiptId);
  const words = outcome ? OUTCOME_WORDS[outcome.outcome] : '';
  return (
    outcome && `${words.charAt(0).toUpperCase()}${words.slice(1)}. ${outcomeReason(outcome.outcome, outcome.detail)}`
  );
}

/** The newest counted click of an offer, to try things with. @throws when there is none */
export function newestClickOf(stores: Stores, actor: Actor, offerId: number | undefined): string {
  requireRight(stores, actor, 'manage_setup', 'postbacks');
  for (const click of stores.traffic.newestOf(actor.programId))
    if (click.setAside === null && (offerId === undefined || click.offerId === offerId)) return click.clickId;
  throw conflict('Nothing was clicked here yet. Follow a link of this offer, then try again.');
}

/** A status that came before its conversion. */
export interface WaitingReport {
  readonly receiptId: string;
  readonly time: number;
  readonly status: string;
  readonly event: string;
  readonly order: string;
  readonly clickId: string;
}
const MOST_WAITING = 500;

export function waitingReports(stores: Stores, actor: Actor): WaitingReport[] {
  if (actor.partnerId !== null) return [];
  return stores.books.conversions.allWaiting(actor.programId, MOST_WAITING).flatMap(({ receiptId, time }) => {
    const stored = stores.traffic.postback(receiptId);
    const fields = stored && postbackFields(stored);
    if (!fields?.ok) return [];
    const said = (name: string): string => String(fields.value[name] ?? '');
    const [status, event, order, clickId] = ['status', 'event', 'order', 'click_id'].map(said);
    return [{ receiptId, time, status: status ?? '', event: event ?? '', order: order ?? '', clickId: clickId ?? '' }];
  });
}
