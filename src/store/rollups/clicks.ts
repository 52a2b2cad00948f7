import { LRUCache } from 'lru-cache';
import {
  type Block,
  type Column,
  type PackedColumn,
  MOST_ROWS,
  columnOf,
  openCodes,
  openColumn,
  joinColumns,
  packColumn,
  placeOf,
} from '@/core/reports/block';
import { CLICK_COLUMNS, type ClickColumn, type ClickFacts, isClickColumn } from '@/core/reports/columns';
import { mayHave, sketch, sketchPart } from '@/core/reports/sketch';
import type { Db } from '../database';

/** Under this name stands how often everything was made anew. */
export const REBUILDS = 'rebuilds';

/** A block whose row n is the click with the number `seqs(n)`; rows in the order of their numbers. */
export interface ClickBlock extends Block {
  readonly firstDay: string;
  readonly lastDay: string;
  seqAt(row: number): number;
}
interface BlockRow {
  firstSeq: number;
  rows: number;
  firstDay: string;
  lastDay: string;
}

const NOTHING = Buffer.alloc(0);

/** `unique` is a word of SQL; the names are ours, never input. */
const quoted = (name: ClickColumn): string => `"${name}"`;

/** Columns of rows that stand in a table, read when they are asked for. */
function tableColumns(read: (name: ClickColumn) => string[]): (name: string) => Column {
  const known = new Map<string, Column>();
  return (name) => {
    const column = known.get(name) ?? columnOf(isClickColumn(name) ? read(name) : []);
    known.set(name, column);
    return column;
  };
}

/** A short text takes about that much beside its letters. */
const TEXT_BYTES = 24;
const bytesOf = ({ values, codes }: Column): number =>
  values.reduce((sum, text) => sum + text.length + TEXT_BYTES, codes.byteLength);

/** Opened columns of full blocks, which never change unless all are made anew; none is kept until it is asked for. */
function keptColumns(db: Db, open: (firstSeq: number, name: string, rows: number) => Column) {
  const rebuilds = db.prepare<[], number>(`SELECT seq FROM positions WHERE name = '${REBUILDS}'`).pluck();
  let kept: LRUCache<string, Column> | undefined;
  let seen: number | undefined;
  return {
    /** @param mebibytes how much of them, at most */
    keep(mebibytes: number): void {
      kept = new LRUCache({ maxSize: mebibytes * 1024 * 1024, sizeCalculation: bytesOf });
    },
    /** Called within the transaction of a question, before its columns are asked for. */
    refresh(): void {
      const now = rebuilds.get();
      if (now !== seen) kept?.clear();
      seen = now;
    },
    column(firstSeq: number, name: string, rows: number): Column {
      if (!kept || rows < MOST_ROWS) return open(firstSeq, name, rows);
      const key = `${firstSeq} ${name}`;
      const known = kept.get(key);
      if (known) return known;
      const fresh = open(firstSeq, name, rows);
      kept.set(key, fresh);
      return fresh;
    },
  };
}

