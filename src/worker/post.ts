import { postPostback } from '@/services/posting';
import type { Stores } from '@/services/stores';

/**
 * Books the next postbacks. Position and effect are one transaction, so a crash neither loses nor doubles any.
 * @returns how many were read
 */
export function postPostbacks(stores: Stores, limit = 200): number {
  const { books, traffic } = stores;
  return books.inTransaction(() => {
    const postbacks = traffic.postbacksAfter(books.positions.get('postbacks'), limit);
    for (const postback of postbacks) {
      postPostback(stores, postback);
      books.positions.set('postbacks', postback.seq);
    }
    return postbacks.length;
  });
}
