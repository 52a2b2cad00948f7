import { describe, expect, test } from 'vitest';
import { OFFER, World } from '../../../tests/support/world';
import { createPartner } from '../partners';
import { exportCsv } from '../exports';
import { readScope } from '../scope';
import { approveCommissions } from '../commissions';
import { runStep } from '../run_steps';
import { beginJob, booksAreFree, cancelJob, jobCsv, jobEnded, jobLines, readJob, runningJobs } from './index';
import { Cancelled, type JobLine, type JobWork } from './job';
import { linksJob } from './links';
import { channelsJob, couponsJob, partnersJob } from './people';

const idle = (): void => undefined;
const outcomes = (lines: JobLine[]) =>
  lines.map(({ line, outcome, problems }) => [line, outcome, problems.map(({ field }) => field).join()]);
const count = (world: World, table: string): number =>
  Number(world.stores.books.db.prepare(`SELECT count(*) FROM ${table}`).pluck().get());
const run = (job: JobWork, world: World, input: object, write = true, tick = idle): JobLine[] =>
  job(world.stores, world.owner, input, write, tick);

describe('many links', () => {
  const defaults = (world: World) => ({
    partnerId: world.link.partnerId,
    channelId: world.link.channelId,
    offerId: world.link.offerId,
  });
  const FILE = `Partner;Channel;URL;Sub ID 1;alias
SLOWWHEEL;MAIN;https://larkmoor.example/a;one;first
slowwheel;main;https://larkmoor.example/a;one;first
NOBODY;MAIN;https://larkmoor.example/a;;
SLOWWHEEL;NONE;https://larkmoor.example/a;;
SLOWWHEEL;MAIN;https://evil.example/;;

SLOWWHEEL;MAIN;https://larkmoor.example/b;a@b.example;
SLOWWHEEL;MAIN;https://larkmoor.example/c;;first
SLOWWHEEL;MAIN;"https://larkmoor.example/d?x=1;2";;`;

  test('each line says what becomes of it; good ones are issued, and never twice', () => {
    using world = new World();
    const input = { form: 'lines', text: FILE, defaults: { offerId: world.link.offerId } };
    const expected = [
      ...[
        [2, 'new', ''],
        [3, 'same', 'line'],
        [4, 'refused', 'partner'],
        [5, 'refused', 'channel'],
        [6, 'refused', 'destination'],
      ],
      ...[
        [8, 'refused', 'sub1'],
        [9, 'refused', 'alias'],
        [10, 'new', ''],
      ],
    ];
    expect(outcomes(run(linksJob, world, input, false))).toEqual(expected);
    expect(count(world, 'links')).toBe(1);
    const issued = run(linksJob, world, input);
    expect(outcomes(issued)).toEqual(expected);
    expect(issued[0]).toMatchObject({
      address: expect.stringContaining('/first?sub1=one&to=https%3A%2F%2Flarkmoor.example%2Fa'),
    });
    expect(issued.at(-1)).toMatchObject({ address: expect.stringContaining('%3Fx%3D1%3B2') });
    expect(run(linksJob, world, input).map(({ outcome }) => outcome)).not.toContain('new');
    expect(count(world, 'links')).toBe(3);
  });

  test('only addresses, with one choice for all', () => {
    using world = new World();
    const text = 'https://larkmoor.example/a,b\nhttps://larkmoor.example/c\n';
    expect(outcomes(run(linksJob, world, { form: 'lines', text, defaults: defaults(world) }))).toEqual([
      [1, 'new', ''],
      [2, 'new', ''],
    ]);
  });

  test.each<[string, string]>([
    ['', 'nothing in it'],
    ['colour,destination\nred,x', '"colour" is not a column'],
    ['url,to\na,b', 'Two columns'],
    ['destination\n"never closed', 'quotation mark'],
  ])('a file that cannot be read says why: %j', (text, reason) => {
    using world = new World();
    expect(() => run(linksJob, world, { form: 'lines', text, defaults: {} })).toThrow(reason);
  });

  test('a matrix is every partner × channel × page', () => {
    using world = new World();
    world.newLink('OTHER');
    const input = {
      form: 'matrix',
      pages: 'https://larkmoor.example/a\nhttps://larkmoor.example/b',
      defaults: { offerId: world.link.offerId, kind: 'referral' },
    };
    expect(run(linksJob, world, input).map(({ what }) => what)).toEqual([
      ...['OTHER, Main → https://larkmoor.example/a', 'OTHER, Main → https://larkmoor.example/b'],
      ...['SLOWWHEEL, Main → https://larkmoor.example/a', 'SLOWWHEEL, Main → https://larkmoor.example/b'],
    ]);
    expect(() => run(linksJob, world, { ...input, channelKinds: ['podcast'] })).toThrow('No channel fits');
  });

  test('ten thousand lines are issued at once, and cancelling takes all of it back', { timeout: 60_000 }, () => {
    using world = new World({ offer: { ...OFFER, landingHosts: ['larkmoor.example'] } });
    const text = Array.from({ length: 10_000 }, (_, i) => `https://larkmoor.example/p/${i}?a=${i}`).join('\n');
    const input = { form: 'lines', text, defaults: defaults(world) };
    expect(() =>
      run(linksJob, world, input, true, (done?: number) => {
        if (done === 5000) throw new Cancelled();
      }),
    ).toThrow(Cancelled);
    expect(count(world, 'links')).toBe(1);
    const started = performance.now();
    expect(run(linksJob, world, input).every(({ outcome }) => outcome === 'new')).toBe(true);
    // `./brivet bench scale` holds this to ten seconds; beside other tests it is the shape that counts.
    expect(performance.now() - started).toBeLessThan(30_000);
    expect(count(world, 'links')).toBe(10_001);
  });

  test('nobody issues for others: a partner for itself alone, another program nothing', () => {
    using world = new World();
    world.newLink('OTHER');
    const partner = world.person('partner', world.link.partnerId);
    const text = 'partner,channel,destination\nOTHER,MAIN,\nSLOWWHEEL,MAIN,';
    const input = { form: 'lines', text, defaults: { offerId: world.link.offerId } };
    expect(outcomes(linksJob(world.stores, partner, input, false, idle)).map(([, outcome]) => outcome)).toEqual([
      'refused',
      'same',
    ]);
    expect(() => linksJob(world.stores, world.person('viewer'), input, false, idle)).toThrow('may not issue links');
    const stranger = { ...world.owner, programId: world.programId + 1 };
    expect(() => linksJob(world.stores, stranger, input, false, idle)).toThrow();
  });
});

