import { describe, expect, test } from 'vitest';
import { World } from '../../tests/support/world';
import type { Day } from '@/core/time/days';
import { listAddressLists, removeAddressList, saveAddressList } from './address_lists';
import { LOG_COLUMNS, USUAL_COLUMNS, chooseLogColumns, logColumns } from './click_log';
import { exportClicks, exportGroups } from './exports';
import { type ExploreRequest, explore } from './explore';
import { programFields, readProgram, updateProgram } from './programs';
import { ruleEffect } from './rule_effect';
import { dropView, keepView, listViews } from './views';

const SCOPE = { from: '2000-01-01' as Day, to: '2999-12-31' as Day, partnerId: null, channelId: null, offerId: null };
const withPrivacy = (world: World, privacy: 'whole' | 'cut' | 'hash') =>
  updateProgram(world.stores, world.owner, { ...programFields(readProgram(world.stores, world.owner)), privacy });

describe('a rule is tried on the last 30 days before it is in force', () => {
  /** One click long ago, four of one address within a minute, one of its neighbour, with a sale. */
  function pressed(privacy: 'whole' | 'cut' | 'hash'): World {
    const world = new World();
    withPrivacy(world, privacy);
    world.click(world.link, { client: '192.0.2.77' });
    world.pass(40);
    for (let i = 0; i < 4; i++) world.click(world.link, { client: '192.0.2.77' });
    const sold = world.click(world.link, { client: '192.0.2.78' });
    world.click(world.link, { client: '192.0.2.77', agent: 'linkchecker/10.2' });
    world.report({ event: 'order', order: 'A', amount: '100.00', click_id: sold });
    world.work();
    return world;
  }
  const tried = (world: World, input: object) => ruleEffect(world.stores, world.owner, input);

  test('a list by the whole address, or by the network where addresses are kept cut', () => {
    using whole = pressed('whole');
    expect(tried(whole, { text: '192.0.2.77' })).toMatchObject({
      certainty: 'exact',
      clicks: 4,
      of: 5,
      conversions: 0,
    });
    using cut = pressed('cut');
    expect(tried(cut, { text: '192.0.2.77' })).toMatchObject({
      ...{ certainty: 'at_most', clicks: 5, of: 5, conversions: 1, commission: 1000 },
      partners: [{ partner: 'SLOWWHEEL', clicks: 5 }],
    });
    using hashed = pressed('hash');
    expect(() => tried(hashed, { text: '192.0.2.77' })).toThrow('hashes only');
  });

  test('a flood by what goes beyond the limit within a minute', () => {
    using world = pressed('whole');
    expect([1, 3, 4].map((floodMost) => tried(world, { floodMost }).clicks)).toEqual([3, 1, 0]);
    expect(() => tried(world, { floodMost: 0 })).toThrow('at least 1');
    expect(() => tried(world, {})).toThrow();
  });

  test('a list that stands is tried as it stands; its name is one’s own, and what is no address is refused whole', () => {
    using world = pressed('whole');
    const save = (id: number | undefined, more: object) =>
      saveAddressList(world.stores, world.owner, id, { name: 'Farms', effect: 'set_aside', on: false, ...more });
    const { id, ranges } = save(undefined, { text: '192.0.2.0/24\n2001:db8::/32\n' });
    expect([ranges, tried(world, { listId: id }).clicks]).toEqual([2, 5]);
    expect(() => save(undefined, { text: '192.0.2.1' })).toThrow('already');
    expect(() => save(id, { text: '192.0.2.0/24\nx' })).toThrow(/^Line 2: "x" is not [^.]+(\.\d+)*\/24\.$/);
    expect(() => save(id, { text: '192.0.2.0/24\nx\ny' })).toThrow(/ So is line 3\.$/);
    expect(() => save(id, { text: 'x\n'.repeat(20) })).toThrow(/ So are lines 2, 3, [\d, ]+, 11 and 9 more\.$/);
    expect(save(id, { name: 'Click farms', on: true })).toMatchObject({ ranges: 2, isOn: 1 });
    removeAddressList(world.stores, world.owner, id);
    expect(listAddressLists(world.stores, world.owner)).toEqual([]);
  });
});

