/** Parts of a sketch: a value falls into one of them, so that no other has to be read. */
export const SKETCH_PARTS = 256;
/** Bits of a part: about ten for each of the 256 values that a full block has for it, so that one in a hundred misleads. */
const PART_BITS = 2560;
const HASHES = 7;

/** FNV-1a over UTF-16 units, mixed once more: two halves that do not follow from one another. */
function hashes(value: string): [part: number, first: number, step: number] {
  let hash = 0x811c9dc5;
  for (let i = 0; i < value.length; i++) hash = Math.imul(hash ^ value.charCodeAt(i), 0x01000193);
  const mixed = Math.imul(hash ^ (hash >>> 15), 0x2c1b3c6d);
  const again = Math.imul(mixed ^ (mixed >>> 12), 0x297a2d39);
  return [hash & (SKETCH_PARTS - 1), mixed >>> 0, (again >>> 0) | 1];
}

const bitAt = (first: number, step: number, i: number): number => ((first + Math.imul(step, i)) >>> 0) % PART_BITS;

/** The part of a sketch into which a value falls. */
export const sketchPart = (value: string): number => hashes(value)[0];

/**
 * A Bloom filter (B. Bloom, 1970) of the values of a column, in parts.
 * @returns the bits of each part
 */
export function sketch(values: Iterable<string>): Uint8Array[] {
  const parts = Array.from({ length: SKETCH_PARTS }, () => new Uint8Array(PART_BITS / 8));
  for (const value of values) {
    const [part, first, step] = hashes(value);
    const bits = parts[part] ?? new Uint8Array();
    for (let i = 0; i < HASHES; i++) {
      const bit = bitAt(first, step, i);
      bits[bit >> 3] = (bits[bit >> 3] ?? 0) | (1 << (bit & 7));
    }
  }
  return parts;
}

/** Whether a value may be among those of a sketch, told by its part; when not, it is not. */
export function mayHave(bits: Uint8Array, value: string): boolean {
  const [, first, step] = hashes(value);
  for (let i = 0; i < HASHES; i++) {
    const bit = bitAt(first, step, i);
    if (((bits[bit >> 3] ?? 0) & (1 << (bit & 7))) === 0) return false;
  }
  return true;
}
