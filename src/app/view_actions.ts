'use server';
import { dropView, keepView } from '@/services/views';
import type { ActionState } from '@/ui/feedback/ConfirmButton';
import { act } from './action';

export async function keepThisView(name: string, address: string): Promise<ActionState> {
  return act((stores, actor) => `Kept as ${keepView(stores, actor, { name, address })}.`);
}
export async function dropThisView(id: number): Promise<ActionState> {
  return act((stores, actor) => {
    dropView(stores, actor, id);
    return 'Dropped the view.';
  });
}
