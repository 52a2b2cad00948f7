import { notFound } from 'next/navigation';
import { Refusal } from '@/services/refusal';

/** What a use case reads, or the page that says there is nothing here: also for what belongs to somebody else. */
export function foundOrNot<T>(read: () => T): T {
  try {
    return read();
  } catch (error) {
    if (error instanceof Refusal && error.kind === 'not_found') notFound();
    throw error;
  }
}
