'use server';
import { redirect } from 'next/navigation';
import { removeAddressList, saveAddressList } from '@/services/address_lists';
import { chooseLogColumns } from '@/services/click_log';
import { programFields, readProgram, updateProgram } from '@/services/programs';
import { askReport } from '@/services/reports';
import type { RuleEffect } from '@/services/rule_effect';
import type { ActionState } from '@/ui/feedback/ConfirmButton';
import { act, ask, numberOf } from '../../action';

export async function keepLogColumns(columns: string[] | undefined): Promise<ActionState> {
  return act((stores, actor) => {
    chooseLogColumns(stores, actor, columns);
    return columns ? 'The log has your columns.' : 'The log has the usual columns.';
  });
}

export async function tryRule(input: unknown): Promise<{ answer: RuleEffect } | { refused: string }> {
  return ask((_, actor) => askReport('effect', actor, input));
}

export async function setFloodMost(most: number): Promise<ActionState> {
  return act((stores, actor) => {
    updateProgram(stores, actor, { ...programFields(readProgram(stores, actor)), floodMost: most });
    return most === 0
      ? 'Floods are no longer set aside.'
      : `More than ${most} clicks a minute are set aside from now on.`;
  });
}

export async function saveList(id: number | undefined, fields: unknown): Promise<ActionState> {
  return act((stores, actor) => {
    const { name, ranges, isOn } = saveAddressList(stores, actor, id, fields);
    return `${name}: ${ranges.toLocaleString('en-GB')} ranges, ${isOn ? 'in force from now on' : 'not in force'}.`;
  });
}

export async function dropList(_: ActionState, form: FormData): Promise<ActionState> {
  const state = await act((stores, actor) => {
    removeAddressList(stores, actor, numberOf(form, 'id'));
    return 'The list is gone. What it set aside stays so.';
  });
  if (!state.problems) redirect('/clicks?shelf=set_aside');
  return state;
}
