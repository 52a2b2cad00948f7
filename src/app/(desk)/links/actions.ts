'use server';
import { issueLink, setLinkState } from '@/services/links';
import type { ActionState } from '@/ui/feedback/ConfirmButton';
import { act, numberOf, textOf } from '../../action';

export interface IssueState extends ActionState {
  address?: string;
}

export async function issue(fields: unknown): Promise<IssueState> {
  let address = '';
  const state = await act((stores, actor) => {
    const link = issueLink(stores, actor, fields);
    address = link.address;
    return `Issued ${link.code} to ${link.partnerName}, ${link.channelName}.`;
  });
  return state.problems ? state : { ...state, address };
}

export async function switchLink(form: FormData): Promise<void> {
  const state = textOf(form, 'state') === 'live' ? 'live' : 'paused';
  await act((stores, actor) => `${setLinkState(stores, actor, numberOf(form, 'id'), state).code} is ${state} now.`);
}