test('views are kept per person, by name, and lead nowhere but into Brivet', () => {
  using world = new World();
  const { stores, owner, finance } = world;
  keepView(stores, owner, { name: 'Keywords', address: '/clicks?shelf=explore&by=sub1' });
  keepView(stores, owner, { name: 'keywords', address: '/clicks?by=sub2' });
  expect(listViews(stores, owner).map(({ name, address }) => [name, address])).toEqual([
    ['Keywords', '/clicks?by=sub2'],
  ]);
  expect(listViews(stores, finance)).toEqual([]);
  for (const address of ['https://evil.example/', '//evil.example', 'javascript:alert(1)', '/clicks#x', ''])
    expect(() => keepView(stores, owner, { name: 'x', address })).toThrow();
  const [view] = listViews(stores, owner);
  dropView(stores, finance, view?.id ?? 0);
  expect(listViews(stores, owner)).toHaveLength(1);
  dropView(stores, owner, view?.id ?? 0);
  expect(listViews(stores, owner)).toEqual([]);
});

describe('the log and the explorer as files', () => {
  test('have the columns a person chose, in order, and names for IDs; formulas are defused', () => {
    using world = new World();
    const click = world.click(world.link, {
      query: 'sub1=%3D1%2B1&pcid=q7&cost=0.25',
      referrer: 'https://Wheel.example/a?b',
    });
    world.report({ event: 'order', order: 'A', amount: '100.00', click_id: click });
    const columns = ['earned', 'cost', 'sub1', 'partner', 'referrer', 'pcid', 'click_id'];
    chooseLogColumns(world.stores, world.owner, columns);
    expect(logColumns(world.stores, world.owner)).toEqual(columns);
    // Somebody else's choice is their own.
    expect(logColumns(world.stores, world.finance)).toEqual(USUAL_COLUMNS);
    expect(() => chooseLogColumns(world.stores, world.owner, ['password'])).toThrow();
    const query = { shelf: 'counted', filters: [] } as const;
    const chosen = logColumns(world.stores, world.owner);
    expect([...exportClicks(world.stores, world.owner, SCOPE, query, chosen)].join('')).toBe(
      `${columns.join(',')}\r\n10.00,0.25,'=1+1,SLOWWHEEL,wheel.example,q7,${click}\r\n`,
    );
    for (const column of LOG_COLUMNS)
      expect([...exportClicks(world.stores, world.owner, SCOPE, query, [column])].join('').split('\r\n')).toHaveLength(
        3,
      );
    chooseLogColumns(world.stores, world.owner, undefined);
    expect(logColumns(world.stores, world.owner)).toEqual(USUAL_COLUMNS);
  });

  test('groups are written with their sums, however many, each once while others come in', async () => {
    using world = new World();
    world.report({
      event: 'order',
      order: 'A',
      amount: '100.00',
      click_id: world.click(world.link, { query: 'sub1=@a&cost=0.3' }),
    });
    const by = ['link', 'sub1'];
    const asked = { scope: SCOPE, by, filters: [], sort: 'name' as const, ascending: true, limit: 9, offset: 0 };
    const written = async (most?: number, meanwhile: () => void = () => undefined) => {
      const file: string[] = [];
      const ask = (request: ExploreRequest) => {
        const explored = explore(world.stores, world.owner, request, 100);
        meanwhile();
        return explored;
      };
      for await (const lines of exportGroups(world.stores, world.owner, asked, ask, most)) file.push(lines);
      return file.join('');
    };
    expect(await written()).toBe(
      `link,sub1,clicks,unique_clicks,set_aside,conversions,approved,decided,commission,cost,currency\r\n${world.link.code},'@a,1,1,0,1,0,0,10.00,0.30,EUR\r\n`,
    );
    for (const sub1 of ['m3', 'm1', 'm5', 'm4', 'm2']) world.click(world.link, { query: `sub1=${sub1}` });
    world.work();
    let others = 0;
    const lines = await written(2, () => {
      others += 1;
      world.click(world.link, { query: `sub1=a${others}` });
      world.work();
    });
    const slots = lines.split('\r\n').map((line) => line.split(',')[1]);
    expect(slots.filter((slot) => slot === 'sub1' || slot?.startsWith('m'))).toEqual([
      'sub1',
      'm1',
      'm2',
      'm3',
      'm4',
      'm5',
    ]);
    expect(new Set(slots).size).toBe(slots.length);
  });
});
