import { describe, expect, test } from 'vitest';
import { OFFER, World } from '../../tests/support/world';
import { USUAL_CALL_TERMS, type CallTerms } from '@/core/calls/terms';
import type { Day } from '@/core/time/days';
import { checkCall } from './call_reports';
import { addNumbers, callCounts, listCalls, listNumbers, removeNumber } from './calls';
import { setPartnerState } from './partners';
import { waitingReports } from './receipts';
import { conversionsJob, newestImports, undoImport } from './recording';
import { verify } from './verify';

const ALL = { from: '2000-01-01' as Day, to: '2999-12-31' as Day, partnerId: null, channelId: null, offerId: null };
const [OWN, VISIT] = ['+15550110', '+15550120'];
const MINUTE = 60_000;

function worldOf(terms: Partial<CallTerms> = {}): World {
  const call = {
    event: 'call',
    kind: 'call',
    repeat: 'ignore',
    payable: true,
    call: { ...USUAL_CALL_TERMS, ...terms },
  };
  const rows = [
    { id: 'call', label: 'Calls', when: { event: 'call' }, pay: { kind: 'fixed', amount: 1800, per: 'conversion' } },
  ] as const;
  const world = new World({ offer: { ...OFFER, events: [...OFFER.events, call as never] }, rows });
  const { offerId, channelId } = world.link;
  addNumbers(world.stores, world.owner, { numbers: ['+1 555 0110'], offerId, use: 'channel', channelId });
  addNumbers(world.stores, world.owner, { numbers: [VISIT], offerId, use: 'visits' });
  return world;
}
let counted = 0;
/** A call as the edge keeps it. @returns its ID */
function call(world: World, fields: Record<string, string> = {}, named = `C${++counted}`): string {
  const said = {
    ...{ call: named, number: OWN, caller: '+442079460042', answered: '1', length: '120', place: 'Breda' },
    started: new Date(world.clock).toISOString(),
    ...fields,
  };
  const raw = { query: new URLSearchParams(said).toString(), body: '', contentType: null };
  const kept = checkCall(raw, (caller) => Buffer.from(caller).toString('hex').padEnd(32, '0').slice(0, 32));
  if (!kept.ok) throw new Error(JSON.stringify(kept.problems));
  world.report(JSON.parse(kept.value.body) as Record<string, string>, true, 'server', 'call');
  return named;
}
const outcomes = (world: World): string[] =>
  listCalls(world.stores, world.owner, ALL, null, { limit: 50, offset: 0 }).rows.map(({ outcome }) => outcome);
const sound = (world: World): void => expect(verify(world.stores).flatMap(({ wrong }) => wrong)).toEqual([]);
/** The page showed the number to a click's visit. */
const lease = (world: World, clickId: string): void => {
  const numberId = listNumbers(world.stores, world.owner).find(({ number }) => number === VISIT)?.id ?? 0;
  world.traffic.insertLease({ numberId, clickId, fromTime: world.clock, uptoTime: world.clock + 30 * MINUTE });
};

