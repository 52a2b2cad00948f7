/** One column of a block: its distinct values, and for each row the place of its value among them. */
export interface Column {
  readonly values: readonly string[];
  readonly codes: Codes;
}
export type Codes = Uint8Array | Uint16Array;
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
  find?(name: string, value: string): { place: number; codes: Codes };
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

/**
 * Columns one behind the other: their values are compared, not what each row has.
 * @param rows of each; `MOST_ROWS` at most together
 */
export function joinColumns(columns: readonly Column[], rows: number): Column {
  const places = new Map<string, number>();
  const codes = new Uint16Array(columns.length * rows);
  let at = 0;
  for (const { values, codes: own } of columns) {
    const placesOfOwn = Uint16Array.from(values, (value) => {
      const place = places.get(value) ?? places.size;
      places.set(value, place);
      return place;
    });
    for (let row = 0; row < rows; row++) codes[at++] = placesOfOwn[own[row] as number] as number;
  }
  return { values: [...places.keys()], codes };
}

const withoutNul = ({ values, codes }: Column): Column =>
  joinColumns([{ values: values.map((value) => value.replaceAll(NUL, '\uFFFD')), codes }], codes.length);

/** @param column of at most `MOST_ROWS` rows; a NUL in a value is replaced, because it parts the values */
export function packColumn(column: Column): PackedColumn {
  const { values, codes } = column.values.some((value) => value.includes(NUL)) ? withoutNul(column) : column;
  const dictionary = Buffer.from(`${NUL}${values.join(NUL)}${NUL}`, 'utf8');
  if (values.length < 2) return { dictionary, codes: new Uint8Array() };
  if (values.length <= 256) return { dictionary, codes: new Uint8Array(codes) };
  return { dictionary, codes: new Uint8Array(codes.buffer, codes.byteOffset, codes.byteLength) };
}

export function openColumn({ dictionary, codes }: PackedColumn, rows: number): Column {
  const values = Buffer.from(dictionary.buffer, dictionary.byteOffset, dictionary.byteLength)
    .toString('utf8')
    .slice(1, -1)
    .split(NUL);
  return { values, codes: openCodes(codes, rows) };
}

/** The codes of a stored column as they stand, in one or two bytes. */
export const openCodes = (codes: Uint8Array, rows: number): Codes =>
  codes.byteLength === 0 ? ZEROS : codes.byteLength === rows ? codes : twoBytes(codes);

/** Where they stand, if their place allows that: they need not be copied then. */
function twoBytes(codes: Uint8Array): Uint16Array {
  const { buffer, byteOffset, byteLength } = codes.byteOffset % 2 === 0 ? codes : new Uint8Array(codes);
  return new Uint16Array(buffer, byteOffset, byteLength / 2);
}

/** The place of a value in a stored dictionary, or −1: the values before it are counted, not read. */
export function placeOf(dictionary: Buffer, value: string): number {
  const end = dictionary.indexOf(`${NUL}${value}${NUL}`);
  let place = end < 0 ? -1 : 0;
  for (let i = 0; i < end; i++) if (dictionary[i] === 0) place += 1;
  return place;
}

/** The rows of a block that pass all predicates, in their order; undefined when all do. */
export function passing(block: Block, predicates: readonly Predicate[]): Int32Array | undefined {
  let rows: Int32Array | undefined;
  for (const { field, exactly, test } of predicates) {
    if (rows?.length === 0) return rows;
    const found = exactly === undefined ? undefined : block.find?.(field, exactly);
    if (found) {
      if (found.place < 0) return NO_ROWS;
      if (found.codes !== ZEROS) rows = withCode(rows ?? allRows(block), found.codes, found.place);
      continue;
    }
    const { values, codes } = block.column(field);
    const good = Uint8Array.from(values, (value) => (test(value) ? 1 : 0));
    if (!good.includes(1)) return NO_ROWS;
    if (good.includes(0)) rows = withGoodCode(rows ?? allRows(block), codes, good);
  }
  return rows;
}

const NO_ROWS = new Int32Array();
const ROWS = Int32Array.from({ length: MOST_ROWS }, (_, row) => row);
const allRows = ({ rows }: Block): Int32Array => ROWS.subarray(0, rows);
/** Where rows are gathered: each is written, and stays if it passes, so that no row costs a wrong guess. */
const gathered = new Int32Array(MOST_ROWS);

function withCode(rows: Int32Array, codes: Codes, code: number): Int32Array {
  let count = 0;
  for (let i = 0; i < rows.length; i++) {
    const row = rows[i] as number;
    gathered[count] = row;
    count += codes[row] === code ? 1 : 0;
  }
  return gathered.slice(0, count);
}

function withGoodCode(rows: Int32Array, codes: Codes, good: Uint8Array): Int32Array {
  let count = 0;
  for (let i = 0; i < rows.length; i++) {
    const row = rows[i] as number;
    gathered[count] = row;
    count += good[codes[row] as number] as number;
  }
  return gathered.slice(0, count);
}

/** A block of some rows of another alone. */
export function pick(block: Block, rows: Int32Array): Block {
  function column(name: string): Column {
    const { values, codes } = block.column(name);
    if (values.length < 2) return { values, codes: ZEROS };
    const picked = new Uint16Array(rows.length);
    for (let i = 0; i < rows.length; i++) picked[i] = codes[rows[i] as number] as number;
    return { values, codes: picked };
  }
  return { rows: rows.length, column };
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
