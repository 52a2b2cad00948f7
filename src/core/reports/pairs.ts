/**
 * Pairs of numbers by number: a table of cells while there are few enough, else open addressing. A map of objects
 * would cost several times the rest of a report.
 */
export class Pairs {
  private static readonly MOST_CELLS = 1 << 22;
  private static readonly CELLS = 1 << 16;
  private stride = 64;
  private cells: Int32Array | undefined = new Int32Array(Pairs.CELLS).fill(-1);
  private lefts = new Int32Array(0);
  private rights = new Int32Array(0);
  private slots = new Int32Array(0);
  count = 0;
  /** The pair of each number. */
  private left = new Int32Array(1024);
  private right = new Int32Array(1024);

  number(left: number, right: number): number {
    if (this.cells && right < this.stride && (left + 1) * this.stride <= this.cells.length) {
      const cell = left * this.stride + right;
      const known = this.cells[cell] ?? -1;
      if (known >= 0) return known;
      return (this.cells[cell] = this.add(left, right));
    }
    return this.cells ? this.widen(left, right) : this.hashed(left, right);
  }

  /** Each row's group becomes that of the pair of group and value. */
  numberAll(groups: Int32Array, codes: Uint16Array, numbers: Int32Array): void {
    let { cells, stride } = this;
    for (let row = 0; row < groups.length; row++) {
      const group = groups[row] as number;
      if (group < 0) continue;
      const value = numbers[codes[row] as number] as number;
      const cell = group * stride + value;
      const known = cells && value < stride && cell < cells.length ? (cells[cell] as number) : -1;
      if (known >= 0) groups[row] = known;
      else {
        groups[row] = this.number(group, value);
        ({ cells, stride } = this);
      }
    }
  }

  private add(left: number, right: number): number {
    if (this.count === this.left.length) {
      this.left = grown(this.left);
      this.right = grown(this.right);
    }
    this.left[this.count] = left;
    this.right[this.count] = right;
    return this.count++;
  }

  /** More rows or a longer stride; past the most cells, hashing takes over. */
  private widen(left: number, right: number): number {
    while (right >= this.stride) this.stride *= 2;
    let rows = 64;
    while (rows <= left) rows *= 2;
    const highest = this.left.subarray(0, this.count).reduce((most, each) => Math.max(most, each), 0);
    while (rows <= highest) rows *= 2;
    const size = rows * this.stride;
    this.cells = size <= Pairs.MOST_CELLS ? new Int32Array(Math.max(size, Pairs.CELLS)).fill(-1) : undefined;
    if (this.cells)
      for (let i = 0; i < this.count; i++) this.cells[(this.left[i] ?? 0) * this.stride + (this.right[i] ?? 0)] = i;
    else this.rehash(1 << 20);
    return this.number(left, right);
  }

  private slotOf(left: number, right: number): number {
    const mask = this.slots.length - 1;
    let slot = (Math.imul(left, 0x9e3779b1) ^ Math.imul(right, 0x85ebca6b)) & mask;
    while (this.slots[slot] !== -1 && (this.lefts[slot] !== left || this.rights[slot] !== right))
      slot = (slot + 1) & mask;
    return slot;
  }
  private hashed(left: number, right: number): number {
    const slot = this.slotOf(left, right);
    const known = this.slots[slot] ?? -1;
    if (known >= 0) return known;
    const added = this.add(left, right);
    this.fill(slot, added);
    if (this.count * 2 > this.slots.length) this.rehash(this.slots.length * 2);
    return added;
  }
  private fill(slot: number, number: number): void {
    this.lefts[slot] = this.left[number] ?? 0;
    this.rights[slot] = this.right[number] ?? 0;
    this.slots[slot] = number;
  }
  private rehash(size: number): void {
    let slots = size;
    while (slots < this.count * 2) slots *= 2;
    this.slots = new Int32Array(slots).fill(-1);
    this.lefts = new Int32Array(slots);
    this.rights = new Int32Array(slots);
    for (let i = 0; i < this.count; i++) this.fill(this.slotOf(this.left[i] ?? 0, this.right[i] ?? 0), i);
  }

  all(): { left: Int32Array; right: Int32Array } {
    return { left: this.left.slice(0, this.count), right: this.right.slice(0, this.count) };
  }
  pair(number: number): [left: number, right: number] {
    return [this.left[number] ?? 0, this.right[number] ?? 0];
  }
}

function grown(array: Int32Array): Int32Array<ArrayBuffer> {
  const larger = new Int32Array(array.length * 2);
  larger.set(array);
  return larger;
}
