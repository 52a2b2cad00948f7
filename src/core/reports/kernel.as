// The loops over rows and groups, in AssemblyScript: a third to a half of the time that they take in JavaScript.
// scripts/kernel.mjs compiles this into kernel_code.ts. Where anything lies in memory is for kernel.ts to say: an array
// is told by its first byte, `count` and `rows` by the number of its elements. Nothing is checked here.

/** Rows whose groups are fetched together. */
const TOGETHER: u32 = 128;

/**
 * Counts each row for its group: one more of the kind that its code is of, and its amount, unless the kind is free of it.
 * @param far whether groups are too many for the caches: their counts are fetched some rows at a time then, because the
 * machine waits for many at once as long as for one
 * @param sums of each group the first two kinds (u32) and the amount (f64), so that most rows need one place
 * @param thirds of each group the third kind (u32)
 */
export function countRows(
  groups: usize,
  rows: u32,
  codes: usize,
  kinds: usize,
  amountCodes: usize,
  amounts: usize,
  free: u32,
  sums: usize,
  thirds: usize,
  far: bool,
): void {
  for (let from: u32 = 0; from < rows; from += TOGETHER) {
    const to = min(from + TOGETHER, rows);
    if (far) for (let row = from; row < to; row++) load<u32>(sums + (load<u32>(groups + (row << 2)) << 4));
    for (let row = from; row < to; row++) {
      const group = load<u32>(groups + (row << 2));
      const kind: u32 = load<u8>(kinds + load<u16>(codes + (row << 1)));
      const amount = load<f64>(amounts + (<u32>load<u16>(amountCodes + (row << 1)) << 3));
      const own = sums + (group << 4);
      const count = select<usize>(thirds + (group << 2), own + (kind << 2), kind == 2);
      store<u32>(count, load<u32>(count) + 1);
      store<f64>(own, load<f64>(own, 8) + select<f64>(0, amount, kind == free), 8);
    }
  }
}

/** Of each row, what stands in the place of its code. */
export function lookUp(codes: usize, rows: u32, table: usize, found: usize): void {
  for (let row: u32 = 0; row < rows; row++) {
    const code: u32 = load<u16>(codes + (row << 1));
    store<u32>(found + (row << 2), load<u32>(table + (code << 2)));
  }
}

/** Of each row, its group becomes the cell of group and further value: group × width + what stands in the place of its code. */
export function lookUpCells(codes: usize, rows: u32, table: usize, groups: usize, width: u32): void {
  for (let row: u32 = 0; row < rows; row++) {
    const code: u32 = load<u16>(codes + (row << 1));
    const group = groups + (row << 2);
    store<u32>(group, load<u32>(group) * width + load<u32>(table + (code << 2)));
  }
}

/** The place among 2^(32 − shift) slots where a pair stands, or where it would. */
function slotOf(left: u32, right: u32, slots: usize, shift: u32, known: usize): usize {
  const mask: u32 = (1 << (32 - shift)) - 1;
  let place: u32 = ((left * 0x9e3779b1) ^ (right * 0x85ebca6b)) * 0xc2b2ae35 >>> shift;
  while (true) {
    const slot = slots + (place << 2);
    const pair = load<u32>(slot);
    if (pair == 0) return slot;
    const own = known + ((pair - 1) << 3);
    if (load<u32>(own) == left && load<u32>(own, 4) == right) return slot;
    place = (place + 1) & mask;
  }
}

/**
 * Each left and right becomes the number of their pair; new pairs get the next numbers.
 * @param slots 2^(32 − shift) of a u32, at least twice as many as there will be pairs
 * @param known the left and right (u32 each) of each pair
 * @returns how many pairs there are now
 */
export function numberPairs(
  lefts: usize,
  rights: usize,
  count: u32,
  slots: usize,
  shift: u32,
  known: usize,
  pairs: u32,
): u32 {
  for (let at: u32 = 0; at < count; at++) {
    const left = load<u32>(lefts + (at << 2));
    const right = load<u32>(rights + (at << 2));
    const slot = slotOf(left, right, slots, shift, known);
    let pair = load<u32>(slot);
    if (pair == 0) {
      store<u32>(known + (pairs << 3), left);
      store<u32>(known + (pairs << 3), right, 4);
      pair = ++pairs;
      store<u32>(slot, pair);
    }
    store<u32>(lefts + (at << 2), pair - 1);
  }
  return pairs;
}

