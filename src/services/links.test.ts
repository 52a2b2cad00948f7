import { describe, expect, test } from 'vitest';
import { OFFER, World } from '../../tests/support/world';
import { composeLink } from '@/core/links/parts';
import { exportCsv } from './exports';
import { changeDestinations, listDestinations } from './destinations';
import { linksJob } from './jobs/links';
import {
  changeDestination,
  destinationHistory,
  giveAlias,
  issueLink,
  labelLink,
  linkFigures,
  listLinks,
  readLink,
} from './links';
import { createMailCopy, exportMail, issueForMail, mergedMail } from './mail_copy';
import { setPartnerState } from './partners';
import { updateOffer } from './offers';
import { lastClickExamples, prove } from './proving';
import { readScope } from './scope';
import { listSources } from './sources';

const PAGE = 'https://larkmoor.example/glaze/ash?size=2';
const offerWith = (change: object) => ({ ...OFFER, ...change });
const pages = [
  { name: 'Glaze box', address: 'https://larkmoor.example/glaze' },
  { name: 'Gift', address: 'https://larkmoor.example/gift?from={channel_code}' },
];
const issue = (world: World, fields: object) => {
  const { partnerId, channelId, offerId } = world.link;
  return issueLink(world.stores, world.owner, { partnerId, channelId, offerId, ...fields });
};
const addressOf = (world: World, clickId: string): string =>
  world.traffic.click(clickId)?.address.replace(clickId, 'ID') ?? '';
const queryOf = (address: string): string => address.split('?').slice(1).join('?');

