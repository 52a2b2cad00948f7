import { describe, expect, test } from 'vitest';
import { World } from '../../tests/support/world';
import type { FileReading } from '@/core/conversions/file';
import { approveCommissions } from './commissions';
import { conversionsJob, newestImports, proposeReading, recordByHand, undoImport } from './recording';
import { verify } from './verify';

const sound = (world: World): void => expect(verify(world.stores).flatMap(({ wrong }) => wrong)).toEqual([]);
const READING: FileReading = {
  ...{ delimiter: ';', decimal: ',', dates: 'dmy', event: 'order' },
  columns: ['order', 'amount', 'time', 'click_id', 'status', 'x_supplier'],
};
const run = (world: World, lines: string[], write = true, leaveOut = false) =>
  conversionsJob(
    world.stores,
    world.owner,
    {
      text: ['Order;Amount;Date;Click;State;Supplier', ...lines].join('\n'),
      source: 'Shop',
      reading: READING,
      leaveOut,
    },
    write,
    () => undefined,
  );
/** Lines that name their partner. */
const named = (world: World, lines: string[]) =>
  conversionsJob(
    world.stores,
    world.owner,
    {
      text: ['order,amount,partner,channel', ...lines].join('\n'),
      source: 'Network',
      reading: { ...READING, delimiter: ',', decimal: '.', columns: ['order', 'amount', 'partner', 'channel'] },
      leaveOut: true,
    },
    true,
    () => undefined,
  );
const outcomes = (lines: ReturnType<typeof run>) => lines.map(({ outcome }) => outcome);
const order = (world: World, number: number): string =>
  `F${number};1.${number}00,00;24-11-2026 12:30;${world.click()};`;
/** What the books hold, for 'nothing changed'. */
const state = (world: World): string => {
  const { db } = world.stores.books;
  const all = (table: string): unknown[] => db.prepare(`SELECT * FROM ${table}`).all();
  return JSON.stringify(
    ['conversions', 'commissions', 'ledger_entries', 'postback_outcomes', 'imports', 'file_readings'].map(all),
  );
};

