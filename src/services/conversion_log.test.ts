import fc from 'fast-check';
import { expect, test } from 'vitest';
import { World } from '../../tests/support/world';
import { readFilters, writeFilters } from '@/core/reports/columns';
import type { Day } from '@/core/time/days';
import { type ConversionFilter, isConversionFilter } from '@/store/books/conversion_filters';
import { CONVERSION_FILTERS } from './conversion_log';
import { listConversions } from './conversions';
import { exportCsv } from './exports';

const ALL = { from: '2000-01-01' as Day, to: '2999-12-31' as Day, partnerId: null, channelId: null, offerId: null };

test('the log narrowed by filters is what a plain look at every row finds, in list and export', () => {
  using world = new World();
  const places = ['Breda', 'breda-noord', '', "O'Reilly", '%', '=1+1'];
  for (let i = 0; i < 24; i++) {
    const status = i % 5 === 0 ? 'reversed' : undefined;
    const order = `F${i}`;
    const what = { event: i % 3 === 0 ? 'renewal' : 'order', order };
    const click_id = i % 4 === 0 ? 'of-another-kind' : world.click(world.link, { client: `192.0.2.${i}` });
    world.report({ ...what, amount: '10.00', click_id, x_place: places[i % places.length] ?? '' });
    if (status) world.report({ ...what, status });
  }
  const list = (filters: readonly ConversionFilter[]) =>
    listConversions(world.stores, world.owner, ALL, 'all', { limit: 500, offset: 0 }, filters);
  const everything = list([]).rows;
  type Row = (typeof everything)[number];
  const values: Record<string, (row: Row) => string | null | undefined> = {
    ...{ event: ({ event }) => event, order: ({ orderRef }) => orderRef, unmatched: ({ unmatched }) => unmatched },
    state: ({ commissionState, state }) => commissionState ?? state,
    x_place: ({ custom }) => custom.x_place,
  };
  const filter = fc.record({
    field: fc.constantFrom(...Object.keys(values)),
    how: fc.constantFrom('is', 'not', 'has'),
    text: fc.constantFrom('order', 'RENEWAL', 'F1', 'f', 'Breda', '%', '', "O'Reilly", 'pending', 'reversed', '=1+1'),
  }) as fc.Arbitrary<ConversionFilter>;
  fc.assert(
    fc.property(fc.array(filter, { maxLength: 3 }), (filters) => {
      const good = everything.filter((row) =>
        filters.every(({ field, how, text }) => {
          const [value, wanted] = [values[field]?.(row) ?? '', text].map((each) => each.toLowerCase());
          if (how === 'has') return value?.includes(wanted ?? '');
          return (value === wanted) === (how === 'is');
        }),
      );
      const found = list(filters);
      expect([found.rows.map(({ id }) => id), found.total]).toEqual([good.map(({ id }) => id), good.length]);
      expect(readFilters(writeFilters(filters), isConversionFilter)).toEqual(filters);
    }),
  );
  const csv = [
    ...exportCsv(world.stores, world.owner, 'conversions', ALL, 'all', [{ field: 'x_place', how: 'is', text: '=1+1' }]),
  ].join('');
  expect(csv.trim().split('\r\n')).toHaveLength(1 + 4);
  for (const field of Object.keys(CONVERSION_FILTERS))
    expect(list([{ field, how: 'is', text: 'nothing' }]).total).toBe(0);
  for (const field of ['x_place") --', 'c.id', 'constructor'])
    expect(() => list([{ field, how: 'is', text: '' }])).toThrow('no field');
});
