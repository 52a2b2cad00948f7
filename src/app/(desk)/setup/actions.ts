'use server';
import type { OfferFields } from '@/core/offers/schema';
import type { ProgramFields } from '@/core/programs/schema';
import { redirect } from 'next/navigation';
import { addNumbers, removeNumber } from '@/services/calls';
import { publishTerms } from '@/services/applications';
import { createOffer, duplicateOffer, updateOffer } from '@/services/offers';
import { readSigningSecret, renewPostbackKey, renewSigningSecret, updateProgram } from '@/services/programs';
import { saveSuspicion } from '@/services/reviews';
import { type TestAnswer, newestClickOf, outcomeOf, sendTestPostback } from '@/services/receipts';
import { createToken, revokeToken } from '@/services/sign_in';
import { createSource, duplicateSource, importSource, setSourceRemoved, updateSource } from '@/services/sources';
import { putExchangeRate } from '@/services/terms';
import type { ActionState } from '@/ui/feedback/ConfirmButton';
import { act, ask, numberOf } from '../../action';

export interface SecretState extends ActionState {
  /** Shown once, here and now. */
  secret?: string;
}

export async function saveProgram(fields: ProgramFields): Promise<ActionState> {
  return act((stores, actor) => `Saved ${updateProgram(stores, actor, fields).name}.`);
}
export async function addOffer(fields: OfferFields): Promise<ActionState> {
  return act((stores, actor) => `Added the offer ${createOffer(stores, actor, fields).name}.`);
}
export async function saveOffer(id: number, fields: OfferFields): Promise<ActionState> {
  return act((stores, actor) => `Saved the offer ${updateOffer(stores, actor, id, fields).name}.`);
}
export async function copyOffer(form: FormData): Promise<void> {
  let id = numberOf(form, 'id');
  await act((stores, actor) => {
    const copy = duplicateOffer(stores, actor, id);
    id = copy.id;
    return `${copy.name} is paused until you have changed what differs.`;
  });
  redirect(`/setup/offers/${id}`);
}
export async function saveSource(id: number | undefined, fields: unknown): Promise<ActionState> {
  return act((stores, actor) => {
    const source = id === undefined ? createSource(stores, actor, fields) : updateSource(stores, actor, id, fields);
    return `Saved the source ${source.preset.name}. Links already out keep what they were issued with.`;
  });
}
export async function copySource(form: FormData): Promise<void> {
  await act((stores, actor) => `Added ${duplicateSource(stores, actor, numberOf(form, 'id')).preset.name}.`);
}
export async function dropSource(form: FormData): Promise<void> {
  const removed = form.get('restore') === null;
  await act((stores, actor) => {
    const { preset } = setSourceRemoved(stores, actor, numberOf(form, 'id'), removed);
    return removed ? `${preset.name} is out of use; links that have it keep it.` : `${preset.name} is back.`;
  });
}
export async function readSourceFile(text: string): Promise<ActionState> {
  return act((stores, actor) => `Added the source ${importSource(stores, actor, text).preset.name}.`);
}
export async function newTerms(fields: { text: string }): Promise<ActionState> {
  return act(
    (stores, actor) => `Published version ${publishTerms(stores, actor, fields).version} of the partner terms.`,
  );
}
export async function addToken(fields: { name: string }): Promise<SecretState> {
  let secret = '';
  const state = await act((stores, actor) => {
    secret = createToken(stores, actor, fields.name);
    return 'Made a token. Copy it now: it is not shown again.';
  });
  return state.problems ? state : { ...state, secret };
}
export async function endToken(_: ActionState, form: FormData): Promise<ActionState> {
  return act((stores, actor) => {
    revokeToken(stores, actor, numberOf(form, 'id'));
    return 'The token no longer works.';
  });
}
export async function renewKey(): Promise<SecretState> {
  let secret = '';
  const state = await act((stores, actor) => {
    secret = renewPostbackKey(stores, actor);
    return 'Made a new postback key; the old one no longer works.';
  });
  return state.problems ? state : { ...state, secret };
}
export async function addRate(fields: { from: string; to: string; day: string; rate: string }): Promise<ActionState> {
  return act((stores, actor) => {
    putExchangeRate(stores, actor, fields);
    return `Stored ${fields.from} to ${fields.to} of ${fields.day}. What waited for it is rated within half a minute.`;
  });
}

export async function addCallNumbers(fields: unknown): Promise<ActionState> {
  return act((stores, actor) => {
    const count = addNumbers(stores, actor, fields);
    return count === 1 ? 'Added one number.' : `Added ${count} numbers.`;
  });
}
export async function dropNumber(_: ActionState, form: FormData): Promise<ActionState> {
  return act((stores, actor) => {
    removeNumber(stores, actor, numberOf(form, 'id'));
    return 'The number is out of the pool. Calls counted by it stay.';
  });
}
export async function keepSuspicion(fields: unknown): Promise<ActionState> {
  return act((stores, actor) => {
    saveSuspicion(stores, actor, fields);
    return 'Saved. What is undecided of the last 90 days is looked at again.';
  });
}

export async function showSigningSecret(renew: boolean): Promise<SecretState> {
  let secret: string | undefined;
  const state = await act((stores, actor) => {
    secret = renew ? renewSigningSecret(stores, actor) : readSigningSecret(stores, actor);
    return renew ? 'A new signing secret is in force; the old one is refused.' : 'The signing secret was shown.';
  });
  return { ...state, ...(secret && { secret }) };
}

export async function testPostback(
  fields: Record<string, string>,
): Promise<{ answer: TestAnswer } | { refused: string }> {
  return ask((stores, actor) => sendTestPostback(stores, actor, { fields }));
}

/** What became of a test, in words; null while it was not read. */
export async function lookUpReceipt(receipt: string): Promise<{ answer: string | null } | { refused: string }> {
  return ask((stores, actor) => outcomeOf(stores, actor, receipt) ?? null);
}

export async function sampleClick(offerId: number | undefined): Promise<{ answer: string } | { refused: string }> {
  return ask((stores, actor) => newestClickOf(stores, actor, offerId));
}