describe('a file', () => {
  test('may name whose a line is by codes; a code that is nobody’s refuses its line', () => {
    using world = new World();
    const lines = ['N1,100.00,slowwheel,', 'N2,50.00,SLOWWHEEL,main', 'N3,10.00,NOBODY,', 'N4,10.00,SLOWWHEEL,ELSE'];
    expect(named(world, lines).map(({ outcome, problems }) => [outcome, problems[0]?.field])).toEqual([
      ...[['new', undefined] as const, ['new', undefined] as const],
      ...[['refused', 'partner'] as const, ['refused', 'channel'] as const],
    ]);
    expect(world.balance('partner_pending')).toBe(1500);
    sound(world);
    undoImport(world.stores, world.owner, newestImports(world.stores, world.owner, 1)[0]?.id ?? 0);
    expect(world.balance('partner_pending')).toBe(0);
    sound(world);
  });

  test('is previewed as it will be, booked whole, the same when it comes again, and taken back whole', () => {
    using world = new World();
    world.report({ event: 'order', order: 'OLD', amount: '500.00', click_id: world.click() });
    const lines = [order(world, 1), order(world, 2), 'OLD;;;;reversed', 'U9;10,00;24-11-2026;of-another-kind;'];
    world.pass(0.1);
    const before = state(world);
    const preview = outcomes(run(world, lines, false));
    expect([preview, state(world)]).toEqual([['new', 'new', 'changed', 'new'], before]);
    expect(outcomes(run(world, lines))).toEqual(preview);
    expect(world.balance('partner_pending')).toBe(11000 + 12000);
    sound(world);
    expect(outcomes(run(world, lines))).toEqual(['same', 'same', 'same', 'same']);
    expect(world.balance('partner_pending')).toBe(23000);
    const [again, first] = newestImports(world.stores, world.owner, 5);
    expect([undoImport(world.stores, world.owner, again?.id ?? 0), world.balance('partner_pending')]).toEqual([
      4, 23000,
    ]);
    expect(undoImport(world.stores, world.owner, first?.id ?? 0)).toBe(4);
    expect(world.balance('partner_pending')).toBe(5000);
    sound(world);
    expect(() => undoImport(world.stores, world.owner, first?.id ?? 0)).toThrow('already');
    expect(outcomes(run(world, lines))).toEqual(preview);
    expect(world.balance('partner_pending')).toBe(23000);
    sound(world);
  });

  test('with a line that is refused is not booked at all, unless that line is left out', () => {
    using world = new World();
    const lines = [order(world, 1), 'F2;12,x0;24-11-2026;c;', 'F3;5,00;99-11-2026;c;', 'NONE;;;;rejected'];
    world.pass(0.1);
    const before = state(world);
    expect(() => run(world, lines)).toThrow(/Line 3.*Line 4.*Line 5/s);
    expect(state(world)).toBe(before);
    expect(outcomes(run(world, lines, true, true))).toEqual(['new', 'refused', 'refused', 'refused']);
    expect(world.balance('partner_pending')).toBe(11000);
    sound(world);
  });

  test('says the same as the server: neither counts twice, whichever comes first', () => {
    using world = new World();
    const click = world.click();
    const said = {
      event: 'order',
      order: 'B1',
      amount: '100.00',
      click_id: click,
      time: '2026-11-24T12:30:00.000+01:00',
    };
    world.report(said);
    world.pass(0.1);
    expect(outcomes(run(world, [`B1;100,00;24-11-2026 12:30;${click};`]))).toEqual(['same']);
    run(world, [order(world, 5).replace('24-11-2026', '25-11-2026')]);
    expect(world.balance('partner_pending')).toBe(1000 + 15000);
    sound(world);
  });

  test('whose commissions are decided stays as it is', () => {
    using world = new World();
    const line = order(world, 1);
    world.pass(0.1);
    run(world, [line]);
    world.pass(20);
    approveCommissions(world.stores, world.owner, [1]);
    const before = state(world);
    expect(() => undoImport(world.stores, world.owner, 1)).toThrow('reverse it');
    expect(state(world)).toBe(before);
  });

  test('is read as the last one of its source was', () => {
    using world = new World();
    const text = 'Order;Amount;Date;Click;State;Supplier\nF1;1,00;03-04-2026;c;';
    const ask = () => proposeReading(world.stores, world.owner, { text, source: 'shop' });
    expect(ask()).toMatchObject({ remembered: false, reading: { delimiter: ';', decimal: ',', dates: 'dmy' } });
    run(world, [order(world, 1)]);
    expect(ask()).toMatchObject({ remembered: true, reading: READING });
    expect(proposeReading(world.stores, world.owner, { text: 'a,b\n1,2', source: 'Shop' }).remembered).toBe(false);
  });
});

test('by hand: matched and rated like any other, known again, and never twice', () => {
  using world = new World();
  const fields = {
    event: 'order',
    order: 'H1',
    amount: '80.00',
    click_id: world.click(),
    x_note: 'call jo@marsh.example',
  };
  expect(recordByHand(world.stores, world.owner, fields).outcome).toBe('recorded');
  expect(world.stores.books.conversions.plain(1)).toMatchObject({
    reportedBy: 'hand',
    custom: { x_note: '(not kept)' },
  });
  expect(() => recordByHand(world.stores, world.owner, fields)).toThrow('recorded already');
  expect(() => recordByHand(world.stores, world.owner, { ...fields, amount: '1,2' })).toThrow('amount');
  expect(() => recordByHand(world.stores, world.person('viewer'), fields)).toThrow();
  world.report({ event: 'order', order: 'H1', status: 'reversed', amount: '40.00' });
  expect(world.balance('partner_pending')).toBe(400);
  sound(world);
});
