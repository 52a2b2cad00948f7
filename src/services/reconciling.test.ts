import { describe, expect, test } from 'vitest';
import { World } from '../../tests/support/world';
import { detectReading } from '@/core/conversions/file';
import type { Day } from '@/core/time/days';
import { exportCsv } from './exports';
import { decideLines } from './reconcile_decisions';
import { newestReconciliations, reconcileJob, reconciliationLines } from './reconciling';
import { verify } from './verify';

const ALL = { from: '2000-01-01' as Day, to: '2999-12-31' as Day, partnerId: null, channelId: null, offerId: null };
const sound = (world: World): void => expect(verify(world.stores).flatMap(({ wrong }) => wrong)).toEqual([]);

/** Orders A to D here; the report has A as it is, B dearer, C refunded, lacks D, and knows E and F besides. */
function reported() {
  const world = new World();
  const click_id = world.click();
  for (const [order, amount] of [
    ['A', '100.00'],
    ['B', '200.00'],
    ['C', '300.00'],
    ['D', '400.00'],
  ] as const)
    world.report({ event: 'order', order, amount, click_id });
  const text = `Order number;Total;Status;Commission;Click ID
A;100,00;confirmed;10,00;${click_id}
B;250,00;confirmed;;${click_id}
C;300,00;refunded;;${click_id}
E;50,00;confirmed;;${click_id}
F;60,00;confirmed;;of-another-kind
`;
  const { reading } = detectReading(text, 'order');
  const order = { text, source: 'Larkmoor shop', reading, from: '2026-11-01', to: '2026-11-30' };
  const lines = reconcileJob(world.stores, world.owner, order, true, () => undefined);
  const id = Number(lines[0]?.code);
  const of = (finding: Parameters<typeof reconciliationLines>[3]) =>
    reconciliationLines(world.stores, world.owner, id, finding, { limit: 50, offset: 0 }).rows;
  return { world, id, of, order };
}

describe('a report', () => {
  test('is compared line by line: equal, differs field by field, only there, only here; nothing changes', () => {
    const { world, id, of } = reported();
    using _ = world;
    expect(of('equal').map(({ fields }) => fields.order)).toEqual(['A']);
    expect(of('differs').map(({ fields, differences }) => [fields.order, differences])).toEqual([
      ['B', [{ field: 'amount', theirs: '250.00', ours: '200.00' }]],
      ['C', [{ field: 'status', theirs: 'reversed', ours: 'pending' }]],
    ]);
    expect(of('only_there').map(({ fields, line }) => [fields.order, line])).toEqual([
      ['E', 5],
      ['F', 6],
    ]);
    expect(of('only_here').map(({ fields }) => fields.order)).toEqual(['D']);
    expect(world.balance('partner_pending')).toBe(10_000);
    expect(newestReconciliations(world.stores, world.owner, 5)).toMatchObject([
      { id, equal: 1, differs: 2, onlyThere: 2, onlyHere: 1, undecided: 5 },
    ]);
    const csv = [...exportCsv(world.stores, world.owner, 'reconciliation', ALL, String(id))].join('');
    expect(csv).toContain('"amount: 250.00 there, 200.00 here"'.slice(1, -1));
    sound(world);
  });

  test('is decided on in bulk; the books follow, and once', () => {
    const { world, id, of } = reported();
    using _ = world;
    const decide = (decision: string, reason = '', ids: number[] = []) =>
      decideLines(world.stores, world.owner, id, { decision, reason, ids });
    expect(decide('take_theirs')).toEqual({ count: 2, left: [] });
    // B is 250 now, C is gone; D is taken back, E recorded, F waits for its partner.
    expect(world.balance('partner_pending')).toBe(1000 + 2500 + 4000);
    expect(decide('reject', 'The shop knows no such order.')).toMatchObject({ count: 1 });
    expect(decide('record')).toMatchObject({ count: 2, left: [] });
    expect(world.balance('partner_pending')).toBe(1000 + 2500 + 500);
    expect(of('only_there').map(({ conversionId }) => conversionId !== null)).toEqual([true, true]);
    expect(decide('take_theirs').count).toBe(0);
    const [again] = of('differs');
    expect(decide('keep_ours', '', [again?.id ?? 0])).toMatchObject({ count: 0, left: [{ what: 'order B' }] });
    expect(newestReconciliations(world.stores, world.owner, 1)[0]?.undecided).toBe(0);
    sound(world);
  });

  test('that is repeated after the decisions finds everything equal', () => {
    const { world, id, order } = reported();
    using _ = world;
    for (const decision of ['take_theirs', 'record'])
      decideLines(world.stores, world.owner, id, { decision, reason: '', ids: [] });
    decideLines(world.stores, world.owner, id, { decision: 'reject', reason: 'Not in the report.', ids: [] });
    reconcileJob(world.stores, world.owner, order, true, () => undefined);
    expect(newestReconciliations(world.stores, world.owner, 1)[0]).toMatchObject({
      ...{ equal: 5, differs: 0, onlyThere: 0, onlyHere: 0 },
    });
  });

  test('what a report cannot change is left and named; what cannot be read refuses the whole file', () => {
    using world = new World();
    world.report({ event: 'order', order: 'A', amount: '100.00', click_id: world.click() });
    const run = (text: string): number => {
      const { reading } = detectReading(text, 'order');
      const order = { text, source: 'Network', reading, from: '2026-11-01', to: '2026-11-30' };
      return Number(reconcileJob(world.stores, world.owner, order, true, () => undefined)[0]?.code);
    };
    const id = run('order,commission\nA,12.50\n');
    const { left } = decideLines(world.stores, world.owner, id, { decision: 'take_theirs', reason: '', ids: [] });
    expect(left).toEqual([{ what: 'order A', reason: expect.stringContaining('rate sheet') }]);
    expect(() => run('order,amount\nA,twelve\n')).toThrow('Line 2');
    expect(() => run('name,amount\nA,12.00\n')).toThrow('which column');
    expect(newestReconciliations(world.stores, world.owner, 5)).toHaveLength(1);
  });
});