describe('issuing', () => {
  test('each kind leads where it says, by code and by alias', () => {
    using world = new World({ offer: offerWith({ landingPages: pages }) });
    const gift = issue(world, { landing: 'Gift' });
    expect(addressOf(world, world.click(gift))).toBe('https://larkmoor.example/gift?from=MAIN&bclid=ID');
    const referral = issue(world, {
      to: PAGE,
      kind: 'referral',
      alias: 'Autumn-Glaze',
      utm: { source: 'brivet', campaign: '{channel_code}' },
    });
    expect(referral.address).toBe('https://go.larkmoor.example/autumn-glaze');
    expect(addressOf(world, world.click(referral))).toBe(`${PAGE}&bclid=ID&utm_source=brivet&utm_campaign=MAIN`);
    expect(addressOf(world, world.click({ ...referral, code: 'AUTUMN-glaze' }))).toContain(PAGE);
    const deep = issue(world, { to: PAGE, kind: 'deep' });
    expect(addressOf(world, world.click(deep, { query: queryOf(deep.address) }))).toBe(`${PAGE}&bclid=ID`);
    const direct = issue(world, { to: PAGE, kind: 'direct', values: { sub1: { kind: 'fixed', text: 'a b' } } });
    expect(direct.address).toBe(`${PAGE}&ref=${direct.code}&sub1=a%20b`);
    expect(issue(world, { kind: 'manual' }).address).toMatch(/^\?ref=\w{8}$/);
  });

  test('a source’s names are read back into their slots, in the log, the trace and the landing address', () => {
    using world = new World({ offer: offerWith({ appended: 'bclid={click_id}&kw={sub1}' }) });
    const [source] = listSources(world.stores, world.owner).filter(({ preset }) => preset.name === 'Quillsearch');
    const link = issue(world, {
      sourceId: source?.id,
      names: { sub1: 'keyword' },
      values: { sub1: { kind: 'source', text: '{{keyword}}' }, sub2: source?.preset.values.sub2?.value },
    });
    expect(link.address).toMatch(/\?keyword=\{\{keyword\}\}&sub2=\{\{match\}\}~\{\{screen\}\}$/);
    const click = world.click(link, { query: 'keyword=ash%20glaze&sub2=exact~phone' });
    world.work();
    expect(addressOf(world, click)).toContain('kw=ash%20glaze');
    expect(world.log()[0]?.facts).toMatchObject({ sub1: 'ash glaze', sub2: 'exact~phone' });
    const scope = readScope(world.stores, world.owner, {});
    expect(lastClickExamples(world.stores, world.owner, link.channelId, link.offerId)?.examples).toEqual({
      '{{keyword}}': 'ash glaze',
      '{{match}}': 'exact',
      '{{screen}}': 'phone',
    });
    expect(linkFigures(world.stores, world.owner, scope, link.id)).toMatchObject({
      clicks: 1,
      uniques: 1,
      conversions: 0,
    });
  });

  test.each<[string, object, string, string]>([
    ['a deep link without a page', { kind: 'deep' }, 'to', 'needs the page'],
    ['a foreign host', { to: 'https://evil.example/' }, 'to', 'landing hosts'],
    ['a second "?"', { to: 'https://larkmoor.example/?a=1?b=2' }, 'to', 'second "?"'],
    ['a link of ours', { to: 'https://go.larkmoor.example/abcdefgh' }, 'to', 'tracking host itself'],
    ['an unknown landing page', { landing: 'Nowhere' }, 'landing', 'no landing page'],
    ['an e-mail address', { values: { sub2: { kind: 'fixed', text: 'a@b.example' } } }, 'values.sub2', 'e-mail'],
    [
      'a placeholder with a space',
      { values: { sub1: { kind: 'source', text: '{{a b}}' } } },
      'values.sub1.text',
      'a space',
    ],
    ['a code as alias', { alias: 'gazebo12' }, 'alias', 'code of another link'],
    ['a name with a meaning of its own', { names: { sub1: 'to' } }, 'names.sub1', 'meaning of its own'],
    ['an unknown value of Brivet', { utm: { source: '{clickid}' } }, 'utm.source', 'not a value'],
    ['an unknown source', { sourceId: 999 }, 'sourceId', 'not set up'],
  ])('%s is refused by its field', (_, fields, field, reason) => {
    using world = new World();
    expect(() => issue(world, fields)).toThrow(
      expect.objectContaining({
        problems: expect.arrayContaining([{ field, reason: expect.stringContaining(reason) }]),
      }),
    );
  });

  test('an alias stands for one link, and for good', () => {
    using world = new World();
    const link = giveAlias(world.stores, world.owner, world.link.id, { alias: 'spring' });
    expect(link.address).toBe('https://go.larkmoor.example/spring');
    expect(() => giveAlias(world.stores, world.owner, link.id, { alias: 'summer' })).toThrow('stands for good');
    expect(() => issue(world, { alias: 'spring' })).toThrow('alias of another link');
    expect(labelLink(world.stores, world.owner, link.id, { campaign: 'Spring', tags: ['a', 'b'] }).labels).toEqual({
      campaign: 'Spring',
      tags: ['a', 'b'],
    });
    const scope = readScope(world.stores, world.owner, {});
    const found = (text: string): number =>
      listLinks(world.stores, world.owner, scope, { limit: 9, offset: 0 }, text).total;
    expect([found('SPRING'), found(link.code.toLowerCase()), found('winter')]).toEqual([1, 1, 0]);
  });

  test('the proof over the API says what the edge does, and what it would earn', () => {
    using world = new World();
    const { partnerId, channelId, offerId } = world.link;
    const link = {
      partnerId,
      channelId,
      offerId,
      kind: 'deep',
      to: PAGE,
      values: { sub1: { kind: 'source', text: '{{keyword}}' } },
    };
    const proof = prove(world.stores, world.owner, {
      link,
      examples: { '{{keyword}}': 'ash' },
      event: 'order',
      amount: '32.00',
    });
    const issued = issue(world, link);
    const click = world.click(issued, { query: queryOf(proof.proof.clicked) });
    expect(addressOf(world, click)).toBe(proof.proof.choice.address.replace(/bclid=\w+/, 'bclid=ID'));
    expect(proof).toMatchObject({
      findings: [{ code: 'other_source' }],
      payable: '2026-12-08',
      rating: { kind: 'rated', amount: { minor: 320 } },
    });
    expect(() => prove(world.stores, world.owner, { link, event: 'none' })).toThrow('has no event');
  });
});

