'use server';
import type { ChainHop } from '@/services/chain';
import { changeDestinations, checkPage } from '@/services/destinations';
import { changeDestination, giveAlias, issueLink, labelLink, setLinkState } from '@/services/links';
import { createMailCopy, issueForMail, removeMailCopy, updateMailCopy } from '@/services/mail_copy';
import { lastClickExamples } from '@/services/proving';
import { standInLocations } from '@/services/standins';
import type { ActionState } from '@/ui/feedback/ConfirmButton';
import { act, ask, numberOf, textOf } from '../../action';

export interface IssueState extends ActionState {
  /** `here`: where it leads on this machine, in the demo. */
  link?: { id: number; code: string; address: string; here?: string };
}

export async function issue(fields: unknown): Promise<IssueState> {
  let link: IssueState['link'];
  const state = await act((stores, actor) => {
    const issued = issueLink(stores, actor, fields);
    const here = standInLocations(process.env.BRIVET_STANDIN_HOSTS)?.(issued.address);
    const elsewhere = here !== undefined && here !== issued.address;
    link = { id: issued.id, code: issued.code, address: issued.address, ...(elsewhere && { here }) };
    return `Issued ${issued.code} to ${issued.partnerName}, ${issued.channelName}.`;
  });
  return { ...state, link };
}

export async function switchLink(form: FormData): Promise<void> {
  const state = textOf(form, 'state') === 'live' ? 'live' : 'paused';
  await act((stores, actor) => `${setLinkState(stores, actor, numberOf(form, 'id'), state).code} is ${state} now.`);
}

/** What a page answers in truth. In the demo the made-up hosts are on this machine. */
export async function followPage(address: string): Promise<{ answer: ChainHop[] } | { refused: string }> {
  const locationOf = standInLocations(process.env.BRIVET_STANDIN_HOSTS);
  return ask((stores, actor) => checkPage(stores, actor, address, { locationOf }));
}

export async function lastClick(channelId: number, offerId: number) {
  return ask((stores, actor) => lastClickExamples(stores, actor, channelId, offerId));
}

export async function leadLink(id: number, fields: unknown): Promise<ActionState> {
  return act((stores, actor) => {
    const link = changeDestination(stores, actor, id, fields);
    return `${link.code} leads to ${link.destination || link.landing || 'the landing page'} from now on.`;
  });
}

export async function leadMany(fields: unknown): Promise<ActionState> {
  return act((stores, actor) => {
    const { changed, cannot } = changeDestinations(stores, actor, fields);
    const rest =
      cannot.length === 0
        ? ''
        : ` ${cannot.length} without a redirect cannot follow: ${cannot.slice(0, 5).join(', ')}.`;
    return `${changed} links lead elsewhere from now on.${rest}`;
  });
}

export async function aliasLink(id: number, fields: unknown): Promise<ActionState> {
  return act((stores, actor) => {
    const { code, alias } = giveAlias(stores, actor, id, fields);
    return `${code} is also ${alias} now.`;
  });
}

export async function relabel(id: number, fields: unknown): Promise<ActionState> {
  return act((stores, actor) => `Kept the labels of ${labelLink(stores, actor, id, fields).code}.`);
}

export async function saveMail(id: number | undefined, fields: unknown): Promise<ActionState & { id?: number }> {
  let kept = id;
  const state = await act((stores, actor) => {
    const copy = id === undefined ? createMailCopy(stores, actor, fields) : updateMailCopy(stores, actor, id, fields);
    kept = copy.id;
    return `Kept the mail copy ${copy.name}.`;
  });
  return { ...state, id: kept };
}

export async function issueMail(_: ActionState, form: FormData): Promise<ActionState> {
  return act((stores, actor) => {
    const issued = issueForMail(stores, actor, numberOf(form, 'id'));
    return `Issued ${issued} ${issued === 1 ? 'link' : 'links'}.`;
  });
}

export async function dropMail(_: ActionState, form: FormData): Promise<ActionState> {
  return act((stores, actor) => {
    removeMailCopy(stores, actor, numberOf(form, 'id'));
    return 'The mail copy is gone. Links that were issued for it stay.';
  });
}