/** Clicks column by column: the newest in a table, the others in blocks. */
export function clickColumns(db: Db) {
  const BLOCK = 'SELECT first_seq AS firstSeq, rows, from_day AS firstDay, to_day AS lastDay FROM click_blocks';
  const blocks = db.prepare<[string, string, number], BlockRow>(
    `${BLOCK} WHERE to_day >= ? AND from_day <= ? AND rows < ? ORDER BY first_seq DESC`,
  );
  const block = db.prepare<[number], BlockRow>(`${BLOCK} WHERE first_seq = ?`);
  const full = db
    .prepare<[string, string, number], number>(
      'SELECT first_seq FROM click_blocks WHERE to_day >= ? AND from_day <= ? AND rows = ?',
    )
    .pluck();
  const dictionary = db
    .prepare<[number, string], Buffer>('SELECT dictionary FROM block_columns WHERE first_seq = ? AND name = ?')
    .pluck();
  const codes = db
    .prepare<[number, string], Buffer>('SELECT codes FROM block_columns WHERE first_seq = ? AND name = ?')
    .pluck();
  const column = db.prepare<[number, string], PackedColumn>(
    'SELECT dictionary, codes FROM block_columns WHERE first_seq = ? AND name = ?',
  );
  const opened = keptColumns(db, (firstSeq, name, rows) =>
    openColumn(column.get(firstSeq, name) ?? packColumn(columnOf([])), rows),
  );
  const recentSeqs = db.prepare<[], number>('SELECT seq FROM recent_clicks ORDER BY seq').pluck();
  const recent = new Map(
    CLICK_COLUMNS.map((name) => [
      name,
      db.prepare<[], string>(`SELECT ${quoted(name)} FROM recent_clicks ORDER BY seq`).pluck(),
    ]),
  );

  const partsOf = db.prepare<[string, number], { firstSeq: number; bits: Buffer }>(
    'SELECT first_seq AS firstSeq, bits FROM block_values WHERE name = ? AND part = ?',
  );

  /** Blocks of which a sketch says that they have not the value. Read once for all blocks of a question. */
  function lacking(): (name: string, value: string) => ReadonlySet<number> {
    const known = new Map<string, ReadonlySet<number>>();
    return (name, value) => {
      const key = `${name} ${value}`;
      const found =
        known.get(key) ??
        new Set(
          partsOf
            .all(name, sketchPart(value))
            .flatMap(({ firstSeq, bits }) => (mayHave(bits, value) ? [] : [firstSeq])),
        );
      known.set(key, found);
      return found;
    };
  }

  function openBlock({ firstSeq, rows, firstDay, lastDay }: BlockRow, without: ReturnType<typeof lacking>): ClickBlock {
    const known = new Map<string, Column>();
    return {
      ...{ rows, firstDay, lastDay },
      seqAt: (row) => firstSeq + row,
      find(name, value) {
        if (without(name, value).has(firstSeq)) return { place: -1, codes: openCodes(NOTHING, rows) };
        const place = placeOf(dictionary.get(firstSeq, name) ?? NOTHING, value);
        return { place, codes: openCodes(place < 0 ? NOTHING : (codes.get(firstSeq, name) ?? NOTHING), rows) };
      },
      column(name) {
        const found = known.get(name) ?? opened.column(firstSeq, name, rows);
        known.set(name, found);
        return found;
      },
    };
  }

  function recentBlock(): ClickBlock | undefined {
    const seqs = recentSeqs.all();
    if (seqs.length === 0) return undefined;
    const days = recent.get('day')?.all() ?? [];
    const sorted = [...new Set(days)].sort();
    return {
      ...{ rows: seqs.length, firstDay: sorted[0] ?? '', lastDay: sorted.at(-1) ?? '' },
      seqAt: (row) => seqs[row] ?? 0,
      column: tableColumns((name) => recent.get(name)?.all() ?? []),
    };
  }

  const blockFrom = db
    .prepare<[string], number>('SELECT first_seq FROM click_blocks WHERE to_day >= ? ORDER BY first_seq LIMIT 1')
    .pluck();
  return {
    /** Number of a click that is not later than the first of a day; undefined when there is none since. */
    seqFrom: (day: string): number | undefined => blockFrom.get(day) ?? recentSeqs.get(),
    /** Full blocks with clicks of these days, by the numbers of their first clicks: they never change. */
    full: (from: string, to: string): number[] => full.all(from, to, MOST_ROWS),
    keepColumns: opened.keep,
    /** @throws when there is no such block */
    fullAt(firstSeq: number): ClickBlock {
      opened.refresh();
      const row = block.get(firstSeq);
      if (!row) throw new Error(`There is no block of clicks from ${firstSeq} on.`);
      return openBlock(row, lacking());
    },
    /**
     * Newest first; those that have clicks of these days. Read within one transaction, or a click may be met twice.
     * @param below only blocks of fewer rows
     */
    *between(from: string, to: string, below = Infinity): Generator<ClickBlock> {
      opened.refresh();
      const newest = recentBlock();
      if (newest && newest.lastDay >= from && newest.firstDay <= to) yield newest;
      const without = lacking();
      for (const row of blocks.all(from, to, Math.min(below, MOST_ROWS + 1))) yield openBlock(row, without);
    },
  };
}

/**
 * Clicks in the table of the newest before they become a block. Every question reads that table row by row, so it is
 * short; four blocks of one size become one of the next, up to `MOST_ROWS`.
 */
export const SMALL_ROWS = MOST_ROWS / 16;
/** Values of a column from which on a sketch is quicker than its dictionary. */
const MANY_VALUES = 4096;

interface Recent {
  readonly seqs: number[];
  /** The facts of each click, in the order of CLICK_COLUMNS. */
  readonly rows: (readonly string[])[];
}

