import {
  type Block,
  type Column,
  type PackedColumn,
  MOST_ROWS,
  columnOf,
  hasValue,
  openColumn,
  packColumn,
} from '@/core/reports/block';
import { CLICK_COLUMNS, type ClickColumn, type ClickFacts, isClickColumn } from '@/core/reports/columns';
import type { Db } from '../database';

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

/** `unique` is a word of SQL; the names are ours, never input. */
export const quoted = (name: ClickColumn): string => `"${name}"`;

/** Columns of rows that stand in a table, read when they are asked for. */
export function tableColumns(read: (name: ClickColumn) => string[]): (name: string) => Column {
  const known = new Map<string, Column>();
  return (name) => {
    const column = known.get(name) ?? columnOf(isClickColumn(name) ? read(name) : []);
    known.set(name, column);
    return column;
  };
}

/** Clicks column by column: the newest in a table, the others in blocks. */
export function clickColumns(db: Db) {
  const blocks = db.prepare<[string, string], BlockRow>(
    `SELECT first_seq AS firstSeq, rows, from_day AS firstDay, to_day AS lastDay FROM click_blocks
     WHERE to_day >= ? AND from_day <= ? ORDER BY first_seq DESC`,
  );
  const dictionary = db
    .prepare<[number, string], Buffer>('SELECT dictionary FROM block_columns WHERE first_seq = ? AND name = ?')
    .pluck();
  const column = db.prepare<[number, string], PackedColumn>(
    'SELECT dictionary, codes FROM block_columns WHERE first_seq = ? AND name = ?',
  );
  const recentSeqs = db.prepare<[], number>('SELECT seq FROM recent_clicks ORDER BY seq').pluck();
  const recent = new Map(
    CLICK_COLUMNS.map((name) => [
      name,
      db.prepare<[], string>(`SELECT ${quoted(name)} FROM recent_clicks ORDER BY seq`).pluck(),
    ]),
  );

  function openBlock({ firstSeq, rows, firstDay, lastDay }: BlockRow): ClickBlock {
    const known = new Map<string, Column>();
    return {
      ...{ rows, firstDay, lastDay },
      seqAt: (row) => firstSeq + row,
      mayHave(name, value) {
        const found = dictionary.get(firstSeq, name);
        return found === undefined || hasValue(found, value);
      },
      column(name) {
        const opened = known.get(name) ?? openColumn(column.get(firstSeq, name) ?? packColumn([]), rows);
        known.set(name, opened);
        return opened;
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
    /** Newest first; those that have clicks of these days. Read within one transaction, or a click may be met twice. */
    *between(from: string, to: string): Generator<ClickBlock> {
      const newest = recentBlock();
      if (newest && newest.lastDay >= from && newest.firstDay <= to) yield newest;
      for (const row of blocks.all(from, to)) yield openBlock(row);
    },
  };
}

/** Takes clicks in, and turns them into blocks once there are enough. */
export function clickWriter(db: Db) {
  const names = CLICK_COLUMNS.map(quoted).join(', ');
  const insert = db.prepare<unknown[]>(
    `INSERT INTO recent_clicks (seq, ${names}) VALUES (?, ${CLICK_COLUMNS.map(() => '?').join(', ')})`,
  );
  const count = db.prepare<[], number>('SELECT count(*) FROM recent_clicks').pluck();
  const oldest = db.prepare<[number], number>('SELECT seq FROM recent_clicks ORDER BY seq LIMIT ?').pluck();
  const columns = new Map(
    CLICK_COLUMNS.map((name) => [
      name,
      db.prepare<[number], string>(`SELECT ${quoted(name)} FROM recent_clicks ORDER BY seq LIMIT ?`).pluck(),
    ]),
  );
  const insertBlock = db.prepare<[number, number, string, string]>(
    'INSERT INTO click_blocks (first_seq, rows, from_day, to_day) VALUES (?, ?, ?, ?)',
  );
  const insertColumn = db.prepare<[number, string, Uint8Array, Uint8Array]>(
    'INSERT INTO block_columns (first_seq, name, dictionary, codes) VALUES (?, ?, ?, ?)',
  );
  const remove = db.prepare<[number]>('DELETE FROM recent_clicks WHERE seq < ?');

  /** The oldest clicks become a block; it ends before the first missing number. */
  function pack(): void {
    const seqs = oldest.all(MOST_ROWS);
    const [first = 0] = seqs;
    const gap = seqs.findIndex((seq, i) => seq !== first + i);
    const rows = gap < 0 ? seqs.length : gap;
    const days = [...new Set(columns.get('day')?.all(rows))].sort();
    insertBlock.run(first, rows, days[0] ?? '', days.at(-1) ?? '');
    for (const [name, read] of columns) {
      const { dictionary, codes } = packColumn(read.all(rows));
      insertColumn.run(first, name, dictionary, codes);
    }
    remove.run(first + rows);
  }

  return {
    insert: (seq: number, facts: ClickFacts): void => void insert.run(seq, ...CLICK_COLUMNS.map((name) => facts[name])),
    packFull(): void {
      for (let left = count.get() ?? 0; left >= MOST_ROWS; left = count.get() ?? 0) pack();
    },
  };
}
