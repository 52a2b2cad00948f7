/** One column of a block: its distinct values, and for each row the place of its value among them. */
export interface Column {
  readonly values: readonly string[];
  readonly codes: Uint16Array;
}
/** A column as it is stored. */
export interface PackedColumn {
  /** The distinct values in UTF-8, each between two NULs. */
  readonly dictionary: Uint8Array;
  /** One or two bytes a row, little-endian; empty where all rows have the first value. */
  readonly codes: Uint8Array;
}
/** A run of clicks, column by column. */
export interface Block {
  readonly rows: number;
  column(name: string): Column;
  /**
   * The codes of a column and the place of one value among its values, −1 where no row has it: without opening what
   * its values are. Absent where that is no cheaper than the column.
   */
  find?(name: string, value: string): { place: number; codes: Uint8Array | Uint16Array };
}

/** One condition on the rows of a block; all of several hold. */
export interface Predicate {
  readonly field: string;
  /** Set where one value alone passes. */
  readonly exactly?: string;
  test(value: string): boolean;
}

/** Rows of a block at most: the codes of any column then fit in 16 bits. */
export const MOST_ROWS = 65_536;
const NUL = '\u0000';
/** The codes of a column with one value, whatever the number of its rows. */
const ZEROS = new Uint16Array(MOST_ROWS);

export function columnOf(texts: readonly string[]): Column {
  const places = new Map<string, number>();
  const codes = new Uint16Array(texts.length);
  for (let i = 0; i < texts.length; i++) {
    const text = texts[i] ?? '';
    let place = places.get(text);
    if (place === undefined) places.set(text, (place = places.size));
    codes[i] = place;
  }
  return { values: [...places.keys()], codes };
}

/** @param texts at most `MOST_ROWS` of them; a NUL in one is replaced, because it parts the values */
export function packColumn(texts: readonly string[]): PackedColumn {
  const { values, codes } = columnOf(texts.map((text) => (text.includes(NUL) ? text.replaceAll(NUL, '\uFFFD') : text)));
  const dictionary = Buffer.from(`${NUL}${values.join(NUL)}${NUL}`, 'utf8');
  if (values.length < 2) return { dictionary, codes: new Uint8Array() };
  if (values.length <= 256) return { dictionary, codes: new Uint8Array(codes) };
  return { dictionary, codes: new Uint8Array(codes.buffer) };
}

export function openColumn({ dictionary, codes }: PackedColumn, rows: number): Column {
  const values = Buffer.from(dictionary.buffer, dictionary.byteOffset, dictionary.byteLength)
    .toString('utf8')
    .slice(1, -1)
    .split(NUL);
  if (codes.byteLength === 0) return { values, codes: ZEROS };
  // All codes have one width here, so that the loops over them meet one kind of array.
  return { values, codes: codes.byteLength === rows ? new Uint16Array(codes) : new Uint16Array(codes.slice().buffer) };
}

/** The codes of a stored column as they stand, in one or two bytes. */
export const openCodes = (codes: Uint8Array, rows: number): Uint8Array | Uint16Array =>
  codes.byteLength === 0 ? ZEROS : codes.byteLength === rows ? codes : new Uint16Array(codes.slice().buffer);

/** The place of a value in a stored dictionary, or −1: the values before it are counted, not read. */
export function placeOf(dictionary: Buffer, value: string): number {
  const end = dictionary.indexOf(`${NUL}${value}${NUL}`);
  let place = end < 0 ? -1 : 0;
  for (let i = 0; i < end; i++) if (dictionary[i] === 0) place += 1;
  return place;
}

/**
 * The rows of a block that pass all predicates.
 * @returns undefined when all do, else one byte a row
 */
export function passing(block: Block, predicates: readonly Predicate[]): Uint8Array | undefined {
  let kept: Uint8Array | undefined;
  for (const { field, exactly, test } of predicates) {
    const found = exactly === undefined ? undefined : block.find?.(field, exactly);
    if (found) {
      if (found.place < 0) return new Uint8Array(block.rows);
      if (found.codes !== ZEROS) kept = equal(found.codes, found.place, kept, block.rows);
      continue;
    }
    const { values, codes } = block.column(field);
    const good = Uint8Array.from(values, (value) => (test(value) ? 1 : 0));
    if (good.every((each) => each === 1)) continue;
    if (!kept) {
      kept = new Uint8Array(block.rows);
      for (let i = 0; i < block.rows; i++) kept[i] = good[codes[i] ?? 0] ?? 0;
    } else for (let i = 0; i < block.rows; i++) kept[i] = (kept[i] ?? 0) & (good[codes[i] ?? 0] ?? 0);
  }
  return kept;
}

function equal(codes: Uint8Array | Uint16Array, place: number, kept: Uint8Array | undefined, rows: number): Uint8Array {
  const next = kept ?? new Uint8Array(rows).fill(1);
  for (let i = 0; i < rows; i++) if (codes[i] !== place) next[i] = 0;
  return next;
}

/**
 * The column of a part of a composite sub-ID, made from the slot and the link, whose layout says where the parts are.
 * @param partOf the part's value, by link and recorded text
 */
export function partColumn(block: Block, slot: string, partOf: (link: string, text: string) => string): Column {
  const [link, whole] = [block.column('link'), block.column(slot)];
  const known = new Map<number, number>();
  const places = new Map<string, number>();
  const codes = new Uint16Array(block.rows);
  for (let i = 0; i < block.rows; i++) {
    const pair = (link.codes[i] ?? 0) * 65_536 + (whole.codes[i] ?? 0);
    let place = known.get(pair);
    if (place === undefined) {
      const part = partOf(valueAt(link, i), valueAt(whole, i));
      place = places.get(part) ?? places.size;
      places.set(part, place);
      known.set(pair, place);
    }
    codes[i] = place;
  }
  return { values: [...places.keys()], codes };
}

export const valueAt = ({ values, codes }: Column, row: number): string => values[codes[row] ?? 0] ?? '';
