import { describe, expect, test } from 'vitest';
import { World } from '../../tests/support/world';
import type { Day } from '@/core/time/days';
import { openRollupsForReading } from '@/store/rollups';
import { MOST_ROWS } from '@/core/reports/block';
import { REBUILDS, SMALL_ROWS } from '@/store/rollups/clicks';
import { tryPlan } from '@/core/routing/example';
import { EMPTY_PLAN, type Mix } from '@/core/routing/plan';
import { countMatching, eachClick, listClicks, newestClick } from './clicks';
import { explore, knownParts, unfilledLinks } from './explore';
import { issueLink } from './links';
import { readOffer, updateOffer } from './offers';
import { planVersions, replayPlan, restorePlan, savePlan } from './routing';
import { SHIFTER, shiftWeights, splitTests } from './splits';
import { storeFile } from './stores';
import { verify } from './verify';
import { approveCommissions } from './commissions';

const SCOPE = { from: '2000-01-01' as Day, to: '2999-12-31' as Day, partnerId: null, channelId: null, offerId: null };
const asked = (by: string[], more: object = {}) => ({
  ...{ scope: SCOPE, by, filters: [], sort: 'clicks' as const, ascending: false, limit: 100, offset: 0 },
  ...more,
});

describe('the sub-ID explorer', () => {
  function filled(): World {
    const world = new World();
    const words = ['ash glaze', 'ash glaze', 'celadon', '{{keyword}}'];
    for (const [i, word] of words.entries())
      world.click(world.link, { query: `sub1=${encodeURIComponent(word)}&cost=0.25`, client: `192.0.2.${i}` });
    const sold = world.click(world.link, { query: 'sub1=Ash-glaze&cost=0.0455', client: '198.51.100.9' });
    world.click(world.link, { query: 'sub1=Ash-glaze', agent: 'linkchecker/10.2' });
    world.report({ event: 'order', order: 'A', amount: '100.00', click_id: sold });
    world.report({ event: 'order', order: 'B', amount: '50.00', click_id: sold });
    return world;
  }

  test('counts clicks, conversions, cost and commission by any dimensions', () => {
    using world = filled();
    const { groups, total, count } = explore(world.stores, world.owner, asked(['sub1', 'country']), 100);
    expect(
      groups.map(({ by, clicks, conversions, commission, cost, setAside }) => [
        ...by,
        clicks,
        conversions,
        commission,
        cost,
        setAside,
      ]),
    ).toEqual([
      ['ash glaze', '', 2, 0, 0, 500_000, 0],
      ['Ash-glaze', '', 1, 2, 1500, 45_500, 1],
      ['celadon', '', 1, 0, 0, 250_000, 0],
      ['{{keyword}}', '', 1, 0, 0, 250_000, 0],
    ]);
    expect([count, total.clicks, total.conversions, total.setAside]).toEqual([4, 5, 2, 1]);
    const best = explore(world.stores, world.owner, asked(['sub1'], { sort: 'profit' }), 100).groups[0];
    expect(best?.by).toEqual(['Ash-glaze']);
    expect(unfilledLinks(world.stores, world.owner, SCOPE)).toEqual([
      { linkId: world.link.id, slots: 'sub1', clicks: 1 },
    ]);
  });

  test('follows what is decided on conversions, and drills down by filters', () => {
    using world = filled();
    const [commission] = world.stores.books.commissions.all(world.programId);
    world.pass(20);
    if (commission) approveCommissions(world.stores, world.owner, [commission.id]);
    world.report({ event: 'order', order: 'B', status: 'reversed' });
    const { total } = explore(
      world.stores,
      world.owner,
      asked([], { filters: [{ field: 'sub1', how: 'has', text: 'aSH-' }] }),
      100,
    );
    expect([total.clicks, total.conversions, total.approved, total.decided, total.commission]).toEqual([
      1, 2, 1, 2, 1000,
    ]);
  });

  test('groups and filters by parts of composite sub-IDs', () => {
    using world = new World();
    const parts = [
      { name: 'match', kind: 'source' as const, text: '[MATCH]' },
      { name: 'screen', kind: 'source' as const, text: '[SCREEN]' },
    ];
    const { partnerId, channelId, offerId } = world.link;
    const values = { sub2: { kind: 'composite' as const, separator: '~', parts } };
    const link = issueLink(world.stores, world.owner, { partnerId, channelId, offerId, values });
    for (const text of ['exact~phone', 'exact~desktop', 'broad~phone']) world.click(link, { query: `sub2=${text}` });
    world.work();
    const by = (name: string, filters: object[] = []) =>
      explore(world.stores, world.owner, asked([name], { filters }), 100).groups.map((group) => [
        group.by[0],
        group.clicks,
      ]);
    expect(by('sub2.match')).toEqual([
      ['exact', 2],
      ['broad', 1],
    ]);
    expect(by('sub2.screen', [{ field: 'sub2.match', how: 'is', text: 'exact' }])).toEqual([
      ['desktop', 1],
      ['phone', 1],
    ]);
    expect(knownParts(world.stores, world.owner, SCOPE)).toEqual(['sub2.match', 'sub2.screen']);
  });
});