describe('a call', () => {
  test('to a channel’s number is the channel’s, once, however often it is reported', () => {
    using world = worldOf();
    const named = call(world);
    call(world, {}, named);
    expect(outcomes(world)).toEqual(['converted']);
    expect(world.balance('partner_pending')).toBe(1800);
    const [row] = listCalls(world.stores, world.owner, ALL, 'converted', { limit: 5, offset: 0 }).rows;
    expect(row).toMatchObject({ callerEnd: '42', channelName: 'Main', commission: 1800, place: 'Breda' });
    expect(world.stores.books.conversions.byId(row?.conversionId ?? 0)).toMatchObject({
      ...{ matchedBy: 'call', orderRef: named, facts: { callLength: 120 }, custom: { x_place: 'Breda' }, linkId: null },
    });
    sound(world);
  });

  test('to a number that a visit was shown is that visit’s click’s, also a little later, and nobody’s long after', () => {
    using world = worldOf();
    const other = world.newLink('CLAYCAST');
    const first = world.click(world.link);
    lease(world, first);
    world.clock += 45 * MINUTE;
    call(world, { number: VISIT, caller: '+442079460001' });
    world.clock += 30 * MINUTE;
    const second = world.click(other, { client: '192.0.2.8' });
    lease(world, second);
    world.clock += MINUTE;
    call(world, { number: VISIT, caller: '+442079460002' });
    world.clock += 300 * MINUTE;
    call(world, { number: VISIT, caller: '+442079460003' });
    call(world, { number: '+15550199', caller: '+442079460004' });
    const rows = listCalls(world.stores, world.owner, ALL, null, { limit: 9, offset: 0 }).rows.reverse();
    expect(rows.map(({ outcome, partnerName, clickId }) => [outcome, partnerName, clickId])).toEqual([
      ['converted', 'SLOWWHEEL', first],
      ['converted', 'CLAYCAST', second],
      ['nobody', null, null],
      ['nobody', null, null],
    ]);
    expect(world.stores.books.conversions.byId(rows[0]?.conversionId ?? 0)?.linkId).toBe(world.link.id);
    sound(world);
  });

  test('of the same caller counts once in the hours, of a hidden one never; caps hold', () => {
    using world = worldOf({ repeatHours: 24, mostADay: 2, mostAtOnce: 2 });
    call(world, { length: '600' });
    world.clock += MINUTE;
    call(world);
    call(world, { caller: 'anonymous' });
    call(world, { caller: '+442079460002', length: '600' });
    world.clock += MINUTE;
    call(world, { caller: '+442079460003' });
    world.clock += 60 * MINUTE;
    call(world, { caller: '+442079460004' });
    world.pass(2);
    call(world);
    expect(outcomes(world).reverse()).toEqual([
      ...['converted', 'repeat_caller', 'anonymous', 'converted', 'cap_at_once', 'cap_day', 'converted'],
    ]);
    expect(callCounts(world.stores, world.owner, ALL)[0]).toEqual({ outcome: 'converted', count: 3 });
    sound(world);
  });

  test.each([true, false])('counts when the merchant says so, before it was reported or after (%s)', (before) => {
    using world = worldOf({ converts: 'merchant' });
    const named = 'C-77';
    const confirm = (): unknown => world.report({ event: 'call', order: named });
    if (before) confirm();
    call(world, {}, named);
    expect(world.balance('partner_pending')).toBe(before ? 1800 : 0);
    if (!before) {
      expect(outcomes(world)).toEqual(['asked']);
      expect(waitingReports(world.stores, world.owner)).toEqual([]);
    }
    if (!before) confirm();
    expect([outcomes(world), world.balance('partner_pending')]).toEqual([['converted'], 1800]);
    // It is taken back like anything else that was sold.
    world.report({ event: 'call', order: named, status: 'reversed' });
    expect(world.balance('partner_pending')).toBe(0);
    sound(world);
  });

  test('waits again when the merchant’s word was in a file that is taken back', () => {
    using world = worldOf({ converts: 'merchant' });
    const text = `call\n${call(world)}`;
    const columns = ['order'];
    const reading = { delimiter: ',', decimal: '.', dates: 'iso', event: 'call', columns };
    const job = { text, source: 'Merchant', reading, leaveOut: false };
    const tell = (): unknown => conversionsJob(world.stores, world.owner, job, true, () => undefined);
    for (let i = 0; i < 2; i++) {
      tell();
      expect([outcomes(world), world.balance('partner_pending')]).toEqual([['converted'], 1800]);
      undoImport(world.stores, world.owner, newestImports(world.stores, world.owner, 1)[0]?.id ?? 0);
      expect([outcomes(world), world.balance('partner_pending')]).toEqual([['asked'], 0]);
      sound(world);
    }
  });

  test('is not meant by an order of another kind that bears its number, and is nobody’s once the partner is closed', () => {
    using world = worldOf();
    const other = world.newLink('CLAYCAST');
    const named = call(world);
    world.report({ event: 'order', order: named, amount: '10.00', click_id: world.click(other) });
    expect(world.stores.books.conversions.byOrder(world.programId, named, 'order')).toMatchObject({
      ...{ matchedBy: 'click', partnerId: other.partnerId },
    });
    setPartnerState(world.stores, world.owner, world.link.partnerId, 'closed', 'Left.');
    call(world, { caller: '+442079460002' });
    expect(outcomes(world)[0]).toBe('nobody');
    sound(world);
  });

  test('numbers are in the pool once; one that is removed counts no more', () => {
    using world = worldOf();
    const add = (numbers: string[]): number =>
      addNumbers(world.stores, world.owner, { numbers, offerId: world.link.offerId, use: 'visits' });
    expect(() => add(['+15550121', OWN])).toThrow('in the pool already');
    expect(() => add(['0555 0121'])).toThrow('country code');
    expect(listNumbers(world.stores, world.owner)).toHaveLength(2);
    const own = listNumbers(world.stores, world.owner).find(({ number }) => number === OWN);
    removeNumber(world.stores, world.owner, own?.id ?? 0);
    call(world);
    expect(outcomes(world)).toEqual(['nobody']);
    expect(add([OWN])).toBe(1);
  });
});
