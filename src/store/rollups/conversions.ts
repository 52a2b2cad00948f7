import { type Block, type Column, type PackedColumn, columnOf, openColumn, packColumn } from '@/core/reports/block';
import { CLICK_COLUMNS, type ClickFacts } from '@/core/reports/columns';
import type { Db } from '../database';

/** A conversion with what is known of its click. Commission in minor units, less what was taken back. */
export interface ConversionFacts extends ClickFacts {
  readonly id: number;
  readonly event: string;
  readonly state: string;
  readonly commission: number;
}
/** Conversions by the columns of their clicks, and their own: event, state, commission. */
export interface ConversionBlock extends Block {
  readonly firstDay: string;
  readonly lastDay: string;
}

/** IDs of a block: those that agree beyond these bits. */
const BITS = 11;
const SIZE = 1 << BITS;
const COLUMNS = [...CLICK_COLUMNS, 'event', 'state', 'commission'] as const;
type FactColumn = (typeof COLUMNS)[number];
const select = (name: FactColumn): string =>
  `SELECT CAST("${name}" AS TEXT) FROM conversion_facts WHERE id >= ? AND id < ? ORDER BY id`;

export function conversionColumns(db: Db) {
  const last = db.prepare<[], number | null>('SELECT max(id) FROM conversion_facts').pluck();
  const packed = db.prepare<[], { block: number; rows: number; firstDay: string; lastDay: string }>(
    'SELECT block, rows, from_day AS firstDay, to_day AS lastDay FROM conversion_blocks',
  );
  const column = db.prepare<[number, string], PackedColumn>(
    'SELECT dictionary, codes FROM conversion_block_columns WHERE block = ? AND name = ?',
  );
  const loose = new Map(COLUMNS.map((name) => [name, db.prepare<[number, number], string>(select(name)).pluck()]));
  const sums = db.prepare<[string], { id: number; state: string; commission: number }>(
    'SELECT id, state, commission FROM conversion_facts WHERE program = ? ORDER BY id',
  );

  const isFact = (name: string): name is FactColumn => loose.has(name as FactColumn);
  /** A block that changed since it was packed, or is not full yet: read from the table. */
  function looseBlock(block: number): ConversionBlock {
    const read = (name: string): string[] =>
      isFact(name) ? (loose.get(name)?.all(block * SIZE, (block + 1) * SIZE) ?? []) : [];
    const days = read('day');
    const sorted = [...new Set(days)].sort();
    const known = new Map<string, Column>();
    return {
      ...{ rows: days.length, firstDay: sorted[0] ?? '', lastDay: sorted.at(-1) ?? '' },
      column(name) {
        const found = known.get(name) ?? columnOf(read(name));
        known.set(name, found);
        return found;
      },
    };
  }
  return {
    /** State and commission of each, to be held against the books. */
    sums: (program: string) => sums.all(program),
    /** Blocks that have conversions of these days, of any program. */
    *between(from: string, to: string): Generator<ConversionBlock> {
      const blocks = new Map(packed.all().map((each) => [each.block, each]));
      const end = last.get() ?? -1;
      for (let block = 0; block * SIZE <= end; block++) {
        const found = blocks.get(block);
        const opened: ConversionBlock = found
          ? {
              ...found,
              column: (name) => openColumn(column.get(block, name) ?? packColumn(columnOf([])), found.rows),
            }
          : looseBlock(block);
        if (opened.rows > 0 && opened.firstDay <= to && opened.lastDay >= from) yield opened;
      }
    },
    columnNames: COLUMNS,
  };
}

export function conversionWriter(db: Db) {
  const names = COLUMNS.map((name) => `"${name}"`);
  const put = db.prepare<unknown[]>(
    `INSERT INTO conversion_facts (id, ${names.join(', ')}) VALUES (?, ${names.map(() => '?').join(', ')})
     ON CONFLICT (id) DO UPDATE SET ${names.map((name) => `${name} = excluded.${name}`).join(', ')}`,
  );
  const remove = db.prepare<[number]>('DELETE FROM conversion_facts WHERE id = ?');
  const unpack = [
    db.prepare<[number]>('DELETE FROM conversion_block_columns WHERE block = ?'),
    db.prepare<[number]>('DELETE FROM conversion_blocks WHERE block = ?'),
  ];
  const open = db
    .prepare<[number], number>(
      `WITH RECURSIVE n(block) AS (SELECT 0 UNION ALL SELECT block + 1 FROM n WHERE (block + 2) * ${SIZE} <= ?)
       SELECT block FROM n WHERE block NOT IN (SELECT block FROM conversion_blocks) LIMIT 1`,
    )
    .pluck();
  const last = db.prepare<[], number | null>('SELECT max(id) FROM conversion_facts').pluck();
  const reads = new Map(COLUMNS.map((name) => [name, db.prepare<[number, number], string>(select(name)).pluck()]));
  const insertBlock = db.prepare<[number, number, string, string]>(
    'INSERT INTO conversion_blocks (block, rows, from_day, to_day) VALUES (?, ?, ?, ?)',
  );
  const insertColumn = db.prepare<[number, string, Uint8Array, Uint8Array]>(
    'INSERT INTO conversion_block_columns (block, name, dictionary, codes) VALUES (?, ?, ?, ?)',
  );
  const changed = (id: number): void => unpack.forEach((statement) => statement.run(id >> BITS));
  return {
    put(facts: ConversionFacts): void {
      put.run(facts.id, ...COLUMNS.map((name) => facts[name]));
      changed(facts.id);
    },
    remove(id: number): void {
      remove.run(id);
      changed(id);
    },
    /** Packs one block that is full and is not packed. @returns whether there was one */
    packOne(): boolean {
      const block = open.get(last.get() ?? 0);
      if (block === undefined || (block + 1) * SIZE > (last.get() ?? 0)) return false;
      const ends: [number, number] = [block * SIZE, (block + 1) * SIZE];
      const days = [...new Set(reads.get('day')?.all(...ends))].sort();
      let rows = 0;
      for (const [name, read] of reads) {
        const texts = read.all(...ends);
        rows = texts.length;
        const { dictionary, codes } = packColumn(columnOf(texts));
        insertColumn.run(block, name, dictionary, codes);
      }
      insertBlock.run(block, rows, days[0] ?? '', days.at(-1) ?? '');
      return true;
    },
  };
}