/** Takes clicks in, and turns them into blocks once there are enough. */
export function clickWriter(db: Db) {
  const names = CLICK_COLUMNS.map(quoted).join(', ');
  const insert = db.prepare<unknown[]>(
    `INSERT INTO recent_clicks (seq, ${names}) VALUES (?, ${CLICK_COLUMNS.map(() => '?').join(', ')})`,
  );
  const seqs = db.prepare<[], number>('SELECT seq FROM recent_clicks ORDER BY seq').pluck();
  const rows = db.prepare<[], string[]>(`SELECT ${names} FROM recent_clicks ORDER BY seq`).raw();
  const insertBlock = db.prepare<[number, number, string, string]>(
    'INSERT INTO click_blocks (first_seq, rows, from_day, to_day) VALUES (?, ?, ?, ?)',
  );
  const insertColumn = db.prepare<[number, string, Uint8Array, Uint8Array]>(
    'INSERT INTO block_columns (first_seq, name, dictionary, codes) VALUES (?, ?, ?, ?)',
  );
  const remove = db.prepare<[number]>('DELETE FROM recent_clicks WHERE seq < ?');
  const newest = db.prepare<[number], { firstSeq: number; rows: number }>(
    'SELECT first_seq AS firstSeq, rows FROM click_blocks ORDER BY first_seq DESC LIMIT ?',
  );
  const column = db.prepare<[number, string], PackedColumn>(
    'SELECT dictionary, codes FROM block_columns WHERE first_seq = ? AND name = ?',
  );
  const unpack = [
    db.prepare<[number]>('DELETE FROM block_columns WHERE first_seq = ?'),
    db.prepare<[number]>('DELETE FROM click_blocks WHERE first_seq = ?'),
  ];
  // What stands in the table, kept beside it: reading it back would cost more than all the rest.
  let kept: Recent | undefined;
  const recent = (): Recent => (kept ??= { seqs: seqs.all(), rows: rows.all() });

  const insertPart = db.prepare<[string, number, number, Uint8Array]>(
    'INSERT INTO block_values (name, part, first_seq, bits) VALUES (?, ?, ?, ?)',
  );

  /** @param columnAt of CLICK_COLUMNS, by place; one after the other, so that no more than that is in memory */
  function write(firstSeq: number, rows: number, columnAt: (place: number) => Column): void {
    const days = columnAt(CLICK_COLUMNS.indexOf('day')).values.toSorted();
    insertBlock.run(firstSeq, rows, days[0] ?? '', days.at(-1) ?? '');
    for (const [place, name] of CLICK_COLUMNS.entries()) {
      const column = columnAt(place);
      const { dictionary, codes } = packColumn(column);
      insertColumn.run(firstSeq, name, dictionary, codes);
      if (rows === MOST_ROWS && column.values.length >= MANY_VALUES)
        for (const [part, bits] of sketch(column.values).entries()) insertPart.run(name, part, firstSeq, bits);
    }
  }

  /** The oldest clicks become a block; it ends before the first missing number. */
  function pack({ seqs, rows: all }: Recent): void {
    const [first = 0] = seqs;
    const some = seqs.slice(0, SMALL_ROWS);
    const gap = some.findIndex((seq, i) => seq !== first + i);
    const rows = gap < 0 ? some.length : gap;
    const block = all.slice(0, rows);
    write(first, rows, (place) => columnOf(block.map((each) => each[place] ?? '')));
    remove.run(first + rows);
    kept = { seqs: seqs.slice(rows), rows: all.slice(rows) };
    merge();
  }

  /** Four blocks of one size in a row become one: values are then stored, and looked up, once for all of them. */
  function merge(): void {
    const small = newest.all(4).reverse();
    const [first] = small;
    if (!first || small.length < 4 || first.rows < SMALL_ROWS || first.rows === MOST_ROWS) return;
    const { firstSeq: start, rows: each } = first;
    if (!small.every(({ firstSeq, rows }, i) => rows === each && firstSeq === start + i * each)) return;
    const packed = CLICK_COLUMNS.map((name) =>
      small.map(({ firstSeq }) => column.get(firstSeq, name) ?? packColumn(columnOf([]))),
    );
    for (const { firstSeq } of small) for (const statement of unpack) statement.run(firstSeq);
    write(start, 4 * each, (place) => {
      const columns = packed[place]?.map((column) => openColumn(column, each));
      return joinColumns(columns ?? [], each);
    });
    merge();
  }

  return {
    insert(seq: number, facts: ClickFacts): void {
      const known = recent();
      const row = CLICK_COLUMNS.map((name) => facts[name]);
      insert.run(seq, ...row);
      known.seqs.push(seq);
      known.rows.push(row);
    },
    packFull(): void {
      while (recent().seqs.length >= SMALL_ROWS) pack(recent());
    },
    /** What is in the table may be another thing than what was put there: a transaction was taken back. */
    forget(): void {
      kept = undefined;
    },
  };
}
