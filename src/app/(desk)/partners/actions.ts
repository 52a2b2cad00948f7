'use server';
import type { ChannelFields, PartnerFields, PartnerState, PayoutDetailsFields } from '@/core/partners/schema';
import { approveApplicant } from '@/services/applications';
import { createChannel, updateChannel } from '@/services/channels';
import {
  createPartner,
  markDetailsChecked,
  putPayoutDetails,
  setPartnerState,
  updatePartner,
} from '@/services/partners';
import type { ActionState } from '@/ui/feedback/ConfirmButton';
import { act, numberOf, textOf } from '../../action';

export async function addPartner(fields: PartnerFields): Promise<ActionState> {
  return act((stores, actor) => `${createPartner(stores, actor, fields).name} is on file as an applicant.`);
}
export async function savePartner(id: number, fields: PartnerFields): Promise<ActionState> {
  return act((stores, actor) => `Saved ${updatePartner(stores, actor, id, fields).name}.`);
}
export async function addChannel(partnerId: number, fields: ChannelFields): Promise<ActionState> {
  return act((stores, actor) => `Added the channel ${createChannel(stores, actor, partnerId, fields).name}.`);
}
export async function saveChannel(id: number, fields: ChannelFields): Promise<ActionState> {
  return act((stores, actor) => `Saved the channel ${updateChannel(stores, actor, id, fields).name}.`);
}
export async function saveDetails(partnerId: number, fields: PayoutDetailsFields): Promise<ActionState> {
  return act(
    (stores, actor) =>
      `Kept the payout details of ${putPayoutDetails(stores, actor, partnerId, fields).name}. Check them before the next run.`,
  );
}
export async function checkDetails(_: ActionState, form: FormData): Promise<ActionState> {
  return act(
    (stores, actor) =>
      `The payout details of ${markDetailsChecked(stores, actor, numberOf(form, 'id')).name} are checked.`,
  );
}
export async function changeState(_: ActionState, form: FormData): Promise<ActionState> {
  const state = textOf(form, 'state') as PartnerState;
  return act((stores, actor) => {
    const id = numberOf(form, 'id');
    const partner =
      state === 'active'
        ? approveApplicant(stores, actor, id)
        : setPartnerState(stores, actor, id, state, textOf(form, 'reason'));
    return `${partner.name} is ${partner.state}.`;
  });
}
