import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { World } from '../../tests/support/world';
import { SIGNAL_NAMES, type SuspicionFacts, USUAL_SUSPICION, lookAt, scoreOf } from '@/core/conversions/suspicion';
import type { Day } from '@/core/time/days';
import { approveDue } from './commissions';
import { readPartner } from './partners';
import { decideReviews, listReviews, reopenReviews, reviewConversions, saveSuspicion } from './reviews';
import { customerHasher, deriveKey } from './secrets';
import { verify } from './verify';

const ALL = { from: '2000-01-01' as Day, to: '2999-12-31' as Day, partnerId: null, channelId: null, offerId: null };
const sound = (world: World): void => expect(verify(world.stores).flatMap(({ wrong }) => wrong)).toEqual([]);
const open = (world: World, state: 'open' | 'cleared' | 'rejected' = 'open') =>
  listReviews(world.stores, world.owner, ALL, state, { limit: 50, offset: 0 }).rows;
let orders = 0;
/** An order some minutes after its click; customer and card as the edge keeps them. */
function buy(world: World, who: { customer?: string; card?: string; client?: string; after?: number } = {}): void {
  const hash = customerHasher(deriveKey(world.stores.secret, 'customers'), world.programId);
  const { customer, card, client = `192.0.2.${(orders % 200) + 1}`, after = 600_000 } = who;
  const click_id = world.click(world.link, { client });
  world.clock += after;
  world.report({
    ...{ event: 'order', order: `R${++orders}`, amount: '100.00', click_id },
    ...(customer && { customer_id: `~${hash(customer)}` }),
    ...(card && { card: `~${hash(card)}` }),
  });
}

describe('what looks odd', () => {
  test('leads to a review with its reasons, and never by itself to a refusal', () => {
    using world = new World();
    const { email } = readPartner(world.stores, world.owner, world.link.partnerId);
    buy(world);
    buy(world, { customer: email.toUpperCase().toLowerCase(), after: 5000 });
    expect(open(world)).toMatchObject([
      { score: 120, signals: [{ signal: 'too_quick' }, { signal: 'is_partner', why: expect.stringContaining(email) }] },
    ]);
    expect(world.balance('partner_pending')).toBe(2000);
    // The many are approved without it; by hand, a person may.
    world.pass(20);
    expect(approveDue(world.stores, world.owner, ALL)).toEqual({ approved: 1, inReview: 1 });
    expect(() => approveDue(world.stores, world.owner, ALL)).toThrow('in review');
    sound(world);
  });

  test('is one card of several customers, and many orders from one browser in a day', () => {
    using world = new World();
    for (const customer of ['C1', 'C2']) buy(world, { customer, card: 'fp-1' });
    for (const customer of ['C3', 'C4']) buy(world, { customer, card: `fp-${customer}` });
    expect(open(world).map(({ signals }) => signals.map(({ signal }) => signal))).toEqual([['same_card']]);
    for (let i = 0; i < 3; i++) buy(world, { client: '198.51.100.9' });
    expect(open(world).filter(({ signals }) => signals[0]?.signal === 'same_address')).toHaveLength(1);
  });

  test('is cleared and put back, or rejected with a reason; a decision stands whatever is seen later', () => {
    using world = new World();
    for (const customer of ['C1', 'C2', 'C3']) buy(world, { customer, card: 'fp-1' });
    const [first, second] = open(world).map(({ conversionId }) => conversionId);
    if (first === undefined || second === undefined) throw new Error('two were to be in review');
    expect(() => decideReviews(world.stores, world.owner, { ids: [first], way: 'reject', reason: '' })).toThrow();
    expect(decideReviews(world.stores, world.owner, { ids: [first], way: 'reject', reason: 'Shared card.' })).toBe(1);
    expect(decideReviews(world.stores, world.owner, { ids: [second], way: 'clear' })).toBe(1);
    expect(() => decideReviews(world.stores, world.owner, { ids: [second], way: 'clear' })).toThrow('not in review');
    expect(world.balance('partner_pending')).toBe(2000);
    reopenReviews(world.stores, world.owner, [second]);
    expect(open(world)).toHaveLength(1);
    decideReviews(world.stores, world.owner, { ids: [second], way: 'clear' });
    saveSuspicion(world.stores, world.owner, USUAL_SUSPICION);
    while (reviewConversions(world.stores) > 0);
    expect([open(world).length, open(world, 'cleared').length, open(world, 'rejected').length]).toEqual([0, 1, 1]);
    // Partners read the history, and do not learn what was looked for.
    const told = world.stores.books.conversions.history(first).map(({ detail }) => detail);
    expect([told.includes('Shared card.'), told.some((detail) => detail.includes('customers'))]).toEqual([true, false]);
    sound(world);
  });

  test('follows the settings: what is undecided is looked at again', () => {
    using world = new World();
    for (const customer of ['C1', 'C2']) buy(world, { customer, card: 'fp-1' });
    expect(open(world)).toHaveLength(1);
    const { signals } = USUAL_SUSPICION;
    saveSuspicion(world.stores, world.owner, {
      ...USUAL_SUSPICION,
      signals: { ...signals, same_card: { weight: 0, limit: 2 } },
    });
    while (reviewConversions(world.stores) > 0);
    expect(open(world)).toEqual([]);
    expect(() => saveSuspicion(world.stores, world.owner, { ...USUAL_SUSPICION, reviewFrom: 'x' })).toThrow(
      'Asks a person',
    );
  });
});

test('the score is the sum of what was seen; a signal without weight is never seen', () => {
  const counts = fc.record({ conversions: fc.nat(40), uniques: fc.nat(400) });
  const facts = fc.record({
    ...{ time: fc.nat(1e9), clickTime: fc.option(fc.nat(1e9), { nil: undefined }), fromAddress: fc.nat(6) },
    ...{ partnerAs: fc.option(fc.constant('pay@x.example'), { nil: undefined }), customersOfCard: fc.nat(4) },
    ...{ today: counts, usual: counts },
  }) as fc.Arbitrary<SuspicionFacts>;
  fc.assert(
    fc.property(facts, fc.subarray(SIGNAL_NAMES), (each, off) => {
      const signals = Object.fromEntries(
        SIGNAL_NAMES.map((name) => [
          name,
          { ...USUAL_SUSPICION.signals[name], ...(off.includes(name) && { weight: 0 }) },
        ]),
      ) as typeof USUAL_SUSPICION.signals;
      const seen = lookAt(each, { ...USUAL_SUSPICION, signals });
      const all = lookAt(each, USUAL_SUSPICION);
      expect(seen).toEqual(all.filter(({ signal }) => !off.includes(signal)));
      expect(scoreOf(all)).toBe(all.reduce((sum, { signal }) => sum + USUAL_SUSPICION.signals[signal].weight, 0));
    }),
  );
});