/** Writes the pairs that are known into slots that are empty. */
export function placePairs(slots: usize, shift: u32, known: usize, pairs: u32): void {
  for (let pair: u32 = 0; pair < pairs; pair++) {
    const own = known + (pair << 3);
    store<u32>(slotOf(load<u32>(own), load<u32>(own, 4), slots, shift, known), pair + 1);
  }
}

/** Adds to the counts and amounts of groups those that they have elsewhere, which stand in the order of `groups`. */
export function addSums(groups: usize, count: u32, fromSums: usize, fromThirds: usize, sums: usize, thirds: usize): void {
  for (let at: u32 = 0; at < count; at++) {
    const group = load<u32>(groups + (at << 2));
    const from = fromSums + (at << 4);
    const own = sums + (group << 4);
    store<u32>(own, load<u32>(own) + load<u32>(from));
    store<u32>(own, load<u32>(own, 4) + load<u32>(from, 4), 4);
    store<f64>(own, load<f64>(own, 8) + load<f64>(from, 8), 8);
    const third = thirds + (group << 2);
    store<u32>(third, load<u32>(third) + load<u32>(fromThirds + (at << 2)));
  }
}

/** The groups of which something was counted in one of two tallies, in order. @returns how many there are */
export function counted(
  sums: usize,
  thirds: usize,
  otherSums: usize,
  otherThirds: usize,
  count: u32,
  found: usize,
): u32 {
  let many: u32 = 0;
  for (let group: u32 = 0; group < count; group++) {
    // The first two kinds at once.
    const any =
      load<u64>(sums + (group << 4)) |
      load<u64>(otherSums + (group << 4)) |
      <u64>load<u32>(thirds + (group << 2)) |
      <u64>load<u32>(otherThirds + (group << 2));
    store<u32>(found + (many << 2), group);
    many += any != 0 ? 1 : 0;
  }
  return many;
}

/** Counts and amounts of some groups, in their order. */
export function gather(groups: usize, count: u32, sums: usize, thirds: usize, toSums: usize, toThirds: usize): void {
  for (let at: u32 = 0; at < count; at++) {
    const group = load<u32>(groups + (at << 2));
    store<u64>(toSums + (at << 4), load<u64>(sums + (group << 4)));
    store<u64>(toSums + (at << 4), load<u64>(sums + (group << 4), 8), 8);
    store<u32>(toThirds + (at << 2), load<u32>(thirds + (group << 2)));
  }
}

/** The three counts and the amount of some groups together, as f64. */
export function total(groups: usize, count: u32, sums: usize, thirds: usize, to: usize): void {
  let first: u64 = 0;
  let second: u64 = 0;
  let third: u64 = 0;
  let amount: f64 = 0;
  for (let at: u32 = 0; at < count; at++) {
    const group = load<u32>(groups + (at << 2));
    const own = sums + (group << 4);
    first += load<u32>(own);
    second += load<u32>(own, 4);
    amount += load<f64>(own, 8);
    third += load<u32>(thirds + (group << 2));
  }
  store<f64>(to, <f64>first);
  store<f64>(to, <f64>second, 8);
  store<f64>(to, <f64>third, 16);
  store<f64>(to, amount, 24);
}

/** What was counted of a group, each so many times. @param weights of its three kinds and its amount (f64) */
function weighed(group: u32, sums: usize, thirds: usize, weights: usize): f64 {
  const own = sums + (group << 4);
  return (
    load<f64>(weights) * <f64>load<u32>(own) +
    load<f64>(weights, 8) * <f64>load<u32>(own, 4) +
    load<f64>(weights, 16) * <f64>load<u32>(thirds + (group << 2)) +
    load<f64>(weights, 24) * load<f64>(own, 8)
  );
}

