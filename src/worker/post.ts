import { once } from '@/services/once';
import { postPostback } from '@/services/posting';
import type { Stores } from '@/services/stores';

/** Within a write transaction nobody else changes the books: what posting does not write itself is read once. */
function remembering(stores: Stores): Stores {
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

/**
 * Books the next postbacks. Position and effect are one transaction, so a crash neither loses nor doubles any.
 * @returns how many were read
 */
export function postPostbacks(stores: Stores, limit = 500): number {
  const { books, traffic } = stores;
  return books.inTransaction(() => {
    const known = remembering(stores);
    const postbacks = traffic.postbacksAfter(books.positions.get('postbacks'), limit);
    for (const postback of postbacks) postPostback(known, postback);
    const last = postbacks.at(-1);
    if (last) books.positions.set('postbacks', last.seq);
    return postbacks.length;
  });
}
