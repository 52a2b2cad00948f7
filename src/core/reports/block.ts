/** One column of a block: its distinct values, and for each row the place of its value among them. */
export interface Column {
  readonly values: readonly string[];
  /** One entry a row; absent where all rows have the first value. */
  readonly codes?: Uint8Array | Uint16Array;
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
  /** False when no row can have this value; a cheap look before a column is opened. */
  mayHave?(name: string, value: string): boolean;
}

/** One condition on the rows of a block; all of several hold. */
export interface Predicate {
  readonly field: string;
  /** Set where one value alone passes. */
  readonly exactly?: string;
  test(value: string): boolean;
}

/** Rows of a block at most: the codes of any column then fit in 16 bits. */
export const MOST_ROWS = 32_768;
const NUL = '\u0000';

export function columnOf(texts: readonly string[]): Column {
  const places = new Map<string, number>();
  const codes = new Uint16Array(texts.length);
  for (let i = 0; i < texts.length; i++) {
    const text = texts[i] ?? '';
    let place = places.get(text);
    if (place === undefined) places.set(text, (place = places.size));
    codes[i] = place;
  }
  return { values: [...places.keys()], ...(places.size > 1 && { codes }) };
}

/** @param texts at most `MOST_ROWS` of them; a NUL in one is replaced, because it parts the values */
export function packColumn(texts: readonly string[]): PackedColumn {
  const { values, codes } = columnOf(texts.map((text) => (text.includes(NUL) ? text.replaceAll(NUL, '\uFFFD') : text)));
  const dictionary = Buffer.from(`${NUL}${values.join(NUL)}${NUL}`, 'utf8');
  if (!codes) return { dictionary, codes: new Uint8Array() };
  if (values.length <= 256) return { dictionary, codes: Uint8Array.from(codes) };
  return { dictionary, codes: new Uint8Array(codes.buffer) };
}

export function openColumn({ dictionary, codes }: PackedColumn, rows: number): Column {
  const values = Buffer.from(dictionary.buffer, dictionary.byteOffset, dictionary.byteLength)
    .toString('utf8')
    .slice(1, -1)
    .split(NUL);
  if (codes.byteLength === 0) return { values };
  return {
    values,
    codes: codes.byteLength === rows ? codes : new Uint16Array(codes.slice().buffer),
  };
}

/** Whether a stored column has a value, without opening it. */
export const hasValue = (dictionary: Buffer, value: string): boolean => dictionary.includes(`${NUL}${value}${NUL}`);

/**
 * The rows of a block that pass all predicates.
 * @returns undefined when all do, else one byte a row
 */
export function passing(block: Block, predicates: readonly Predicate[]): Uint8Array | undefined {
  let kept: Uint8Array | undefined;
  for (const { field, exactly, test } of predicates) {
    if (exactly !== undefined && block.mayHave?.(field, exactly) === false) return new Uint8Array(block.rows);
    const { values, codes } = block.column(field);
    const good = Uint8Array.from(values, (value) => (test(value) ? 1 : 0));
    if (good.every((each) => each === 1)) continue;
    kept ??= new Uint8Array(block.rows).fill(1);
    if (!codes) kept.fill(good[0] ?? 0);
    else for (let i = 0; i < codes.length; i++) kept[i] = (kept[i] ?? 0) & (good[codes[i] ?? 0] ?? 0);
  }
  return kept;
}

/**
 * Folds columns into one: rows get the same number exactly when they agree in all columns.
 * @returns the number of each row, and for each number a row that has it
 */
export function fold(columns: readonly Column[], rows: number): { ids: Uint16Array; samples: number[] } {
  let ids = new Uint16Array(rows);
  let samples = rows > 0 ? [0] : [];
  for (const { values, codes } of columns) {
    if (!codes) continue;
    const folded = foldIn(ids, codes, values.length, rows);
    ids = folded.ids;
    samples = folded.samples;
  }
  return { ids, samples };
}

const SLOTS = 4 * MOST_ROWS;
const slotKeys = new Int32Array(SLOTS);
const slotIds = new Uint16Array(SLOTS);

/** Open addressing over flat arrays: a map of objects would cost several times the rest of a report. */
function foldIn(before: Uint16Array, codes: Uint8Array | Uint16Array, distinct: number, rows: number) {
  slotKeys.fill(-1);
  const ids = new Uint16Array(rows);
  const samples: number[] = [];
  for (let i = 0; i < rows; i++) {
    const key = (before[i] ?? 0) * distinct + (codes[i] ?? 0);
    let slot = (Math.imul(key, 0x9e3779b1) >>> 0) % SLOTS;
    while (slotKeys[slot] !== key && slotKeys[slot] !== -1) slot = slot + 1 === SLOTS ? 0 : slot + 1;
    if (slotKeys[slot] === -1) {
      slotKeys[slot] = key;
      slotIds[slot] = samples.length;
      samples.push(i);
    }
    ids[i] = slotIds[slot] ?? 0;
  }
  return { ids, samples };
}

export const valueAt = ({ values, codes }: Column, row: number): string => values[codes ? (codes[row] ?? 0) : 0] ?? '';

/**
 * The column of a part of a composite sub-ID, made from the slot and the link, whose layout says where the parts are.
 * @param partOf the part's value, by link and recorded text
 */
export function partColumn(block: Block, slot: string, partOf: (link: string, text: string) => string): Column {
  const [link, whole] = [block.column('link'), block.column(slot)];
  const { ids, samples } = fold([link, whole], block.rows);
  const parts = columnOf(samples.map((row) => partOf(valueAt(link, row), valueAt(whole, row))));
  if (!parts.codes) return parts;
  return { values: parts.values, codes: Uint16Array.from(ids, (id) => parts.codes?.[id] ?? 0) };
}
