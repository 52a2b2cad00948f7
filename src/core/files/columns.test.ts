import fc from 'fast-check';
import { expect, test } from 'vitest';
import { matchColumns } from './columns';

const KNOWN = ['partner', 'destination', 'sub1', 'email', 'payoutCurrency'] as const;
/** A name as somebody might write it: other capitals, and signs between the letters. */
const written = (name: string): fc.Arbitrary<string> =>
  fc
    .array(fc.tuple(fc.boolean(), fc.constantFrom('', '', ' ', '-', '_', '.')), {
      minLength: name.length,
      maxLength: name.length,
    })
    .map((how) => [...name].map((sign, i) => (how[i]?.[0] ? sign.toUpperCase() : sign) + how[i]?.[1]).join(''));

test('a column is known however its name is written, in any order', () => {
  const heads = fc
    .shuffledSubarray([...KNOWN])
    .chain((names) => fc.tuple(fc.constant(names), fc.tuple(...names.map(written))));
  fc.assert(
    fc.property(heads, ([names, as]) => {
      expect(matchColumns(as, KNOWN)).toEqual({ ok: true, columns: names });
    }),
  );
});

test('words that people use for a column find it; columns without a name are passed over', () => {
  expect(matchColumns(['Deep link', '', 'Sub-ID 1', 'Mail', 'Currency', 'Partner code'], KNOWN)).toEqual({
    ok: true,
    columns: ['destination', undefined, 'sub1', 'email', 'payoutCurrency', 'partner'],
  });
  // Only where we have such a column.
  expect(matchColumns(['URL'], ['partner'])).toMatchObject({ ok: false });
});

test('what nobody knows is named with what is known, and a column that stands twice is refused', () => {
  const result = matchColumns(['Partner', 'Shoe size', 'partner_code', 'Clicks'], KNOWN, ['clicks']);
  expect(result).toEqual({
    ok: false,
    problems: [
      { field: 'Shoe size', reason: expect.stringContaining('Known are: partner, destination, sub1') as string },
      { field: 'partner', reason: 'Two columns of the file are partner. Leave one.' },
    ],
  });
});
