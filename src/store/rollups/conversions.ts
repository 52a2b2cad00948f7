import { type Block, MOST_ROWS } from '@/core/reports/block';
import { CLICK_COLUMNS, type ClickFacts } from '@/core/reports/columns';
import type { Db } from '../database';
import { quoted, tableColumns } from './clicks';

/** A conversion with what is known of its click. Commission in minor units, less what was taken back. */
export interface ConversionFacts extends ClickFacts {
  readonly id: number;
  readonly event: string;
  readonly state: string;
  readonly commission: number;
}
/** Rows of conversions beside their columns as clicks have them. */
export interface ConversionBlock extends Block {
  readonly states: readonly string[];
  readonly commissions: readonly number[];
}

export function conversionColumns(db: Db) {
  // Read by the index of days, a stretch of rows at a time.
  const rowids = db
    .prepare<[string, string, string], number>(
      'SELECT id FROM conversion_facts WHERE program = ? AND day BETWEEN ? AND ? ORDER BY id',
    )
    .pluck();
  const select = (what: string): string =>
    `SELECT ${what} FROM conversion_facts WHERE program = ? AND day BETWEEN ? AND ? AND id BETWEEN ? AND ? ORDER BY id`;
  type Stretch = [program: string, from: string, to: string, first: number, last: number];
  const states = db.prepare<Stretch, string>(select('state')).pluck();
  const commissions = db.prepare<Stretch, number>(select('commission')).pluck();
  const reads = new Map(
    CLICK_COLUMNS.map((name) => [name, db.prepare<Stretch, string>(select(quoted(name))).pluck()] as const),
  );
  const sums = db.prepare<[string], { id: number; state: string; commission: number }>(
    'SELECT id, state, commission FROM conversion_facts WHERE program = ? ORDER BY id',
  );
  return {
    /** State and commission of each, to be held against the books. */
    sums: (program: string) => sums.all(program),
    *between(program: string, from: string, to: string): Generator<ConversionBlock> {
      const ids = rowids.all(program, from, to);
      for (let at = 0; at < ids.length; at += MOST_ROWS) {
        const stretch: Stretch = [program, from, to, ids[at] ?? 0, ids[Math.min(at + MOST_ROWS, ids.length) - 1] ?? 0];
        yield {
          rows: Math.min(MOST_ROWS, ids.length - at),
          states: states.all(...stretch),
          commissions: commissions.all(...stretch),
          column: tableColumns((name) => reads.get(name)?.all(...stretch) ?? []),
        };
      }
    },
  };
}

export function conversionWriter(db: Db) {
  const names = [...CLICK_COLUMNS.map(quoted), 'event', 'state', 'commission'];
  const put = db.prepare<unknown[]>(
    `INSERT INTO conversion_facts (id, ${names.join(', ')}) VALUES (?, ${names.map(() => '?').join(', ')})
     ON CONFLICT (id) DO UPDATE SET ${names.map((name) => `${name} = excluded.${name}`).join(', ')}`,
  );
  const remove = db.prepare<[number]>('DELETE FROM conversion_facts WHERE id = ?');
  return {
    put: (facts: ConversionFacts): void =>
      void put.run(facts.id, ...CLICK_COLUMNS.map((name) => facts[name]), facts.event, facts.state, facts.commission),
    remove: (id: number): void => void remove.run(id),
  };
}
