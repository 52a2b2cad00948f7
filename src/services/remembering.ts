import { once } from './once';
import type { Stores } from './stores';

/** Within a write transaction nobody else changes the books: what posting does not write itself is read once. */
export function remembering(stores: Stores): Stores {
  const { books } = stores;
  const { programs, offers, partners } = books;
  return {
    ...stores,
    books: {
      ...books,
      programs: { ...programs, byId: once(programs.byId) },
      offers: { ...offers, byId: once(offers.byId) },
      partners: { ...partners, byId: once(partners.byId) },
    },
  };
}
