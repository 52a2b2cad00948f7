import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { World } from '../../tests/support/world';
import { approveCommissions, reverseCommission } from './commissions';
import { abandonRun, approveRun, draftRun, exportRun, listItems, returnPayment, settleRun } from './payouts';
import { markDetailsChecked, putPayoutDetails } from './partners';
import { readStatement, statementCsv, paymentFile } from './statements';
import { statementPdf } from './statement_pdf';
import { putExchangeRate } from './terms';
import { verify } from './verify';

const wrong = (world: World): string[] => verify(world.stores).flatMap((finding) => finding.wrong);

/** Earns an amount for a link's partner and approves it once its hold is over. @returns the commission's ID */
function earnApproved(world: World, minor: number, link = world.link): number {
  const order = `E${Math.random()}`;
  const receipt = world.report({
    event: 'order',
    order,
    amount: ((minor * 10) / 100).toFixed(2),
    click_id: world.click(link),
  });
  world.pass(15);
  const commission = world.stores.books.commissions.byConversion(world.outcome(receipt)?.conversionId ?? 0);
  approveCommissions(world.stores, world.owner, [commission?.id ?? 0]);
  return commission?.id ?? 0;
}
const today = (world: World): string => new Date(world.clock).toISOString().slice(0, 10);
const draft = (world: World) => draftRun(world.stores, world.finance, { cutOff: today(world) });
function pay(world: World): number {
  const { id } = draft(world);
  approveRun(world.stores, world.owner, id);
  exportRun(world.stores, world.finance, id);
  settleRun(world.stores, world.finance, id);
  return id;
}

