'use server';
import { headers } from 'next/headers';
import { RateLimiterMemory } from 'rate-limiter-flexible';
import { apply } from '@/services/applications';
import type { ApplicationFields } from '@/core/partners/schema';
import { booksAreFree } from '@/services/jobs';
import { Refusal } from '@/services/refusal';
import type { ActionState } from '@/ui/feedback/ConfirmButton';
import { stores } from '../server';

/** Five applications an hour from one address are plenty for people. */
const attempts = new RateLimiterMemory({ points: 5, duration: 3600 });

export async function sendApplication({
  website,
  ...fields
}: ApplicationFields & { website: string }): Promise<ActionState> {
  const client = (await headers()).get('x-forwarded-for') ?? 'unknown';
  const allowed = await attempts.get(client).then((seen) => (seen?.consumedPoints ?? 0) < 5);
  if (!allowed)
    return {
      problems: [{ field: '', reason: 'Too many applications from this address. Wait an hour, then try again.' }],
    };
  // People do not see this field; programs fill in everything.
  if (website) return { done: 'received' };
  const all = stores();
  try {
    await booksAreFree();
    apply(all, all.books.programs.all()[0]?.id ?? 0, fields);
    await attempts.consume(client).catch(() => undefined);
    return { done: 'received' };
  } catch (error) {
    if (!(error instanceof Refusal)) throw error;
    return { problems: error.problems.length > 0 ? error.problems : [{ field: '', reason: error.message }] };
  }
}
