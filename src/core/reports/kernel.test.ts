import fc from 'fast-check';
import { expect, test } from 'vitest';
import { type Block, type Column, MOST_ROWS } from './block';
import { countClicks, countConversions } from './counting';
import type { SortFigure, Weights } from './figure';
import { Grouping } from './group';
import { Kernel } from './kernel';
import { Pairs } from './levels';
import { compareNames } from './order';
import { NO_SUMS, type Sums } from './sums';
import { warmUp } from './warm_up';

const names = Array.from({ length: 60_000 }, (_, i) => `v${i}`);
/** A column of so many values; codes by a rule, so that large ones need not be drawn. */
function columnBy(width: number, rows: number, codeOf: (row: number) => number): Column {
  const codes = Uint16Array.from({ length: rows }, (_, row) => codeOf(row) % width);
  return { values: names.slice(0, width), codes: width <= 256 ? new Uint8Array(codes) : codes };
}
/** The same numbers in every run, without any order. */
function scattered(row: number, seed: number): number {
  let mixed = Math.imul(row ^ Math.imul(seed + 1, 0x85ebca6b), 0x9e3779b1);
  mixed = Math.imul(mixed ^ (mixed >>> 15), 0xc2b2ae35);
  return (mixed ^ (mixed >>> 13)) >>> 0;
}

test('pairs keep their numbers while there are more and more', () => {
  const kernel = new Kernel();
  const pairs = new Pairs(kernel);
  const known = new Map<string, number>();
  let [lefts, rights] = [10, 10];
  for (let round = 0; round < 12; round++) {
    const count = 20_000;
    const left = Uint32Array.from({ length: count }, (_, i) => scattered(i, round) % lefts);
    const right = Uint32Array.from({ length: count }, (_, i) => scattered(i, round + 50) % rights);
    const at = kernel.put(left);
    pairs.join(at, kernel.put(right), count);
    const numbers = kernel.u32(at, count);
    for (let i = 0; i < count; i++) {
      const key = `${left[i]} ${right[i]}`;
      if (!known.has(key)) known.set(key, known.size);
      if (numbers[i] !== known.get(key)) throw new Error(`${key} is ${numbers[i]}, not ${known.get(key)}.`);
    }
    expect(pairs.count()).toBe(known.size);
    [lefts, rights] = [lefts * 3, Math.min(rights * 2, 9000)];
  }
  const [groups, values] = [kernel.put(Uint32Array.from({ length: 1000 }, (_, pair) => pair)), kernel.allocate(4000)];
  pairs.part(groups, values, 1000);
  const found = Array.from(kernel.u32(groups, 1000), (group, i) => `${group} ${kernel.u32(values, 1000)[i]}`);
  expect(found).toEqual([...known.keys()].slice(0, 1000));
});

const BY = ['sub1', 'sub2', 'sub3'];
interface Drawn {
  readonly rows: number;
  readonly widths: readonly number[];
  readonly conversions: boolean;
}
/** Clicks or conversions of so many values in each dimension. */
function blockOf({ rows, widths, conversions }: Drawn, seed: number): Block {
  const codes = (kinds: number): Uint8Array => Uint8Array.from({ length: rows }, (_, row) => row % kinds);
  const columns = new Map<string, Column>(
    conversions
      ? [
          ['state', { values: ['pending', 'paid', 'rejected'], codes: codes(3) }],
          ['commission', { values: ['0', '125'], codes: codes(2) }],
        ]
      : [
          ['unique', { values: ['unique', '', 'repeat'], codes: codes(3) }],
          ['cost', { values: ['', '310000'], codes: codes(2) }],
        ],
  );
  for (const [i, width] of widths.entries())
    columns.set(
      BY[i] ?? '',
      columnBy(width, rows, (row) => scattered(row, seed + 9 * i)),
    );
  return { rows, column: (name) => columns.get(name) ?? columnBy(1, rows, () => 0) };
}

