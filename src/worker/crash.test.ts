import { spawn } from 'node:child_process';
import { cpSync, existsSync, rmSync } from 'node:fs';
import { expect, test } from 'vitest';
import { testFolder } from '../../tests/support/folder';
import { OFFER, World } from '../../tests/support/world';
import { addNumbers } from '@/services/calls';
import { type Stores, storeFile } from '@/services/stores';
import { verify } from '@/services/verify';
import { openBooks } from '@/store/books';
import { openRollupsForWriting } from '@/store/rollups';
import { openTrafficForReading } from '@/store/traffic';
import { postPostbacks } from './post';
import { rollClicks, rollConversions } from './roll';

const BUNDLE = 'dist/worker.mjs';
const AT_ONCE = 3;
const CALL = { event: 'call', kind: 'call', repeat: 'ignore', payable: true } as const;

/** Runs the worker on a folder until it dies at a statement. @returns false when it came to the end before that */
function killedAt(statement: number, folder: string, world: World): Promise<boolean> {
  const env = {
    ...process.env,
    ...{ BRIVET_DATA: folder, BRIVET_SECRET: world.stores.secret, DIE_AT: String(statement) },
    BRIVET_NOW: new Date(world.clock).toISOString(),
  };
  const worker = spawn(process.execPath, ['--import', './tests/support/die_at.mjs', BUNDLE], { env, stdio: 'ignore' });
  return new Promise((resolve) => {
    // Idle, it goes on to ask for changes: it dies of any statement in the end, unless it has very many.
    worker.once('exit', (_, signal) => resolve(signal === 'SIGKILL'));
  });
}

/** What the books say in the end, without what differs from run to run. */
function books(stores: Stores, programId: number) {
  const { db } = stores.books;
  const all = (sql: string): unknown[] => db.prepare<[], Record<string, unknown>>(sql).all();
  return {
    outcomes: all('SELECT receipt_id, outcome, detail, conversion_id FROM postback_outcomes ORDER BY seq'),
    conversions: all('SELECT id, order_ref, amount, figures, state, unmatched FROM conversions ORDER BY id'),
    calls: all('SELECT id, call_id, outcome, conversion_id FROM calls ORDER BY id'),
    history: all('SELECT conversion_id, actor, what, detail FROM conversion_history ORDER BY id'),
    commissions: all('SELECT id, amount, reversed, state, payable_on FROM commissions ORDER BY id'),
    entries: all('SELECT transaction_id, account, amount FROM ledger_entries ORDER BY id'),
    position: stores.books.positions.get('postbacks'),
    reports: [...stores.books.conversions.earned(programId)],
  };
}

test('the worker, killed at any statement and started again, leaves the same books', { timeout: 120_000 }, async () => {
  if (!existsSync(BUNDLE)) throw new Error('The worker is bundled by ./brivet test before the unit tests.');
  using world = new World({ offer: { ...OFFER, events: [...OFFER.events, CALL] } });
  const click_id = world.click();
  const order = { event: 'order', order: 'A1', amount: '121.00', tax: '21.00' };
  const reports: Record<string, string>[] = [
    { event: 'order', order: 'A1', status: 'reversed', amount: '60.50' },
    { ...order, click_id },
    { ...order, click_id },
    { event: 'order', order: 'A1', amount: '242.00', tax: '42.00', click_id },
    { event: 'order', order: 'A2', amount: '10.00', click_id: '01KB0000000000000000000000' },
  ];
  const { offerId, channelId } = world.link;
  addNumbers(world.stores, world.owner, { numbers: ['+15550110'], offerId, use: 'channel', channelId });
  for (const fields of reports) world.report(fields, false);
  const started = new Date(world.clock).toISOString();
  const caller = `~${'0'.repeat(32)}`;
  world.report(
    { call: 'C1', number: '+15550110', caller, started, answered: '1', length: '61' },
    false,
    'server',
    'call',
  );
  const begin = testFolder('begin');
  world.stores.books.db.pragma('wal_checkpoint(TRUNCATE)');
  cpSync(world.folder, begin, { recursive: true });
  world.work();
  const expected = books(world.stores, world.programId);

  const dying = async (statement: number): Promise<boolean> => {
    const folder = testFolder('dying');
    cpSync(begin, folder, { recursive: true });
    const killed = await killedAt(statement, folder, world);
    const rollups = openRollupsForWriting(storeFile('rollups', folder));
    const traffic = openTrafficForReading(storeFile('traffic', folder));
    const stores: Stores = { ...world.stores, books: openBooks(storeFile('books', folder)), traffic, rollups };
    const untouched = stores.books.positions.get('postbacks') === 0;
    while (postPostbacks(stores) > 0);
    while (rollClicks(traffic, stores.books, rollups) > 0);
    while (rollConversions(stores, rollups) > 0);
    expect([killed, books(stores, world.programId)]).toEqual([true, expected]);
    expect(verify(stores).flatMap(({ wrong }) => wrong)).toEqual([]);
    for (const { db } of [stores.books, traffic, rollups]) db.close();
    rmSync(folder, { recursive: true });
    return untouched;
  };
  let statement = 1;
  let within = 0;
  // From the first statement on until one long after the books were written: every step of posting was one of them.
  for (let after = 0; after < 2 * AT_ONCE;) {
    const runs = await Promise.all(Array.from({ length: AT_ONCE }, (_, i) => dying(statement + i)));
    statement += AT_ONCE;
    const before = runs.filter((untouched) => untouched).length;
    within += before;
    if (before === 0) after += AT_ONCE;
  }
  rmSync(begin, { recursive: true });
  // Five postbacks take a good many statements, in one transaction.
  expect(within).toBeGreaterThan(60);
});
