'use server';
import { DECISIONS, decideLines } from '@/services/reconcile_decisions';
import { decideReviews, reopenReviews } from '@/services/reviews';
import { decideMany } from '@/services/commissions';
import { chooseConversionColumns } from '@/services/conversion_log';
import { readOffer, updateOffer } from '@/services/offers';
import { OUTCOME_WORDS } from '@/core/conversions/outcomes';
import { proposeReading, recordByHand, undoImport } from '@/services/recording';
import { dismissUnmatched, giveToClick, giveToPartner, undoRepair } from '@/services/unmatched';
import type { ActionState } from '@/ui/feedback/ConfirmButton';
import { act, ask, numberOf } from '../../action';
import type { Proposed } from './import/ReadFile';

const many = (count: number): string =>
  count === 1 ? 'One conversion' : `${count.toLocaleString('en-GB')} conversions`;
interface Chosen {
  ids: number[];
  reason: string;
}

export async function giveAway(
  fields: Chosen & { partnerId?: number; channelId?: number; offerId: number },
): Promise<ActionState> {
  return act((stores, actor) => `${many(fields.ids.length)} ${giveToPartner(stores, actor, fields).what}.`);
}
export async function giveClick(fields: Chosen & { clickId: string }): Promise<ActionState> {
  return act((stores, actor) => `${many(fields.ids.length)} ${giveToClick(stores, actor, fields).what}.`);
}
export async function dismiss(fields: Chosen): Promise<ActionState> {
  return act((stores, actor) => `${many(fields.ids.length)}: ${dismissUnmatched(stores, actor, fields).what}.`);
}
export async function takeBackRepair(form: FormData): Promise<void> {
  await act((stores, actor) => `${many(undoRepair(stores, actor, numberOf(form, 'id')))} wait again.`);
}

export async function extendWindow(_: ActionState, form: FormData): Promise<ActionState> {
  return act((stores, actor) => {
    const { id, programId: _program, ...fields } = readOffer(stores, actor, numberOf(form, 'offerId'));
    const clickWindowDays = numberOf(form, 'days');
    updateOffer(stores, actor, id, { ...fields, clickWindowDays });
    return `The click window of ${fields.name} is ${clickWindowDays} days. What fits in it was matched.`;
  });
}
export async function addEvent(_: ActionState, form: FormData): Promise<ActionState> {
  return act((stores, actor) => {
    const { id, programId: _program, ...fields } = readOffer(stores, actor, numberOf(form, 'offerId'));
    const event = String(form.get('event'));
    const payable = form.get('payable') !== null;
    updateOffer(stores, actor, id, { ...fields, events: [...fields.events, { event, repeat: 'ignore', payable }] });
    return `“${event}” is an event of ${fields.name}. What waited for it was matched.`;
  });
}

export async function review(fields: { ids: number[]; way: 'clear' | 'reject'; reason: string }): Promise<ActionState> {
  return act((stores, actor) => {
    const count = many(decideReviews(stores, actor, fields));
    return fields.way === 'clear' ? `${count}: nothing wrong.` : `${count} rejected.`;
  });
}
export async function putBackIntoReview(form: FormData): Promise<void> {
  await act((stores, actor) => {
    reopenReviews(stores, actor, [numberOf(form, 'id')]);
    return 'Back in review.';
  });
}
export async function decideReport(
  id: number,
  fields: { ids: number[]; decision: keyof typeof DECISIONS; reason: string },
): Promise<ActionState> {
  return act((stores, actor) => {
    const { count, left } = decideLines(stores, actor, id, fields);
    const some = left.slice(0, 3).map(({ what, reason }) => `${what}: ${reason}`);
    const rest = left.length > 3 ? ` and ${left.length - 3} more` : '';
    const said = `${count.toLocaleString('en-GB')} ${DECISIONS[fields.decision].word}.`;
    return left.length === 0 ? said : `${said} Left as they are: ${some.join('; ')}${rest}.`;
  });
}

export async function readingOf(about: {
  text: string;
  source: string;
}): Promise<{ answer: Proposed } | { refused: string }> {
  return ask((stores, actor) => proposeReading(stores, actor, about));
}
export async function takeBackImport(_: ActionState, form: FormData): Promise<ActionState> {
  return act((stores, actor) => `The import is taken back: ${many(undoImport(stores, actor, numberOf(form, 'id')))}.`);
}
export async function record(fields: Record<string, string>): Promise<ActionState> {
  return act((stores, actor) => {
    const { outcome, detail } = recordByHand(stores, actor, fields);
    return outcome === 'recorded'
      ? 'Recorded, and rated by the sheet in force at its time.'
      : `Noted: ${OUTCOME_WORDS[outcome]}. ${detail ?? ''}`;
  });
}

export async function keepConversionColumns(columns: string[] | undefined): Promise<ActionState> {
  return act((stores, actor) => {
    chooseConversionColumns(stores, actor, columns);
    return columns ? 'The log has your columns.' : 'The log has the usual columns.';
  });
}
export async function decideChosen(fields: { ids: number[]; way: string; reason: string }): Promise<ActionState> {
  return act((stores, actor) => {
    const { count, word } = decideMany(stores, actor, fields);
    return `${many(count)} ${word}.`;
  });
}