/**
 * A figure of each of some groups: what was counted of it in two tallies, each so many times, over the same by other weights.
 * @param weights four for each tally, and as many for what is below (f64)
 * @param whole whether nothing is below; else a figure is −1 where that is zero
 * @param sign 1 or −1 times each figure
 * @param figures one of each group (f64)
 */
export function figuresOf(
  groups: usize,
  count: u32,
  sums: usize,
  thirds: usize,
  otherSums: usize,
  otherThirds: usize,
  weights: usize,
  whole: bool,
  sign: f64,
  figures: usize,
): void {
  for (let at: u32 = 0; at < count; at++) {
    const group = load<u32>(groups + (at << 2));
    let figure =
      weighed(group, sums, thirds, weights) + weighed(group, otherSums, otherThirds, weights + 32);
    if (!whole) {
      const below =
        weighed(group, sums, thirds, weights + 64) + weighed(group, otherSums, otherThirds, weights + 96);
      figure = below == 0 ? -1 : figure / below;
    }
    store<f64>(figures + (at << 3), sign * figure);
  }
}

/** Lets a number sink in a heap whose largest is on top. */
function sink(heap: usize, most: u32, from: u32, number: f64): void {
  let at: u32 = from;
  for (let child: u32 = 2 * at + 1; child < most; child = 2 * at + 1) {
    if (child + 1 < most && load<f64>(heap + ((child + 1) << 3)) > load<f64>(heap + (child << 3))) child++;
    if (load<f64>(heap + (child << 3)) <= number) break;
    store<f64>(heap + (at << 3), load<f64>(heap + (child << 3)));
    at = child;
  }
  store<f64>(heap + (at << 3), number);
}

/**
 * The places of some numbers (f64) that are not beyond the so-manieth smallest: at least so many.
 * @param most 1 to `count`
 * @param heap room for so many numbers
 * @param found the places, in order
 * @returns how many there are
 */
export function smallest(numbers: usize, count: u32, most: u32, heap: usize, found: usize): u32 {
  memory.copy(heap, numbers, most << 3);
  for (let at: u32 = most >>> 1; at > 0; at--) sink(heap, most, at - 1, load<f64>(heap + ((at - 1) << 3)));
  for (let at: u32 = most; at < count; at++) {
    const number = load<f64>(numbers + (at << 3));
    if (number < load<f64>(heap)) sink(heap, most, 0, number);
  }
  const limit = load<f64>(heap);
  let many: u32 = 0;
  for (let at: u32 = 0; at < count; at++) {
    store<u32>(found + (many << 2), at);
    many += load<f64>(numbers + (at << 3)) <= limit ? 1 : 0;
  }
  return many;
}

/** Each left number becomes the cell of its pair: left × width + right. */
export function toCells(lefts: usize, count: u32, width: u32, rights: usize): void {
  for (let at: u32 = 0; at < count; at++) {
    const own = lefts + (at << 2);
    store<u32>(own, load<u32>(own) * width + load<u32>(rights + (at << 2)));
  }
}

/** The other way: each cell becomes its left number. @param rights becomes the right number of each */
export function fromCells(cells: usize, count: u32, width: u32, rights: usize): void {
  for (let at: u32 = 0; at < count; at++) {
    const own = cells + (at << 2);
    const cell = load<u32>(own);
    store<u32>(own, cell / width);
    store<u32>(rights + (at << 2), cell % width);
  }
}

/** As `fromCells`, of pairs that are known by number. */
export function fromPairs(pairs: usize, count: u32, known: usize, rights: usize): void {
  for (let at: u32 = 0; at < count; at++) {
    const own = pairs + (at << 2);
    const pair = known + (load<u32>(own) << 3);
    store<u32>(own, load<u32>(pair));
    store<u32>(rights + (at << 2), load<u32>(pair, 4));
  }
}

/** Each number becomes what stands in its place in a table. */
export function exchange(numbers: usize, count: u32, table: usize): void {
  for (let at: u32 = 0; at < count; at++) {
    const own = numbers + (at << 2);
    store<u32>(own, load<u32>(table + (load<u32>(own) << 2)));
  }
}