describe('the click log', () => {
  test(
    'is the same in the table of the newest and in blocks, with filters, pages and a held list',
    { timeout: 60_000 },
    () => {
      using world = new World();
      const count = MOST_ROWS + 5 * SMALL_ROWS + 500;
      world.traffic.commitTogether(() => {
        for (let i = 0; i < count; i++) {
          world.clock += 2000;
          world.click(world.link, { query: `sub1=k${i % 7}&pcid=p${i}`, client: `192.0.2.${i % 200}` });
        }
      });
      world.work();
      expect(world.rollups.db.prepare('SELECT rows FROM click_blocks').all()).toEqual([
        { rows: MOST_ROWS },
        { rows: 4 * SMALL_ROWS },
        { rows: SMALL_ROWS },
      ]);
      const list = (filters: object[], offset = 0, upto?: number) => {
        const query = { shelf: 'counted', filters: filters as never, upto } as const;
        const page = listClicks(world.stores, world.owner, SCOPE, query, { limit: 50, offset });
        const total = countMatching(world.stores, world.owner, SCOPE, query);
        expect(page.more).toBe(offset + page.rows.length < total);
        return { ...page, total };
      };
      expect([list([]).total, list([]).rows[0]?.seq, list([]).newest]).toEqual([count, count, count]);
      expect(list([], count - 1).rows.map(({ seq }) => seq)).toEqual([1]);
      const k3 = list([{ field: 'sub1', how: 'is', text: 'k3' }], 70);
      expect([k3.total, k3.rows.length, new Set(k3.rows.map(({ facts }) => facts.sub1))]).toEqual([
        Math.ceil((count - 3) / 7),
        50,
        new Set(['k3']),
      ]);
      // A value of its own each click: large blocks tell by a sketch that they lack it.
      for (const i of [5, count - 1, count]) {
        const found = list([{ field: 'pcid', how: 'is', text: `p${i}` }]).rows.map(({ seq }) => seq);
        expect(found).toEqual(i < count ? [i + 1] : []);
      }
      expect(world.rollups.db.prepare('SELECT DISTINCT name FROM block_values').pluck().all()).toEqual(['pcid']);
      expect(list([], 0, 1000).rows[0]?.seq).toBe(1000);
      expect(newestClick(world.stores, world.programId, world.link.channelId, world.link.offerId)?.seq).toBe(count);
      // Columns of full blocks are kept: asked again, in any order and for any days, nothing is different.
      const rollups = openRollupsForReading(storeFile('rollups', world.folder));
      rollups.clicks.keepColumns(8);
      const keeping = { ...world.stores, rollups };
      const days = ['2026-11-24', '2026-11-25', '2026-11-26'] as Day[];
      for (const by of [['sub1'], ['day', 'sub1'], ['sub1']])
        for (const from of days)
          for (const sort of ['clicks', 'name'] as const) {
            const request = { ...asked(by, { sort, filters: [{ field: 'sub1', how: 'not', text: 'k3' }] }) };
            const within = { ...request, scope: { ...request.scope, from } };
            const [kept, plain] = [keeping, world.stores].map((stores) => explore(stores, world.owner, within, 100));
            expect(kept).toEqual(plain);
          }
      // Once everything was made anew, they are read again.
      const { db, positions } = world.rollups;
      const rename = (from: string, to: string): void => {
        const columns = db.prepare<[], [number, Buffer]>(
          "SELECT id, dictionary FROM block_columns WHERE name = 'sub1'",
        );
        for (const [id, dictionary] of columns.raw().all())
          db.prepare('UPDATE block_columns SET dictionary = ? WHERE id = ?').run(
            Buffer.from(dictionary.toString('latin1').replace(from, to), 'latin1'),
            id,
          );
        positions.set(REBUILDS, positions.get(REBUILDS) + 1);
      };
      const words = () => explore(keeping, world.owner, asked(['sub1']), 100).groups.map(({ by }) => by[0]);
      expect(words()).toContain('k3');
      rename('k3', 'K3');
      expect(words()).toContain('K3');
      rename('K3', 'k3');
      // An export reads one moment, although clicks come and blocks are made meanwhile.
      const seen: number[] = [];
      for (const rows of eachClick(world.stores, world.owner, SCOPE, { shelf: 'all', filters: [] })) {
        seen.push(...rows.map(({ seq }) => seq));
        if (seen.length === 1000 || seen.length === 500) {
          world.click();
          world.work();
        }
      }
      expect([seen.length, new Set(seen).size]).toEqual([count, count]);
      expect(verify(world.stores).flatMap(({ wrong }) => wrong)).toEqual([]);
      world.rollups.db.exec('DELETE FROM recent_clicks WHERE seq % 9 = 0');
      expect(verify(world.stores).flatMap(({ wrong }) => wrong)).not.toEqual([]);
    },
  );
});

