import { booksAreFree } from '@/services/jobs';
import { Refusal } from '@/services/refusal';
import type { Actor } from '@/services/actor';
import type { Stores } from '@/services/stores';
import type { ActionState } from '@/ui/feedback/ConfirmButton';
import { leaveNotice, requireActor, stores } from './server';

/**
 * Runs a use case for the person who is signed in. What was refused comes back with its fields; what was done is
 * said in a notice.
 */
export async function act(work: (stores: Stores, actor: Actor) => string | Promise<string>): Promise<ActionState> {
  const actor = await requireActor();
  try {
    await booksAreFree();
    const done = await work(stores(), actor);
    await leaveNotice('success', done);
    return { done };
  } catch (error) {
    if (!(error instanceof Refusal)) throw error;
    return { problems: error.problems.length > 0 ? error.problems : [{ field: '', reason: error.message }] };
  }
}

/** Runs a use case that only reads, for a part of a screen that asks on its own. What was refused is said in words. */
export async function ask<T>(
  work: (stores: Stores, actor: Actor) => T | Promise<T>,
): Promise<{ answer: T } | { refused: string }> {
  const actor = await requireActor();
  try {
    return { answer: await work(stores(), actor) };
  } catch (error) {
    if (!(error instanceof Refusal)) throw error;
    return { refused: error.message };
  }
}

/** A whole number of a form. */
export const numberOf = (form: FormData, name: string): number => Number(form.get(name));
export const textOf = (form: FormData, name: string): string => String(form.get(name) ?? '');