describe('where links lead', () => {
  test('links already out follow a change, with who and why; the history stands', () => {
    using world = new World({ offer: offerWith({ landingPages: pages }) });
    const deep = issue(world, { to: PAGE, kind: 'deep' });
    const out = queryOf(deep.address);
    changeDestination(world.stores, world.owner, deep.id, { to: 'https://larkmoor.example/new', reason: 'Sold out' });
    expect(addressOf(world, world.click(deep, { query: out }))).toBe('https://larkmoor.example/new?bclid=ID');
    expect(
      addressOf(world, world.click(deep, { query: `to=${encodeURIComponent('https://larkmoor.example/own')}` })),
    ).toContain('/own?');
    expect(composeLink(readLink(world.stores, world.owner, deep.id).parts)).toBe(deep.address);
    changeDestination(world.stores, world.owner, deep.id, { to: '', landing: 'Gift' });
    expect(addressOf(world, world.click(deep, { query: out }))).toContain('/gift?from=MAIN');
    expect(
      destinationHistory(world.stores, world.owner, deep.id).map(({ destination, landing, reason }) => [
        destination,
        landing,
        reason,
      ]),
    ).toEqual([
      ['', 'Gift', ''],
      ['https://larkmoor.example/new', '', 'Sold out'],
      [PAGE, '', 'issued'],
    ]);
    expect(() => changeDestination(world.stores, world.owner, deep.id, { to: 'https://evil.example' })).toThrow(
      'landing hosts',
    );
    updateOffer(
      world.stores,
      world.owner,
      world.link.offerId,
      offerWith({ landingPages: pages, landingHosts: ['*.larkmoor.example', 'larkmoor.example'] }),
    );
    const own = { to: 'https://go.larkmoor.example/abcdefgh' };
    expect(() => changeDestination(world.stores, world.owner, deep.id, own)).toThrow('tracking host itself');
    expect(() => world.stores.books.db.exec('UPDATE link_destinations SET destination = 1')).toThrow('append-only');
    // A page that links lead to cannot be taken away under them.
    expect(() =>
      updateOffer(world.stores, world.owner, world.link.offerId, offerWith({ landingPages: pages.slice(0, 1) })),
    ).toThrow('“Gift”');
  });

  test('all links of a page change together, and those that cannot are named', () => {
    using world = new World();
    const following = [issue(world, { to: PAGE, kind: 'deep' }), issue(world, { to: PAGE, kind: 'referral' })];
    const direct = issue(world, { to: PAGE, kind: 'direct' });
    const change = { offerId: world.link.offerId, from: PAGE, to: 'https://larkmoor.example/glaze/celadon' };
    const list = () =>
      listDestinations(world.stores, world.owner, {}, { limit: 9, offset: 0 }).rows.map(({ address, links, fixed }) => [
        address,
        links,
        fixed,
      ]);
    expect(list()).toContainEqual([PAGE, 3, 1]);
    expect(changeDestinations(world.stores, world.owner, change)).toEqual({ changed: 2, cannot: [direct.code] });
    expect(following.map(({ id }) => readLink(world.stores, world.owner, id).destination)).toEqual([
      change.to,
      change.to,
    ]);
    expect(list()).toContainEqual([PAGE, 1, 1]);
    expect(() => changeDestination(world.stores, world.owner, direct.id, { to: change.to })).toThrow('no redirect');
  });

  test('a landing host in another script is the host that addresses carry', () => {
    using world = new World({ offer: offerWith({ landingHosts: ['larkmoor.example', '*.Töpferei.example'] }) });
    const deep = issue(world, { to: 'https://shop.töpferei.example/öfen?größe=2', kind: 'deep' });
    expect(addressOf(world, world.click(deep, { query: queryOf(deep.address) }))).toBe(
      'https://shop.xn--tpferei-90a.example/%C3%B6fen?gr%C3%B6%C3%9Fe=2&bclid=ID',
    );
  });

  test('an offer leads to its pages on its days only, in the program’s zone', () => {
    using world = new World({ offer: offerWith({ startsOn: '2026-11-24', endsOn: '2026-11-25' }) });
    const via = (time: string) => {
      world.clock = Date.parse(time);
      const click = world.traffic.click(world.click());
      return [click?.via, click?.setAside];
    };
    expect(via('2026-11-23T22:59:59Z')).toEqual(['fallback', 'paused']);
    expect(via('2026-11-23T23:00:00Z')).toEqual(['landing_page', null]);
    expect(via('2026-11-25T22:59:59Z')).toEqual(['landing_page', null]);
    expect(via('2026-11-25T23:00:00Z')).toEqual(['fallback', 'paused']);
  });
});

