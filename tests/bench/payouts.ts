import { readFileSync } from 'node:fs';
import { abandonRun, approveRun, draftRun, exportRun, settleRun } from '@/services/payouts';
import { dayOf } from '@/core/time/zones';
import { approveCommissions } from '@/services/commissions';
import { type World, WorldOnDisk } from '../support/world';
import type { Measure } from './main';

const PARTNERS = 10_000;
const COMMISSIONS = 1_000_000;
const SECONDS = 10;
const MOST_MIB = 1024;

const columns = (world: World, table: string): string[] =>
  world.stores.books.db.prepare<[string], string>('SELECT name FROM pragma_table_info(?)').pluck().all(table);

/** Copies a row for every n of `many` (n, partner_id, channel_id), with some columns set anew. */
function copyRow(world: World, table: string, id: number, anew: Record<string, string>): void {
  const names = columns(world, table);
  const values = names.map((name) => anew[name] ?? `t.${name}`);
  world.stores.books.db.exec(
    `INSERT INTO ${table} (${names.join(', ')}) SELECT ${values.join(', ')} FROM many m JOIN ${table} t ON t.id = ${id} ORDER BY m.n`,
  );
}

/** One commission is earned and approved through the services; a million others are its like, a hundred a partner. */
function fill(world: World): void {
  const { stores, owner } = world;
  const { db } = stores.books;
  stores.books.inTransaction(() => {
    for (let i = 1; i < PARTNERS; i++) world.newLink(`P${i}`);
  });
  const receipt = world.report({ event: 'order', order: 'A1', amount: '20.00', click_id: world.click() });
  world.pass(15);
  const conversion = world.outcome(receipt)?.conversionId ?? 0;
  const commission = stores.books.commissions.byConversion(conversion)?.id ?? 0;
  approveCommissions(stores, owner, [commission]);
  const last = (table: string): number => Number(db.prepare(`SELECT max(id) FROM ${table}`).pluck().get());
  const transaction = last('ledger_transactions');
  const entry = last('ledger_entries');
  stores.books.inTransaction(() => {
    db.exec(`CREATE TEMP TABLE many AS WITH RECURSIVE s(n) AS (SELECT 1 UNION ALL SELECT n + 1 FROM s WHERE n < ${COMMISSIONS - 1})
      SELECT s.n, h.partner_id, h.id AS channel_id FROM s JOIN channels h ON h.id = 1 + s.n % ${PARTNERS}`);
    const whose = { partner_id: 'm.partner_id', channel_id: 'm.channel_id' };
    copyRow(world, 'conversions', conversion, { ...whose, id: `${conversion} + m.n`, order_ref: `'B' || m.n` });
    copyRow(world, 'commissions', commission, {
      ...whose,
      id: `${commission} + m.n`,
      conversion_id: `${conversion} + m.n`,
    });
    copyRow(world, 'ledger_transactions', transaction, {
      id: `${transaction} + m.n`,
      commission_id: `${commission} + m.n`,
    });
    for (const [offset, from] of [entry - 1, entry].entries())
      copyRow(world, 'ledger_entries', from, {
        ...whose,
        id: `${entry - 1} + 2 * m.n + ${offset}`,
        transaction_id: `${transaction} + m.n`,
      });
    db.exec('DROP TABLE many');
  });
  db.pragma('wal_checkpoint(TRUNCATE)');
}

/** The most memory this process has held, in MiB (Linux). */
const peak = (): number => Number(/VmHWM:\s+(\d+)/.exec(readFileSync('/proc/self/status', 'utf8'))?.[1]) / 1024;

/** A payout run over a million commissions of ten thousand partners: each of its long steps is one transaction. */
export function benchPayouts(): Promise<Measure[]> {
  using world = new WorldOnDisk();
  const { stores, owner, finance } = world;
  console.log(
    `payouts: making ${PARTNERS.toLocaleString('en')} partners, ${COMMISSIONS.toLocaleString('en')} commissions`,
  );
  fill(world);
  const cutOff = dayOf(world.clock, 'Europe/Amsterdam');
  const measures: Measure[] = [];
  const measured = <T>(what: string, work: () => T): T => {
    const started = performance.now();
    const result = work();
    const took = (performance.now() - started) / 1000;
    measures.push({
      what: `${what} a run over 1,000,000 commissions of 10,000 partners (s)`,
      value: took.toFixed(1),
      reach: `≤ ${SECONDS}`,
      reached: took <= SECONDS,
    });
    return result;
  };
  const first = measured('drafting', () => draftRun(stores, finance, { cutOff }));
  if (first.partners !== PARTNERS) throw new Error(`The run pays ${first.partners} partners.`);
  measured('abandoning', () => abandonRun(stores, finance, first.id, { reason: 'The cut-off was meant otherwise.' }));
  const { id } = draftRun(stores, finance, { cutOff });
  approveRun(stores, owner, id);
  exportRun(stores, finance, id);
  measured('settling', () => settleRun(stores, finance, id));
  measures.push({
    what: 'the most memory held meanwhile (MiB)',
    value: peak().toFixed(0),
    reach: `≤ ${MOST_MIB}`,
    reached: peak() <= MOST_MIB,
  });
  return Promise.resolve(measures);
}