describe('a payout run', () => {
  test('pays who is above the minimum with checked details, and says why the others are out', () => {
    using world = new World();
    const small = world.newLink('SMALL');
    const unchecked = world.newLink('UNCHECKED');
    putPayoutDetails(world.stores, world.owner, unchecked.partnerId, { holder: 'New', account: 'NL05KLEI0300088957' });
    earnApproved(world, 6000);
    earnApproved(world, 4999, small);
    earnApproved(world, 9000, unchecked);
    const run = draft(world);
    expect(
      listItems(world.stores, world.finance, run.id).map(({ partnerCode, amount, outReason }) => [
        partnerCode,
        amount,
        outReason,
      ]),
    ).toEqual([
      ['SLOWWHEEL', 6000, null],
      ['UNCHECKED', 9000, 'details_unchecked'],
      ['SMALL', 4999, 'below_minimum'],
    ]);
    expect(world.balance('partner_in_payout')).toBe(6000);
    expect(() => approveRun(world.stores, world.finance, run.id)).toThrow('second person');
    expect(() => draft(world)).toThrow('still drafted');
    abandonRun(world.stores, world.finance, run.id, { reason: 'A mistake in the cut-off.' });
    expect(world.balance('partner_approved')).toBe(6000);
    expect(wrong(world)).toEqual([]);
  });

  test('the same money is never paid twice, also by a second run with the same cut-off', () => {
    using world = new World();
    earnApproved(world, 7000);
    const first = pay(world);
    expect(() => abandonRun(world.stores, world.finance, first, { reason: 'Too late.' })).toThrow(
      'cannot become abandoned',
    );
    expect(draft(world).partners).toBe(0);
    expect(world.balance('partner_approved')).toBe(0);
  });

  test('a returned payment and a reversal after payment stand on the next statement', async () => {
    using world = new World();
    const paid = earnApproved(world, 7000);
    const first = pay(world);
    returnPayment(world.stores, world.finance, first, world.link.partnerId, { reason: 'Account closed' });
    reverseCommission(world.stores, world.owner, paid, { reason: 'Refunded in part', amount: '10.00' });
    earnApproved(world, 2000);
    expect(draft(world).partners).toBe(0);
    abandonRun(world.stores, world.finance, first + 1, { reason: 'Details on hold.' });
    putPayoutDetails(world.stores, world.owner, world.link.partnerId, { holder: 'New', account: 'NL05KLEI0300088957' });
    world.stores.books.partners.markDetailsChecked(world.link.partnerId);
    const second = pay(world);
    const statement = readStatement(world.stores, world.finance, second, world.link.partnerId);
    expect(statement.lines.map(({ kind, amount }) => [kind, amount])).toEqual([
      ['returned', 7000],
      ['reversed', -1000],
      ['approved', 2000],
    ]);
    expect(statement.item.amount).toBe(8000);
    expect(statementCsv(statement)).toContain('Taken back,2026-');
    expect((await statementPdf(statement)).subarray(0, 5).toString()).toBe('%PDF-');
    expect(paymentFile(world.stores, world.finance, second)).toContain(
      '2-SLOWWHEEL'.replace('2', '3') + ',New,NL05KLEI0300088957,80.00,EUR',
    );
    expect(wrong(world)).toEqual([]);
  });

  test('pays in the partner’s currency at the rate of the run’s day, or says that it is missing', () => {
    using world = new World();
    const pounds = world.newLink('POUNDS', undefined, 'GBP');
    earnApproved(world, 10_001, pounds);
    const run = draft(world);
    expect(listItems(world.stores, world.finance, run.id)[0]?.outReason).toBe('needs_rate');
    abandonRun(world.stores, world.finance, run.id, { reason: 'No rate yet.' });
    putExchangeRate(world.stores, world.owner, { from: 'EUR', to: 'GBP', day: today(world), rate: '0.8595' });
    const item = listItems(world.stores, world.finance, pay(world))[0];
    expect(item).toMatchObject({ amount: 10_001, payoutAmount: 8596, payoutCurrency: 'GBP', state: 'paid' });
  });

  test('takes what was approved up to its cut-off and leaves the rest for the next', () => {
    using world = new World();
    const state = (id: number): string | undefined => world.stores.books.commissions.byId(id)?.state;
    const other = world.newLink('SMALL');
    const early = earnApproved(world, 6000);
    const cutOff = today(world);
    const late = earnApproved(world, 7000);
    const small = earnApproved(world, 100, other);
    const first = draftRun(world.stores, world.finance, { cutOff });
    expect([early, late, small].map(state)).toEqual(['in_payout', 'approved', 'approved']);
    abandonRun(world.stores, world.finance, first.id, { reason: 'Again.' });
    expect([early, late, small].map(state)).toEqual(['approved', 'approved', 'approved']);
    const second = draftRun(world.stores, world.finance, { cutOff });
    approveRun(world.stores, world.owner, second.id);
    exportRun(world.stores, world.finance, second.id);
    settleRun(world.stores, world.finance, second.id);
    expect([early, late, small].map(state)).toEqual(['paid', 'approved', 'approved']);
    returnPayment(world.stores, world.finance, second.id, world.link.partnerId, { reason: 'Account closed' });
    markDetailsChecked(world.stores, world.owner, world.link.partnerId);
    world.stores.books.partners.setHold(world.link.partnerId, null);
    expect(draft(world).amount).toBe(13_000);
    expect([early, late, small].map(state)).toEqual(['in_payout', 'in_payout', 'approved']);
    world.work();
    expect(wrong(world)).toEqual([]);
  });

  test('leaves nothing behind when it is stopped, and tells reports and caps nothing that did not change', () => {
    using world = new World();
    const earned = earnApproved(world, 6000);
    world.work();
    const { db, commissions, payouts } = world.stores.books;
    const changes = (): unknown => db.prepare('SELECT count(*) FROM conversion_changes').pluck().get();
    const before = changes();
    const stop = (done: number): void => {
      if (done === 1) throw new Error('Stopped after the last partner.');
    };
    expect(() => draftRun(world.stores, world.finance, { cutOff: today(world) }, stop)).toThrow('Stopped');
    expect([payouts.runs(world.programId), commissions.byId(earned)?.state]).toEqual([[], 'approved']);
    pay(world);
    expect(changes()).toBe(before);
    reverseCommission(world.stores, world.owner, earned, { reason: 'Refunded', amount: '10.00' });
    expect(changes()).not.toBe(before);
    expect(wrong(world)).toEqual([]);
  });

  test('whatever happens in whatever order, the books stay sound and money is conserved', () => {
    const step = fc.oneof(
      fc.record({ do: fc.constant('earn' as const), amount: fc.integer({ min: 1, max: 9000 }) }),
      fc.record({
        do: fc.constantFrom('reverse' as const, 'pay' as const, 'abandon' as const, 'return' as const),
        amount: fc.constant(0),
      }),
    );
    fc.assert(
      fc.property(fc.array(step, { minLength: 3, maxLength: 10 }), (steps) => {
        using world = new World();
        const earned: number[] = [];
        let settled = 0;
        for (const { do: what, amount } of steps) {
          const last = earned.at(-1);
          const runs = world.stores.books.payouts.runs(world.programId);
          const paid = runs.find(({ state, partners }) => state === 'settled' && partners > 0);
          if (what === 'earn') earned.push(earnApproved(world, amount));
          else if (what === 'reverse' && last)
            reverseCommission(world.stores, world.owner, earned.pop() ?? 0, { reason: 'A refund.' });
          else if (
            what === 'return' &&
            paid &&
            world.stores.books.payouts.item(paid.id, world.link.partnerId)?.state === 'paid'
          )
            returnPayment(world.stores, world.finance, paid.id, world.link.partnerId, { reason: 'Refused' });
          else if (what === 'pay' || what === 'abandon') {
            const run = draft(world);
            if (what === 'abandon' || run.partners === 0)
              abandonRun(world.stores, world.finance, run.id, { reason: 'Not now.' });
            else {
              approveRun(world.stores, world.owner, run.id);
              exportRun(world.stores, world.finance, run.id);
              settleRun(world.stores, world.finance, run.id);
              settled += 1;
            }
          }
          world.pass(1);
        }
        expect(wrong(world)).toEqual([]);
        expect(world.balance('partner_in_payout')).toBe(0);
        expect(
          world.stores.books.payouts.runs(world.programId).filter(({ state }) => state === 'settled'),
        ).toHaveLength(settled);
      }),
      { numRuns: 12 },
    );
  });
});