describe('files and mail', () => {
  test('an exported list of links, read in again, issues nothing', () => {
    using world = new World({ offer: offerWith({ landingPages: pages }) });
    const source = listSources(world.stores, world.owner).find(({ preset }) => preset.name === 'Quillsearch');
    const values = Object.fromEntries(
      Object.entries(source?.preset.values ?? {}).map(([slot, { value }]) => [slot, value]),
    );
    issue(world, { sourceId: source?.id, names: { sub1: 'keyword', sub3: 'adgroup' }, values, to: PAGE, kind: 'deep' });
    issue(world, {
      to: PAGE,
      kind: 'direct',
      values: { sub1: { kind: 'fixed', text: '-1' }, sub2: { kind: 'partner' } },
    });
    issue(world, { landing: 'Gift', alias: 'gift', utm: { source: 'x' }, labels: { tags: ['a'] } });
    issue(world, { to: PAGE, kind: 'deep', utm: { source: 'x', campaign: '{channel_code}' }, utmForm: 'long' });
    issue(world, { kind: 'direct', landing: 'Gift', utm: { source: 'x' } });
    const scope = readScope(world.stores, world.owner, {});
    const text = [...exportCsv(world.stores, world.owner, 'links', scope, 'all')].join('');
    const lines = linksJob(world.stores, world.owner, { form: 'lines', text }, true, () => undefined);
    expect(lines.map(({ outcome, problems }) => [outcome, problems])).toEqual(Array(6).fill(['same', []]));
  });

  test('mail copy holds each partner’s own link; what is missing is issued once', () => {
    using world = new World();
    const other = world.newLink('OTHER');
    const closed = world.newLink('CLOSED');
    setPartnerState(world.stores, world.owner, closed.partnerId, 'paused');
    const fields = {
      ...{ name: 'Autumn', subject: 'Hello {partner_name}', text: '{link} for {channel_name}', to: PAGE },
      offerId: world.link.offerId,
    };
    const copy = createMailCopy(world.stores, world.owner, fields);
    expect(mergedMail(world.stores, world.owner, copy).map(({ partnerCode, link }) => [partnerCode, link])).toEqual([
      ['OTHER', null],
      ['SLOWWHEEL', null],
    ]);
    expect([
      issueForMail(world.stores, world.owner, copy.id),
      issueForMail(world.stores, world.owner, copy.id),
    ]).toEqual([2, 0]);
    const [first] = mergedMail(world.stores, world.owner, copy);
    expect(first).toMatchObject({ subject: 'Hello OTHER', text: `${first?.link} for Main` });
    expect(readLink(world.stores, world.owner, other.id + 2)).toMatchObject({
      destination: PAGE,
      labels: { campaign: 'Autumn' },
    });
    expect(exportMail(world.stores, world.owner, copy.id).content.split('\r\n')[1]).toMatch(
      /^OTHER,OTHER,pay@wheel\.example,Main,https:\/\/go/,
    );
    expect(() => createMailCopy(world.stores, world.owner, fields)).toThrow('already');
  });
});
