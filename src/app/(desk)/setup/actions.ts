'use server';
import type { OfferFields } from '@/core/offers/schema';
import type { ProgramFields } from '@/core/programs/schema';
import { createOffer, updateOffer } from '@/services/offers';
import { renewPostbackKey, updateProgram } from '@/services/programs';
import { createToken, revokeToken } from '@/services/sign_in';
import { putExchangeRate } from '@/services/terms';
import type { ActionState } from '@/ui/feedback/ConfirmButton';
import { act, numberOf } from '../../action';

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
