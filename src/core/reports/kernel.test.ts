import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { type Block, type Column, MOST_ROWS } from './block';
import { countClicks } from './counting';
import { Grouping } from './group';
import { Kernel } from './kernel';
import { Pairs } from './pairs';

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

describe('rows are numbered by their combinations', () => {
  const drawn = fc.record({
    rows: fc.integer({ min: 0, max: 3000 }),
    // Few and many values, so that combinations are found by the index, by hashing, and in more than one step.
    widths: fc.array(fc.constantFrom(1, 2, 7, 300, 5000, 60_000), { maxLength: 5 }),
    seed: fc.nat({ max: 1000 }),
  });

  test('as a map of them numbers them, whatever was numbered before', () => {
    const kernel = new Kernel();
    fc.assert(
      fc.property(drawn, ({ rows, widths, seed }) => {
        const columns = widths.map((width, i) => columnBy(width, rows, (row) => scattered(row, seed * (i + 1))));
        const numbered = kernel.numberRows(rows, columns);
        const numbers = kernel.numbersOf(numbered);
        const known = new Map<string, number>();
        const expected = Array.from({ length: rows }, (_, row) => {
          const key = columns.map(({ codes }) => codes[row]).join();
          return known.get(key) ?? (known.set(key, known.size), known.size - 1);
        });
        expect([...numbers]).toEqual(expected);
        const firsts = kernel.u32(kernel.firsts, numbered.count);
        const combinations = Array.from(firsts, (row) => columns.map(({ codes }) => codes[row]).join());
        expect(combinations).toEqual([...known.keys()]);
        expect(numbered.count).toBe(known.size);
      }),
    );
  });
});

test('pairs keep their numbers while the index grows and gives way to hashing', () => {
  const kernel = new Kernel();
  const pairs = new Pairs(kernel);
  const known = new Map<string, number>();
  let [lefts, rights] = [10, 10];
  for (let round = 0; round < 12; round++) {
    const count = 20_000;
    const [cells, wanted] = [kernel.u32(kernel.cells, count), kernel.u32(kernel.wanted, count)];
    for (let i = 0; i < count; i++)
      [cells[i], wanted[i]] = [scattered(i, round) % lefts, scattered(i, round + 50) % rights];
    const [left, right] = [cells.slice(), wanted.slice()];
    pairs.number(count, lefts, rights);
    const numbers = kernel.u32(kernel.cells, count);
    for (let i = 0; i < count; i++) {
      const key = `${left[i]} ${right[i]}`;
      if (!known.has(key)) known.set(key, known.size);
      if (numbers[i] !== known.get(key)) throw new Error(`${key} is ${numbers[i]}, not ${known.get(key)}.`);
    }
    expect(pairs.count).toBe(known.size);
    [lefts, rights] = [lefts * 3, Math.min(rights * 2, 9000)];
  }
  expect(lefts * rights).toBeGreaterThan(2 ** 32);
  expect([...pairs.all().slice(0, 2000)].join(' ')).toBe([...known.keys()].slice(0, 1000).join(' '));
});

test('many groups from full blocks, counted in two places, are those of a plain recount', () => {
  const blocks = Array.from({ length: 3 }, (_, seed): Block => {
    const columns = new Map([
      ['sub1', columnBy(2500, MOST_ROWS, (row) => scattered(row, seed))],
      ['sub2', columnBy(2500, MOST_ROWS, (row) => scattered(row, seed + 9))],
      ['unique', { values: ['unique', '', 'repeat'], codes: Uint8Array.from({ length: MOST_ROWS }, (__, i) => i % 3) }],
      ['cost', { values: ['', '310000'], codes: Uint8Array.from({ length: MOST_ROWS }, (__, i) => i % 2) }],
    ]);
    return { rows: MOST_ROWS, column: (name) => columns.get(name) ?? columnBy(1, MOST_ROWS, () => 0) };
  });
  const [here, there] = [new Grouping(['sub1', 'sub2'], []), new Grouping(['sub1', 'sub2'], [])];
  const expected = new Map<string, number[]>();
  for (const [i, block] of blocks.entries()) {
    (i === 0 ? here : there).add(block, countClicks);
    for (let row = 0; row < MOST_ROWS; row++) {
      const key = ['sub1', 'sub2'].map((name) => `v${block.column(name).codes[row]}`).join();
      const sums = expected.get(key) ?? [0, 0, 0, 0];
      expected.set(key, sums);
      const counted = row % 3 !== 1;
      for (const [figure, more] of [counted, row % 3 === 0, !counted].entries())
        sums[figure] = (sums[figure] ?? 0) + Number(more);
      if (counted && row % 2 === 1) sums[3] = (sums[3] ?? 0) + 310_000;
    }
  }
  here.absorb(there.grouped());
  const result = here.result();
  expect(result.length).toBeGreaterThan(MOST_ROWS);
  const found = new Map(result.map((g) => [g.by.join(), [g.clicks, g.uniques, g.setAside, g.cost]]));
  expect(found.size).toBe(expected.size);
  const wrong = [...expected].filter(([key, sums]) => found.get(key)?.join() !== sums.join());
  expect(wrong).toEqual([]);
});
