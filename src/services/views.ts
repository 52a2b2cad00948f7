import Joi from 'joi';
import { line } from '@/core/schema/fields';
import { check } from '@/core/schema/problems';
import type { SavedView } from '@/store/books/views';
import type { Actor } from './actor';
import { checked } from './programs';
import { conflict } from './refusal';
import type { Stores } from './stores';

const MOST_VIEWS = 50;
const viewSchema = Joi.object<{ name: string; address: string }>({
  name: line('Name', 60).required(),
  address: Joi.string()
    .max(2000)
    .pattern(/^\/[a-z][a-z0-9/-]*(\?[^\s#]*)?$/, 'a screen of Brivet')
    .required()
    .label('Address'),
});

/** What a person kept under names: a screen with its scope, filters and grouping. */
export const listViews = ({ books }: Stores, { userId }: Actor): SavedView[] => books.views.saved(userId);

/** Keeps an address under a name; the same name again takes the new address. */
export function keepView({ books }: Stores, { userId }: Actor, input: unknown): string {
  const { name, address } = checked(check(viewSchema, input));
  books.inTransaction(() => {
    const standing = books.views.saved(userId);
    const known = standing.some((each) => each.name.toLowerCase() === name.toLowerCase());
    if (!known && standing.length >= MOST_VIEWS)
      throw conflict(`You keep ${MOST_VIEWS} views already. Drop one that you no longer need.`);
    books.views.save(userId, name, address);
  });
  return name;
}

export const dropView = ({ books }: Stores, { userId }: Actor, id: number): void =>
  books.inTransaction(() => books.views.drop(userId, id));
