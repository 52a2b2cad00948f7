import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import {
  type Block,
  type Column,
  MOST_ROWS,
  columnOf,
  joinColumns,
  openCodes,
  openColumn,
  packColumn,
  partColumn,
  placeOf,
  valueAt,
} from './block';
import { type Filter, predicateOf, readFilters, writeFilters } from './columns';
import { countClicks } from './counting';
import { Grouping } from './group';
import { mayHave, sketch, sketchPart } from './sketch';
import { showRatio, wilson } from './measures';

type Row = Record<string, string>;
const NAMES = ['partner', 'sub1', 'sub2', 'link', 'unique', 'set_aside', 'cost'] as const;
/** Rows as stored blocks of a few rows each, so that groups have to be met again in the next. */
function blocks(rows: readonly Row[], size: number): Block[] {
  return Array.from({ length: Math.ceil(rows.length / size) }, (_, i) => {
    const part = rows.slice(i * size, (i + 1) * size);
    const columns = new Map(
      NAMES.map((name) => [name as string, packColumn(columnOf(part.map((row) => row[name] ?? '')))]),
    );
    const open = (name: string): Column => {
      const packed = columns.get(name);
      return packed ? openColumn(packed, part.length) : columnOf(part.map(() => ''));
    };
    return {
      rows: part.length,
      column: open,
      find: (name, value) => ({
        place: placeOf(Buffer.from(columns.get(name)?.dictionary ?? []), value),
        codes: openCodes(columns.get(name)?.codes ?? new Uint8Array(), part.length),
      }),
    };
  });
}
const word = fc.constantFrom('', 'a', 'b', 'ash glaze', 'é', '{{keyword}}', '=1+1', '<b>');
const row = fc
  .record({
    ...{ partner: fc.constantFrom('1', '2', '3'), sub1: word, sub2: word, link: fc.constantFrom('7', '8') },
    first: fc.boolean(),
    set_aside: fc.constantFrom('', '', 'bot'),
    cost: fc.constantFrom('', '20000', '310000'),
  })
  .map(({ first, ...rest }) => ({ ...rest, unique: rest.set_aside !== '' ? '' : first ? 'unique' : 'repeat' }));

describe('columns of a block', () => {
  test('give back what was put in, whatever it is and however many values there are', () => {
    fc.assert(
      fc.property(fc.array(fc.string({ unit: 'grapheme', maxLength: 8 }), { maxLength: 700 }), (texts) => {
        const clean = texts.map((text) => text.replaceAll('\0', '\uFFFD'));
        const packed = packColumn(columnOf(texts));
        const column = openColumn(packed, texts.length);
        expect(texts.map((_, i) => valueAt(column, i))).toEqual(clean);
        for (const text of clean.slice(0, 5))
          expect(column.values[placeOf(Buffer.from(packed.dictionary), text)]).toBe(text);
        expect(placeOf(Buffer.from(packed.dictionary), 'not among them, surely')).toBe(-1);
        // Joined, they are those of all texts behind one another.
        const halves = [0, 1].map((i) => texts.slice(i * (texts.length >> 1), (i + 1) * (texts.length >> 1)));
        expect(joinColumns(halves.map(columnOf), texts.length >> 1)).toEqual(columnOf(halves.flat()));
      }),
    );
    const many = Array.from({ length: MOST_ROWS }, (_, i) => `value ${i}`);
    const packed = packColumn(columnOf(many));
    const shifted = new Uint8Array(packed.codes.length + 1);
    shifted.set(packed.codes, 1);
    // Wherever in memory they lie.
    for (const codes of [packed.codes, shifted.subarray(1)]) {
      const column = openColumn({ ...packed, codes }, many.length);
      expect([valueAt(column, 0), valueAt(column, MOST_ROWS - 1)]).toEqual(['value 0', 'value 65535']);
    }
  });

  test('of a part come from link and slot together', () => {
    const rows = [
      { link: '7', sub2: 'exact~phone' },
      { link: '8', sub2: 'exact~phone' },
      { link: '7', sub2: 'broad~desktop' },
      { link: '7', sub2: 'exact~phone' },
    ];
    const [block] = blocks(rows, 4);
    if (!block) throw new Error('no block');
    const column = partColumn(block, 'sub2', (link, text) => (link === '7' ? (text.split('~')[0] ?? '') : ''));
    expect(rows.map((_, i) => valueAt(column, i))).toEqual(['exact', '', 'broad', 'exact']);
  });
});

