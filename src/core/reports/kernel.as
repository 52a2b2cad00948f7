// The loops over rows and groups, in AssemblyScript: a third to a half of the time that they take in JavaScript.
// scripts/kernel.mjs compiles this into kernel_code.ts. Where anything lies in memory is for kernel.ts to say: an array
// is told by its first byte, `count` and `rows` by the number of its elements. Nothing is checked here.

/** Each row's cell becomes that with a further code: cell × width + code. */
export function widen(cells: usize, codes: usize, rows: u32, width: u32): void {
  for (let row: u32 = 0; row < rows; row++) {
    const cell = cells + (row << 2);
    store<u32>(cell, load<u32>(cell) * width + load<u16>(codes + (row << 1)));
  }
}

/**
 * Cells become numbers in the order in which they are met.
 * @param combos becomes the cell of each number
 * @param firsts becomes the row in which each number was met first
 * @param index a u32 for each cell there may be; zero, and left so
 * @returns how many numbers there are
 */
export function numberByIndex(cells: usize, rows: u32, combos: usize, firsts: usize, index: usize): u32 {
  let count: u32 = 0;
  for (let row: u32 = 0; row < rows; row++) {
    const cell = cells + (row << 2);
    const place = index + (load<u32>(cell) << 2);
    let number = load<u32>(place);
    if (number == 0) {
      store<u32>(combos + (count << 2), load<u32>(cell));
      store<u32>(firsts + (count << 2), row);
      number = ++count;
      store<u32>(place, number);
    }
    store<u32>(cell, number - 1);
  }
  for (let at: u32 = 0; at < count; at++) store<u32>(index + (load<u32>(combos + (at << 2)) << 2), 0);
  return count;
}

/** The same for cells of any size. @param slots pairs of u32, 2^(32 − shift) of them, at least twice as many as rows */
export function numberByHash(cells: usize, rows: u32, firsts: usize, slots: usize, shift: u32): u32 {
  const most: u32 = 1 << (32 - shift);
  memory.fill(slots, 0, most << 3);
  let count: u32 = 0;
  for (let row: u32 = 0; row < rows; row++) {
    const key = load<u32>(cells + (row << 2));
    let place: u32 = (key * 0x9e3779b1) >>> shift;
    let number = load<u32>(slots + (place << 3), 4);
    while (number != 0 && load<u32>(slots + (place << 3)) != key) {
      place = (place + 1) & (most - 1);
      number = load<u32>(slots + (place << 3), 4);
    }
    if (number == 0) {
      store<u32>(firsts + (count << 2), row);
      number = ++count;
      store<u32>(slots + (place << 3), key);
      store<u32>(slots + (place << 3), number, 4);
    }
    store<u32>(cells + (row << 2), number - 1);
  }
  return count;
}

/**
 * Adds each row to the four figures (f64) of its number: one to that which its code counts for, and, unless this is the
 * third, its amount to the fourth.
 */
export function addClicks(
  numbers: usize,
  rows: u32,
  codes: usize,
  kinds: usize,
  costs: usize,
  amounts: usize,
  sums: usize,
): void {
  for (let row: u32 = 0; row < rows; row++) {
    const own = sums + (load<u32>(numbers + (row << 2)) << 5);
    const kind: u32 = load<u8>(kinds + load<u16>(codes + (row << 1)));
    const figure = own + (kind << 3);
    const amount = load<f64>(amounts + (<u32>load<u16>(costs + (row << 1)) << 3));
    store<f64>(figure, load<f64>(figure) + 1);
    store<f64>(own, load<f64>(own, 24) + select<f64>(amount, 0, kind != 2), 24);
  }
}

/** Of each of these rows, what stands in the place of its code. */
export function lookUp(rows: usize, count: u32, codes: usize, table: usize, found: usize): void {
  for (let at: u32 = 0; at < count; at++) {
    const code: u32 = load<u16>(codes + (load<u32>(rows + (at << 2)) << 1));
    store<u32>(found + (at << 2), load<u32>(table + (code << 2)));
  }
}

/**
 * Each left and right becomes the number of their pair; new pairs get the next numbers.
 * @param index a u32 for each left × stride + right there may be: the pair's number and one, or zero
 * @param known the left and right (u32 each) of each pair
 * @returns how many pairs there are now
 */
export function pairByIndex(
  lefts: usize,
  rights: usize,
  count: u32,
  index: usize,
  stride: u32,
  known: usize,
  pairs: u32,
): u32 {
  for (let at: u32 = 0; at < count; at++) {
    const left = load<u32>(lefts + (at << 2));
    const right = load<u32>(rights + (at << 2));
    const place = index + ((left * stride + right) << 2);
    let pair = load<u32>(place);
    if (pair == 0) {
      store<u32>(known + (pairs << 3), left);
      store<u32>(known + (pairs << 3), right, 4);
      pair = ++pairs;
      store<u32>(place, pair);
    }
    store<u32>(lefts + (at << 2), pair - 1);
  }
  return pairs;
}

/** Writes the index of the pairs that are known into one that is empty. */
export function indexPairs(index: usize, stride: u32, known: usize, pairs: u32): void {
  for (let pair: u32 = 0; pair < pairs; pair++) {
    const left = load<u32>(known + (pair << 3));
    const right = load<u32>(known + (pair << 3), 4);
    store<u32>(index + ((left * stride + right) << 2), pair + 1);
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

/** As `pairByIndex`, by 2^(32 − shift) slots of a u32, at least twice as many as there will be pairs. */
export function pairByHash(
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

/** As `indexPairs`, for slots. */
export function hashPairs(slots: usize, shift: u32, known: usize, pairs: u32): void {
  for (let pair: u32 = 0; pair < pairs; pair++) {
    const own = known + (pair << 3);
    store<u32>(slotOf(load<u32>(own), load<u32>(own, 4), slots, shift, known), pair + 1);
  }
}

/** Adds four figures (f64) each to those of a group. */
export function addSums(groups: usize, count: u32, sums: usize, to: usize): void {
  for (let at: u32 = 0; at < count; at++) {
    const from = sums + (at << 5);
    const own = to + (load<u32>(groups + (at << 2)) << 5);
    store<f64>(own, load<f64>(own) + load<f64>(from));
    store<f64>(own, load<f64>(own, 8) + load<f64>(from, 8), 8);
    store<f64>(own, load<f64>(own, 16) + load<f64>(from, 16), 16);
    store<f64>(own, load<f64>(own, 24) + load<f64>(from, 24), 24);
  }
}