describe('partners and channels', () => {
  test('a preview says what an import would do, and does nothing; the export reads in again unchanged', () => {
    using world = new World();
    const text = `code,name,kind,email,country,payoutCurrency,group,referrer
NEWONE,New One,person,new@one.example,NL,EUR,Makers,SLOWWHEEL
SLOWWHEEL,Slow Wheel,,,BE,,,
BAD,Bad,person,nobody,NL,EUR,,
SELF,Self,person,s@self.example,NL,EUR,,NOBODY`;
    const expected = [
      [2, 'new', ''],
      [3, 'changed', ''],
      [4, 'refused', 'email'],
      [5, 'refused', 'referrer'],
    ];
    const before = count(world, 'audit');
    expect(outcomes(run(partnersJob, world, { text }, false))).toEqual(expected);
    expect([count(world, 'partners'), count(world, 'audit')]).toEqual([1, before]);
    expect(outcomes(run(partnersJob, world, { text, active: true }))).toEqual(expected);
    const slow = world.stores.books.partners.byCode(world.programId, 'SLOWWHEEL');
    expect(slow).toMatchObject({ name: 'Slow Wheel', country: 'BE', email: 'pay@wheel.example' });
    expect(world.stores.books.partners.byCode(world.programId, 'NEWONE')).toMatchObject({
      state: 'active',
      group: 'Makers',
      referrerCode: 'SLOWWHEEL',
    });
    const scope = readScope(world.stores, world.owner, {});
    for (const what of ['partners', 'channels'] as const) {
      const exported = [...exportCsv(world.stores, world.owner, what, scope, 'all')].join('');
      const again = run(what === 'partners' ? partnersJob : channelsJob, world, { text: exported });
      expect(again.map(({ outcome, problems }) => [outcome, problems])).toEqual(again.map(() => ['same', []]));
    }
  });

  test('coupons: new ones earn at once for what waited, only their days change, and the export reads in unchanged', () => {
    using world = new World();
    world.newLink('OTHER');
    world.report({ event: 'order', order: 'C1', amount: '100.00', code: 'WHEEL10' });
    const text = `code,partner,channel,offer,first_day,last_day
wheel10,SLOWWHEEL,MAIN,GLAZE,2026-11-01,2026-12-31
X,SLOWWHEEL,MAIN,GLAZE,,
CLAY,NOBODY,MAIN,GLAZE,,
CLAY,SLOWWHEEL,NONE,GLAZE,,
CLAY,SLOWWHEEL,MAIN,NONE,,
CLAY,SLOWWHEEL,MAIN,GLAZE,2026-12-01,2026-11-01
FREE,OTHER,MAIN,GLAZE,,`;
    const refusals = ['code', 'partner', 'channel', 'offer', ''].map((field, i) => [i + 3, 'refused', field]);
    const expected = [[2, 'new', ''], ...refusals, [8, 'new', '']];
    expect(outcomes(run(couponsJob, world, { text }, false))).toEqual(expected);
    expect([count(world, 'coupons'), world.balance('partner_pending')]).toEqual([0, 0]);
    expect(outcomes(run(couponsJob, world, { text }))).toEqual(expected);
    expect([count(world, 'coupons'), world.balance('partner_pending')]).toEqual([2, 1000]);
    const scope = readScope(world.stores, world.owner, {});
    const exported = [...exportCsv(world.stores, world.owner, 'coupons', scope, '')].join('');
    expect(run(couponsJob, world, { text: exported }).map(({ outcome }) => outcome)).toEqual(['same', 'same']);
    const again = text.replace('2026-12-31', '2027-01-31').replace('FREE,OTHER', 'FREE,SLOWWHEEL');
    const changed = outcomes(run(couponsJob, world, { text: again })).filter(([, outcome]) => outcome !== 'refused');
    expect(changed).toEqual([[2, 'changed', '']]);
  });

  test('channels are told apart by partner and code', () => {
    using world = new World();
    createPartner(world.stores, world.owner, {
      name: 'B',
      kind: 'person',
      email: 'b@b.example',
      country: 'NL',
      payoutCurrency: 'EUR',
      code: 'BB',
    });
    const text = `partner,code,name,kind,address,source
BB,MAIN,Blog,website,https://b.example/,Quillsearch
SLOWWHEEL,MAIN,Renamed,,,
NOBODY,X,X,,,
BB,SPACE,Nowhere,spaceship,,
BB,NOSRC,No,website,,Nowhere`;
    expect(outcomes(run(channelsJob, world, { text }))).toEqual([
      ...[
        [2, 'new', ''],
        [3, 'changed', ''],
        [4, 'refused', 'partner'],
        [5, 'refused', 'kind'],
        [6, 'refused', 'source'],
      ],
    ]);
  });
});

