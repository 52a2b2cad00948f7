'use server';
import { headers } from 'next/headers';
import { redirect } from 'next/navigation';
import { RateLimiterMemory } from 'rate-limiter-flexible';
import { booksAreFree } from '@/services/jobs';
import { Refusal } from '@/services/refusal';
import { signIn } from '@/services/sign_in';
import type { ActionState } from '@/ui/feedback/ConfirmButton';
import { textOf } from '../action';
import { session, stores } from '../server';

const attempts = new RateLimiterMemory({ points: 10, duration: 300 });

export interface SignInState extends ActionState {
  email?: string;
}

export async function signInAction(_: SignInState, form: FormData): Promise<SignInState> {
  const email = textOf(form, 'email');
  const client = (await headers()).get('x-forwarded-for') ?? 'unknown';
  const allowed = await attempts.consume(`${client} ${email.toLowerCase()}`).then(
    () => true,
    () => false,
  );
  if (!allowed)
    return { email, problems: [{ field: '', reason: 'Too many attempts. Wait five minutes, then try again.' }] };
  try {
    await booksAreFree();
    const user = await signIn(stores(), { email, password: textOf(form, 'password') });
    const current = await session();
    current.userId = user.id;
    current.version = user.sessionVersion;
    await current.save();
  } catch (error) {
    if (!(error instanceof Refusal)) throw error;
    return { email, problems: error.problems.length > 0 ? error.problems : [{ field: '', reason: error.message }] };
  }
  redirect('/today');
}

export async function signOutAction(): Promise<void> {
  (await session()).destroy();
  redirect('/sign-in');
}
