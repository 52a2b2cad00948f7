import { postCall } from '@/services/calls';
import { postPostback } from '@/services/posting';
import { remembering } from '@/services/remembering';
import type { Stores } from '@/services/stores';

/**
 * Books the next postbacks. Position and effect are one transaction, so a crash neither loses nor doubles any.
 * @returns how many were read
 */
export function postPostbacks(stores: Stores, limit = 500): number {
  const { books, traffic } = stores;
  return books.inTransaction(() => {
    const known = remembering(stores);
    const postbacks = traffic.postbacksAfter(books.positions.get('postbacks'), limit);
    for (const postback of postbacks)
      if (postback.about === 'call') postCall(known, postback);
      else postPostback(known, postback);
    const last = postbacks.at(-1);
    if (last) books.positions.set('postbacks', last.seq);
    return postbacks.length;
  });
}