describe('a routing plan', () => {
  const PAGES = ['Glaze box', 'Gift'].map((name, i) => ({ name, address: `https://larkmoor.example/${i}` }));
  const even: Mix = { to: PAGES.map(({ name: page }) => ({ page, weight: 50, on: true })), round: 1 };
  function planned(otherwise: Mix = even): World {
    const world = new World();
    const { id, programId: _, ...offer } = readOffer(world.stores, world.owner, world.link.offerId);
    updateOffer(world.stores, world.owner, id, { ...offer, landingPages: PAGES });
    savePlan(world.stores, world.owner, id, { plan: { ...EMPTY_PLAN, otherwise } });
    return world;
  }

  test('keeps its versions; one edited meanwhile is not overwritten, and an earlier one comes back', () => {
    using world = planned();
    const { offerId } = world.link;
    const save = (most: number, basedOn?: number) =>
      savePlan(world.stores, world.owner, offerId, {
        plan: { ...EMPTY_PLAN, otherwise: even, visitorMost: most },
        basedOn,
      });
    save(3, 1);
    expect(() => save(4, 1)).toThrow('meanwhile');
    expect(save(3).version).toBe(2);
    restorePlan(world.stores, world.owner, offerId, 1);
    expect(
      planVersions(world.stores, world.owner, offerId).map(({ version, plan }) => [version, plan.visitorMost]),
    ).toEqual([
      [3, 0],
      [2, 3],
      [1, 0],
    ]);
    const { id, programId: _, ...offer } = readOffer(world.stores, world.owner, offerId);
    expect(() => updateOffer(world.stores, world.owner, id, { ...offer, landingPages: PAGES.slice(0, 1) })).toThrow(
      'Gift',
    );
  });

  test('names what does not exist, with its field', () => {
    using world = planned();
    const to = [{ page: 'Nowhere', weight: 1, on: true }];
    const rule = {
      ...{ id: 'r1', name: '', on: true, overOwn: false, mix: { to, round: 1 } },
      when: [{ field: 'channel' as const, is: true, values: ['999'] }],
    };
    const save = () =>
      savePlan(world.stores, world.owner, world.link.offerId, { plan: { ...EMPTY_PLAN, rules: [rule] } });
    expect(save).toThrow('Nowhere');
    expect(save).toThrow('does not exist here (channel)');
  });

  test('is tried on a visitor rule by rule, and on yesterday’s clicks', () => {
    using world = planned({ to: [], round: 1 });
    const offer = readOffer(world.stores, world.owner, world.link.offerId);
    const gift = { to: [{ page: 'Gift', weight: 1, on: true }], round: 1 };
    const rules = [
      { id: 'r1', name: '', on: false, overOwn: false, when: [], mix: gift },
      {
        ...{ id: 'r2', name: '', on: true, overOwn: false, mix: gift },
        when: [
          { field: 'country' as const, is: true, values: ['BE'] },
          { field: 'hours' as const, from: '20:00', to: '23:00' },
        ],
      },
    ];
    const plan = { ...EMPTY_PLAN, rules };
    const example = { country: 'BE', device: 'phone', os: '', language: 'nl', day: '2026-03-29', time: '22:00' };
    const tried = (more: object = {}) => tryPlan(offer.landingPages, plan, { ...example, ...more });
    expect(tried()).toEqual({
      looked: [{ rule: 'r1', off: true }, { rule: 'r2' }],
      rule: 'r2',
      pages: [{ page: 'Gift', share: 100 }],
    });
    expect(tried({ time: '19:59' })).toMatchObject({ rule: 'default', pages: [{ page: 'Glaze box', share: 100 }] });
    expect(tried({ country: 'NL' }).looked[1]?.failed).toMatchObject({ field: 'country' });
    for (let i = 0; i < 6; i++)
      world.click(world.link, {
        client: `192.0.2.${i}`,
        ...(i >= 2 && { agent: 'Mozilla/5.0 (iPhone; CPU iPhone OS 18_6 like Mac OS X) Mobile Safari/604.1' }),
      });
    world.work();
    world.pass(1);
    const phones = [{ ...rules[1], when: [{ field: 'device' as const, is: true, values: ['desktop'] }] }];
    const replayed = replayPlan(world.stores, world.owner, world.link.offerId, { ...EMPTY_PLAN, rules: phones });
    expect(replayed).toMatchObject({ day: '2026-11-24', clicks: 6, changed: 2 });
  });

  test('its split test is judged on its own clicks, and weights shift by versions, once a day', () => {
    using world = planned({ ...even, shift: { least: 10, step: 5 } });
    const { offerId } = world.link;
    const sold = { 'Glaze box': 2, Gift: 5 };
    for (let day = 0; day < 9; day++) {
      const clicks = Array.from({ length: 60 }, (_, i) => world.click(world.link, { client: `10.${day}.0.${i}` }));
      for (const [page, count] of Object.entries(sold))
        for (const [i, id] of clicks
          .filter((each) => world.traffic.click(each)?.page === page)
          .slice(0, count)
          .entries())
          world.report({ event: 'order', order: `${page}${day}.${i}`, amount: '10.00', click_id: id }, false);
      world.pass(1);
    }
    world.work();
    const [test] = splitTests(world.stores, world.owner, offerId);
    expect([test?.since, test?.days, test?.outlook.arms[0]?.page]).toEqual(['2026-11-24', 9, 'Gift']);
    expect(test?.outlook.arms.map(({ conversions }) => conversions)).toEqual([45, 18]);
    const weights = () =>
      planVersions(world.stores, world.owner, offerId)[0]?.plan.otherwise.to.map(({ weight }) => weight);
    expect([shiftWeights(world.stores, world.programId), weights()]).toEqual([1, [45, 55]]);
    expect([shiftWeights(world.stores, world.programId), weights()]).toEqual([0, [45, 55]]);
    world.pass(1);
    expect([shiftWeights(world.stores, world.programId), weights()]).toEqual([1, [40, 60]]);
    const [newest] = planVersions(world.stores, world.owner, offerId);
    expect([newest?.actor, newest?.reason]).toEqual([SHIFTER, 'Everybody else: Glaze box 40 %, Gift 60 %']);
    // The shift begins no new test.
    expect(splitTests(world.stores, world.owner, offerId)[0]?.since).toBe('2026-11-24');
  });
});