describe('a job on a thread of its own', () => {
  // However long: on a busy machine a thread that stands back takes its time.
  const settled = async (world: World, id: string) => {
    await jobEnded(world.owner, id).catch(() => undefined);
    return readJob(world.owner, id);
  };
  const begin = (world: World, text: string, write: boolean) => {
    // The thread opens the books by the environment, as in the running program.
    process.env.BRIVET_DATA = world.folder;
    process.env.BRIVET_SECRET = world.stores.secret;
    const { partnerId, channelId, offerId } = world.link;
    return beginJob(
      world.stores,
      world.owner,
      'links',
      { form: 'lines', text, defaults: { partnerId, channelId, offerId } },
      write,
    );
  };
  const many = (length: number): string =>
    Array.from({ length }, (_, i) => `https://larkmoor.example/p/${i}`).join('\n');

  test(
    'reports its lines, can be cancelled with nothing written, and is nobody else’s',
    { timeout: 180_000 },
    async () => {
      using world = new World();
      const preview = await settled(world, begin(world, many(300), false).id);
      expect(preview).toMatchObject({ state: 'done', done: 300, counts: { new: 300, refused: 0 } });
      expect(jobLines(world.owner, preview.id, { limit: 2, offset: 298 })).toMatchObject({
        total: 300,
        rows: [{ line: 299 }, { line: 300 }],
      });
      expect(jobCsv(world.owner, preview.id).content.split('\r\n')).toHaveLength(302);
      const long = begin(world, many(40_000), true);
      cancelJob(world.owner, long.id);
      expect((await settled(world, long.id)).state).toBe('cancelled');
      expect(count(world, 'links')).toBe(1);
      const refused = await settled(world, begin(world, 'colour,destination\na,b', false).id);
      expect(refused).toMatchObject({ state: 'refused', problems: [{ field: 'colour' }] });
      expect(() => readJob(world.finance, preview.id)).toThrow('no such job');
      expect(() => beginJob(world.stores, world.person('viewer'), 'links', {}, false)).toThrow('may not');
    },
  );

  test(
    'takes a payout run a step further; while it writes, others wait for the books',
    { timeout: 180_000 },
    async () => {
      using world = new World();
      const { stores, owner, finance } = world;
      const receipt = world.report({ event: 'order', order: 'A', amount: '900.00', click_id: world.click() });
      world.pass(15);
      const { id: earned = 0 } = stores.books.commissions.byConversion(world.outcome(receipt)?.conversionId ?? 0) ?? {};
      approveCommissions(stores, owner, [earned]);
      process.env.BRIVET_NOW = new Date(world.clock).toISOString();
      try {
        const cutOff = process.env.BRIVET_NOW.slice(0, 10);
        const long = begin(world, many(6000), true);
        const run = await runStep(stores, finance, 'draft_run', { cutOff });
        expect(run).toMatchObject({ state: 'drafted', partners: 1, amount: 9000 });
        expect(runningJobs(finance)).toEqual([]);
        await expect(runStep(stores, finance, 'draft_run', { cutOff })).rejects.toMatchObject({ kind: 'conflict' });
        await expect(runStep(stores, finance, 'draft_run', { cutOff: 'soon' })).rejects.toMatchObject({
          ...{ kind: 'invalid', problems: [{ field: 'cutOff' }] },
        });
        await expect(runStep(stores, world.person('viewer'), 'settle_run', { run: run.id })).rejects.toThrow('may not');
        expect(await jobEnded(owner, long.id)).toHaveLength(6000);
        const left = await runStep(stores, finance, 'abandon_run', { run: run.id, reason: 'The cut-off was wrong.' });
        expect(left.state).toBe('abandoned');
        expect(world.balance('partner_approved')).toBe(9000);
      } finally {
        delete process.env.BRIVET_NOW;
      }
    },
  );

  test('holds the books once for all of its lines; whoever writes meanwhile waits', { timeout: 180_000 }, async () => {
    using world = new World();
    const { id } = begin(world, many(6000), true);
    const isHeld = (): boolean => {
      let free = false;
      void booksAreFree().then(() => (free = true));
      return !free;
    };
    let waits = 0;
    while (readJob(world.owner, id).state === 'running') {
      const asked = isHeld();
      await new Promise((resolve) => setTimeout(resolve, 5));
      if (!asked) continue;
      const written = count(world, 'links');
      await booksAreFree();
      if (count(world, 'links') > written) waits += 1;
    }
    expect(count(world, 'links')).toBe(6001);
    expect(waits).toBe(1);
  });
});
