'use server';
import { askReport } from '@/services/reports';
import { type Replayed, restorePlan, savePlan } from '@/services/routing';
import type { ActionState } from '@/ui/feedback/ConfirmButton';
import { act, ask, numberOf } from '../../../../../action';

export async function saveRouting(
  offerId: number,
  edited: { plan: unknown; basedOn: number; reason: string },
): Promise<ActionState> {
  return act((stores, actor) => {
    const { version } = savePlan(stores, actor, offerId, edited);
    return version === edited.basedOn ? 'Nothing was changed.' : `Version ${version} is in force from now on.`;
  });
}

export async function restoreRouting(_: ActionState, form: FormData): Promise<ActionState> {
  return act((stores, actor) => {
    const { version, reason } = restorePlan(stores, actor, numberOf(form, 'offer'), numberOf(form, 'version'));
    return `Version ${version} is in force, ${reason}.`;
  });
}

export async function replayRouting(
  offerId: number,
  plan: unknown,
): Promise<{ answer: Replayed } | { refused: string }> {
  return ask((_, actor) => askReport('replay', actor, { offerId, plan }));
}
