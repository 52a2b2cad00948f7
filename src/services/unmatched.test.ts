import { expect, test } from 'vitest';
import { OFFER, World } from '../../tests/support/world';
import type { Day } from '@/core/time/days';
import { createCoupon } from './coupons';
import { readOffer, updateOffer } from './offers';
import { runCommissionTimetable, approveDue } from './commissions';
import { dismissUnmatched, giveToClick, giveToPartner, newestRepairs, undoRepair, unmatchedGroups } from './unmatched';
import { verify } from './verify';

const ALL = { from: '2000-01-01' as Day, to: '2999-12-31' as Day, partnerId: null, channelId: null, offerId: null };
const sound = (world: World): void => expect(verify(world.stores).flatMap(({ wrong }) => wrong)).toEqual([]);
const groups = (world: World) =>
  unmatchedGroups(world.stores, world.owner, ALL).map(({ key, count, fix }) => ({ key, count, fix: fix?.kind }));
const order = { event: 'order', amount: '100.00' };
const unmatched = (world: World, count = 3): number[] =>
  Array.from({ length: count }, (_, i) => {
    const receipt = world.report({ ...order, order: `U${i}`, click_id: `other-program-${i}` });
    return world.outcome(receipt)?.conversionId ?? 0;
  });

test('what found no partner is grouped by its likely cause, with what would mend it', () => {
  using world = new World();
  const old = world.click();
  world.pass(40);
  const report = (fields: Record<string, string>): unknown => world.report({ ...order, ...fields });
  unmatched(world, 2);
  report({ order: '3', click_id: '{click_id}' });
  report({ order: '4', click_id: '01KB0000000000000000000000' });
  report({ order: '5', click_id: old });
  report({ order: '6', code: 'CLAYFAN' });
  report({ order: '7', code: 'clayfan' });
  report({ order: '8', event: 'booking', click_id: world.click() });
  const { offerId } = world.link;
  expect(groups(world)).toEqual(
    expect.arrayContaining([
      { key: 'foreign', count: 2, fix: undefined },
      { key: 'unfilled', count: 1, fix: undefined },
      { key: 'unknown', count: 1, fix: undefined },
      { key: `window-${offerId}-45`, count: 1, fix: 'window' },
      { key: 'coupon-clayfan', count: 2, fix: 'coupon' },
      { key: `event-${offerId}-booking`, count: 1, fix: 'event' },
    ]),
  );
  // Each is mended where its cause lies, and is matched by itself.
  const { id, programId: _, ...fields } = readOffer(world.stores, world.owner, offerId);
  updateOffer(world.stores, world.owner, id, {
    ...fields,
    clickWindowDays: 45,
    events: [...OFFER.events, { event: 'booking', repeat: 'ignore', payable: true }],
  });
  const { partnerId, channelId } = world.link;
  createCoupon(world.stores, world.owner, { code: 'CLAYFAN', partnerId, channelId, offerId });
  expect(new Set(groups(world).map(({ key }) => key))).toEqual(new Set(['foreign', 'unfilled', 'unknown']));
  expect(world.balance('partner_pending')).toBe(4000);
  sound(world);
});

test('many are given to a partner at once, and taken back whole; then to another', () => {
  using world = new World();
  const other = world.newLink('OTHER');
  const ids = unmatched(world);
  const give = ({ partnerId, channelId, offerId }: typeof other) =>
    giveToPartner(world.stores, world.owner, { ids, partnerId, channelId, offerId, reason: 'their newsletter' });
  const first = give(world.link);
  expect([world.balance('partner_pending'), groups(world)]).toEqual([3000, []]);
  sound(world);
  expect(undoRepair(world.stores, world.owner, first.id)).toBe(3);
  expect([world.balance('partner_pending'), groups(world)]).toEqual([
    0,
    [{ key: 'foreign', count: 3, fix: undefined }],
  ]);
  sound(world);
  give(other);
  expect([world.balance('partner_pending'), world.balance('partner_pending', other.partnerId)]).toEqual([0, 3000]);
  expect(() => undoRepair(world.stores, world.owner, first.id)).toThrow('taken back already');
  expect(newestRepairs(world.stores, world.owner, 5).map(({ count, undoneAt }) => [count, undoneAt !== null])).toEqual([
    [3, false],
    [3, true],
  ]);
  // A later report of the same order means the conversion that was given away.
  world.report({ ...order, order: 'U0', status: 'reversed' });
  expect(world.balance('partner_pending', other.partnerId)).toBe(2000);
  sound(world);
});

test('one is given to a click, however old; what is decided is not taken back', () => {
  using world = new World();
  const clickId = world.click();
  world.pass(60);
  const [id = 0] = unmatched(world, 1);
  const { id: repairId } = giveToClick(world.stores, world.owner, { ids: [id], clickId, reason: 'the customer wrote' });
  expect(world.balance('partner_pending')).toBe(1000);
  world.pass(20);
  runCommissionTimetable(world.stores, world.programId);
  const commission = world.stores.books.commissions.byConversion(id);
  approveDue(world.stores, world.owner, ALL);
  expect(world.stores.books.commissions.byConversion(id)).toMatchObject({ id: commission?.id, state: 'approved' });
  expect(() => undoRepair(world.stores, world.owner, repairId)).toThrow('Reverse it instead');
  expect(world.balance('partner_approved')).toBe(1000);
  sound(world);
});

test('nobody’s leave the shelf and can come back; what is chosen wrongly changes nothing', () => {
  using world = new World();
  const ids = unmatched(world);
  const { id } = dismissUnmatched(world.stores, world.owner, { ids, reason: 'tests of the shop' });
  expect(groups(world)).toEqual([]);
  expect(() => dismissUnmatched(world.stores, world.owner, { ids, reason: 'again' })).toThrow('somebody was quicker');
  expect(undoRepair(world.stores, world.owner, id)).toBe(3);
  const { partnerId, offerId } = world.link;
  const wrong = { ids, partnerId, offerId, channelId: world.newLink('OTHER').channelId, reason: 'their channel' };
  expect(() => giveToPartner(world.stores, world.owner, wrong)).toThrow('not a channel of');
  expect(() => giveToClick(world.stores, world.owner, { ids, clickId: 'nothing', reason: 'whatever' })).toThrow(
    'No click',
  );
  expect(() => dismissUnmatched(world.stores, world.person('viewer'), { ids, reason: 'no right' })).toThrow();
  expect(groups(world)).toEqual([{ key: 'foreign', count: 3, fix: undefined }]);
  sound(world);
});
