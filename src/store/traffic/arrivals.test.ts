import fc from 'fast-check';
import { rmSync } from 'node:fs';
import { join } from 'node:path';
import { expect, test } from 'vitest';
import { testFolder } from '../../../tests/support/folder';
import { type ClickRow, noArrivals, openTrafficForWriting, pushClick } from '.';

const text = fc.oneof(fc.string(), fc.constant("'); DROP TABLE clicks; --"));
const maybe = fc.option(text);
const number = fc.integer({ min: 0, max: 2 ** 48 });
/** Every column, with whatever may stand in it, but for the ID. */
const row = fc.record<Omit<ClickRow, 'clickId'>>({
  ...{ time: number, linkId: number, partnerId: number, channelId: number, offerId: number, programId: number },
  ...{ isUnique: fc.constantFrom(0, 1), visitor: text, via: text, address: text, query: text },
  ...{ setAside: maybe, flags: maybe, referrer: maybe, agent: maybe, language: maybe, client: maybe },
  ...{ country: maybe, rule: maybe, page: maybe },
});

test('any number of clicks and landings stands as it came, in order, and a landing sent again changes nothing', () => {
  const folder = testFolder('arrivals');
  const traffic = openTrafficForWriting(join(folder, 'traffic.db'));
  let ids = 0;
  fc.assert(
    fc.property(fc.array(row, { maxLength: 40 }), fc.array(row, { maxLength: 40 }), (some, others) => {
      const before = traffic.ends().clicks;
      const [clicks, landings] = [some, others].map((rows) => rows.map((each) => ({ clickId: `id${ids++}`, ...each })));
      const arrivals = noArrivals();
      for (const click of clicks ?? []) pushClick(arrivals.clicks, click);
      for (const landing of landings ?? []) pushClick(arrivals.landings, landing);
      const again = { ...noArrivals(), landings: arrivals.landings };
      traffic.commitArrivals([arrivals, again]);
      const stored = traffic.clicksAfter(before, 100).map(({ seq: _, ...click }) => click);
      expect(stored).toEqual([...(clicks ?? []), ...(landings ?? [])]);
    }),
  );
  traffic.db.close();
  rmSync(folder, { recursive: true });
});
