import { once } from './once';
import type { Stores } from './stores';

/** Random bytes are drawn in blocks: a call into the system for each line would cost a twentieth of it. */
const BLOCK = 8192;

function drawnInBlocks(draw: Stores['randomBytes']): Stores['randomBytes'] {
  let block: Uint8Array = new Uint8Array();
  let used = 0;
  return (count) => {
    if (used + count > block.length) {
      block = draw(Math.max(BLOCK, count));
      used = 0;
    }
    used += count;
    return block.slice(used - count, used);
  };
}

/** Within a write transaction nobody else changes the books: what posting does not write itself is read once. */
export function remembering(stores: Stores): Stores {
  const { books } = stores;
  const { programs, offers, partners, terms } = books;
  const sheets = once(terms.sheets);
  return {
    ...stores,
    randomBytes: drawnInBlocks(stores.randomBytes),
    books: {
      ...books,
      programs: { ...programs, byId: once(programs.byId) },
      offers: { ...offers, byId: once(offers.byId) },
      partners: { ...partners, byId: once(partners.byId) },
      terms: {
        ...terms,
        // Of two that begin at once the newer version stands, and is met first.
        sheetInForce: (programId, time) =>
          sheets(programId).reduce<ReturnType<typeof terms.sheetInForce>>(
            (best, sheet) =>
              sheet.inForceFrom <= time && (!best || sheet.inForceFrom > best.inForceFrom) ? sheet : best,
            undefined,
          ),
      },
    },
  };
}