/** Counts blocks in two places and row by row, and holds the one against the other. @returns how many groups there are */
function holdAgainstRecount(drawn: readonly Drawn[]): number {
  const by = BY.slice(0, drawn[0]?.widths.length);
  const [here, there] = [new Grouping(by, []), new Grouping(by, [])];
  const expected = new Map<string, number[]>();
  for (const [seed, each] of drawn.entries()) {
    const block = blockOf(each, seed);
    (seed % 2 === 0 ? here : there).add(block, each.conversions ? countConversions : countClicks);
    const columns = by.map((name) => block.column(name));
    for (let row = 0; row < each.rows; row++) {
      const key = columns.map(({ codes }) => `v${codes[row]}`).join();
      const sums = expected.get(key) ?? [0, 0, 0, 0, 0, 0, 0, 0];
      expected.set(key, sums);
      const [kind, odd] = [row % 3, row % 2];
      const more = each.conversions
        ? [0, 0, 0, 0, 1, kind === 1, kind !== 0, odd * 125]
        : [kind !== 1, kind === 0, kind === 1, kind === 1 ? 0 : odd * 310_000];
      for (const [figure, one] of more.entries()) sums[figure] = (sums[figure] ?? 0) + Number(one);
    }
  }
  here.absorb(structuredClone(there.grouped()));
  const result = here.result();
  const found = new Map(
    result.map(({ by: name, ...sums }) => [
      name.join(),
      [
        ...[sums.clicks, sums.uniques, sums.setAside, sums.cost],
        ...[sums.conversions, sums.approved, sums.decided, sums.commission],
      ],
    ]),
  );
  expect(result.length).toBe(expected.size);
  const wrong = [...expected].filter(([key, sums]) => found.get(key)?.join() !== sums.join());
  expect(wrong).toEqual([]);
  const { total, count } = here.best('name', true, 1);
  const sum = (figure: number): number => [...expected.values()].reduce((all, sums) => all + (sums[figure] ?? 0), 0);
  expect([count, total.clicks, total.cost, total.decided, total.commission]).toEqual([
    expected.size,
    ...[0, 3, 6, 7].map(sum),
  ]);
  // The next one counts in memory that was used.
  here.free();
  return result.length;
}

test('groups are those of a plain recount while their values become more, in two places', () => {
  // Few and many values, so that groups are cells, cells give way to larger ones, and these to pairs that are numbered.
  const drawn = fc.integer({ min: 0, max: 3 }).chain((dimensions) =>
    fc.array(
      fc.record({
        rows: fc.integer({ min: 1, max: 2000 }),
        widths: fc.array(fc.constantFrom(1, 2, 9, 300, 2500, 60_000), { minLength: dimensions, maxLength: dimensions }),
        conversions: fc.boolean(),
      }),
      { maxLength: 6 },
    ),
  );
  fc.assert(fc.property(drawn, (blocks) => void holdAgainstRecount(blocks)));
});

test('many groups from full blocks are those of a plain recount, also in memory that was warmed up', () => {
  warmUp();
  const full = { rows: MOST_ROWS, widths: [2500, 2500], conversions: false };
  expect(holdAgainstRecount([full, full, { ...full, rows: 9000, conversions: true }])).toBeGreaterThan(MOST_ROWS);
});

const SUMS = Object.keys(NO_SUMS) as (keyof Sums)[];
const weights = fc.dictionary(fc.constantFrom(...SUMS), fc.integer({ min: -3, max: 3 }), { maxKeys: 3 });
const weighed = (sums: Sums, by: Weights): number => SUMS.reduce((sum, name) => sum + (by[name] ?? 0) * sums[name], 0);
function plainFigure(sums: Sums, { of, over }: SortFigure): number {
  if (!over) return weighed(sums, of);
  const below = weighed(sums, over);
  return below === 0 ? -1 : weighed(sums, of) / below;
}

test('pages of the first groups by any figure are cut from a plain sort, equal ones by name', () => {
  const drawn = fc.record({
    widths: fc.array(fc.constantFrom(1, 9, 80), { minLength: 1, maxLength: 2 }),
    blocks: fc.array(fc.record({ rows: fc.integer({ min: 1, max: 400 }), conversions: fc.boolean() }), {
      maxLength: 4,
    }),
    figure: fc.oneof(fc.record({ of: weights }), fc.record({ of: weights, over: weights })),
    page: fc.record({ ascending: fc.boolean(), limit: fc.nat(60), offset: fc.nat(400) }),
  });
  fc.assert(
    fc.property(drawn, ({ widths, blocks, figure, page: { ascending, limit, offset } }) => {
      const grouping = new Grouping(BY.slice(0, widths.length), []);
      for (const [seed, block] of blocks.entries())
        grouping.add(blockOf({ ...block, widths }, seed), block.conversions ? countConversions : countClicks);
      const sorted = grouping.result().toSorted((a, b) => {
        const difference = plainFigure(a, figure) - plainFigure(b, figure);
        return (ascending ? difference : -difference) || compareNames(a.by, b.by);
      });
      for (const from of [0, offset])
        expect(grouping.best(figure, ascending, limit, from).groups).toEqual(sorted.slice(from, from + limit));
      grouping.free();
    }),
  );
});
