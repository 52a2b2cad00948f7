import type { Problem } from '@/core/schema/problems';

export type RefusalKind = 'invalid' | 'unauthenticated' | 'forbidden' | 'not_found' | 'conflict' | 'too_many';

/** A use case that was refused: says what is wrong, with which field, and what would be right. Nothing was changed. */
export class Refusal extends Error {
  constructor(
    readonly kind: RefusalKind,
    message: string,
    readonly problems: readonly Problem[] = [],
  ) {
    super(message);
    this.name = 'Refusal';
  }
}

export const invalid = (problems: readonly Problem[]): Refusal =>
  new Refusal('invalid', problems.map(({ reason }) => reason).join(' ') || 'The input is not valid.', problems);
export const invalidField = (field: string, reason: string): Refusal => invalid([{ field, reason }]);
export const conflict = (message: string): Refusal => new Refusal('conflict', message);