describe('grouping', () => {
  test('counts what a plain recount counts, for any dimensions, filters and size of blocks', () => {
    const dimensions = fc.subarray(['partner', 'sub1', 'sub2', 'link']);
    const filter = fc.record({
      field: fc.constantFrom('sub1', 'partner'),
      how: fc.constantFrom('is', 'not', 'has'),
      text: word,
    });
    fc.assert(
      fc.property(
        fc.array(row, { maxLength: 120 }),
        dimensions,
        fc.array(filter as fc.Arbitrary<Filter>, { maxLength: 2 }),
        fc.integer({ min: 1, max: 50 }),
        (rows, by, filters, size) => {
          // In two places that draw from the same blocks, and put together.
          const fresh = (): Grouping => new Grouping(by, filters.map(predicateOf));
          const [grouping, elsewhere] = [fresh(), fresh()];
          for (const [i, block] of blocks(rows, size).entries()) {
            (i % 2 === 0 ? grouping : elsewhere).add(block, countClicks);
          }
          grouping.absorb(structuredClone(elsewhere.grouped()));
          const expected = new Map<string, number[]>();
          for (const each of rows) {
            const value = (field: string): string => (each as Row)[field] ?? '';
            const good = filters.every(({ field, how, text }) =>
              how === 'has'
                ? value(field).toLowerCase().includes(text.toLowerCase())
                : (value(field) === text) === (how === 'is'),
            );
            if (!good) continue;
            const key = JSON.stringify(by.map(value));
            const sums = expected.get(key) ?? [0, 0, 0, 0];
            if (each.set_aside !== '') sums[2] = (sums[2] ?? 0) + 1;
            else {
              sums[0] = (sums[0] ?? 0) + 1;
              sums[1] = (sums[1] ?? 0) + (each.unique === 'unique' ? 1 : 0);
              sums[3] = (sums[3] ?? 0) + Number(each.cost);
            }
            expected.set(key, sums);
          }
          const counted = grouping
            .result()
            .map((g): [string, number[]] => [JSON.stringify(g.by), [g.clicks, g.uniques, g.setAside, g.cost]]);
          expect(new Map(counted)).toEqual(expected);
          const total = [...expected.values()].reduce((sum, [clicks = 0]) => sum + clicks, 0);
          expect(grouping.best('name', true, 1).total.clicks).toBe(total);
          // Pages by a figure go together, whatever was met first: equal ones stand by name.
          const names = (offset: number, limit: number, of = grouping): string[][] =>
            of.best({ of: { clicks: 1 } }, false, limit, offset).groups.map((g) => [...g.by]);
          const ordered = [...expected]
            .map(([key, [clicks = 0]]) => ({ clicks, name: JSON.parse(key) as string[] }))
            .sort((a, b) => b.clicks - a.clicks || (a.name.join('\u0001') < b.name.join('\u0001') ? -1 : 1))
            .map(({ name }) => name);
          expect([...names(0, 3), ...names(3, 500)]).toEqual(ordered);
          const again = fresh();
          again.absorb(grouping.grouped());
          expect(names(0, 500, again)).toEqual(ordered);
          expect(grouping.best('name', false, 500).groups.map((g) => g.by.join('\u0001'))).toEqual(
            ordered.map((name) => name.join('\u0001')).toSorted((a, b) => (a < b ? 1 : -1)),
          );
        },
      ),
    );
  });
});

test('a sketch never says of a value that it is not there when it is, and seldom the other way', () => {
  const name = (kind: string, i: number): string => `${kind}${(i * 2_654_435_761) % 4_294_967_296}`;
  const held = Array.from({ length: MOST_ROWS }, (_, i) => name('q', i));
  const parts = sketch(held);
  const has = (value: string): boolean => mayHave(parts[sketchPart(value)] ?? new Uint8Array(), value);
  expect(held.every(has)).toBe(true);
  expect(held.filter((_, i) => has(name('p', i))).length / MOST_ROWS).toBeLessThan(0.03);
});

test('filters stand in an address and come back the same', () => {
  const filter = fc.record({
    field: fc.constantFrom('sub1', 'country', 'sub2.match', 'flags'),
    how: fc.constantFrom('is', 'not', 'has'),
    text: fc.string({ unit: 'grapheme' }),
  });
  fc.assert(
    fc.property(fc.array(filter as fc.Arbitrary<Filter>), (filters) => {
      expect(readFilters(writeFilters(filters))).toEqual(filters);
    }),
  );
  expect(readFilters('sub9=x&sub1=%E0%A4%A&&=;drop table&country=BE')).toEqual([
    { field: 'country', how: 'is', text: 'BE' },
  ]);
});

test('ratios are of sums, and the Wilson interval holds the published example', () => {
  expect([showRatio(1, 3), showRatio(0, 0)]).toEqual(['33.33%', '–']);
  // 10 of 100, 95 %: 0.0552 to 0.1744 (Newcombe 1998, method 3).
  expect(wilson(10, 100).map((bound) => bound.toFixed(4))).toEqual(['0.0552', '0.1744']);
  expect(wilson(0, 0)).toEqual([0, 1]);
});
