import { describe, expect, test } from 'vitest';
import { World } from '../../tests/support/world';
import { day } from '@/core/time/days';
import { approveCommissions } from './commissions';
import { exportClicks, exportCsv } from './exports';
import { lineFigures } from './line';
import { setPartnerState, createPartner } from './partners';
import { approveRun, draftRun, exportRun, returnPayment, settleRun } from './payouts';
import { readScope } from './scope';
import { search } from './search';
import { today } from './today';
import { parseTraceKey, trace, traceIfAny } from './trace';

const ALL = { from: day('2000-01-01'), to: day('2999-12-31'), partnerId: null, channelId: null, offerId: null };
const commissionOf = (world: World, receipt: string): number =>
  world.stores.books.commissions.byConversion(world.outcome(receipt)?.conversionId ?? 0)?.id ?? 0;
const dayOfClock = (world: World): string => new Date(world.clock).toISOString().slice(0, 10);

/** Brings one order all the way to a paid statement. */
function paidOrder(world: World): { commission: number; run: number; click: string } {
  const click = world.click(world.link, { query: 'sub1=ash%20glaze&pcid=q7' });
  const commission = commissionOf(
    world,
    world.report({ event: 'order', order: 'A1', amount: '1210.00', tax: '210.00', click_id: click, x_place: 'Breda' }),
  );
  world.pass(15);
  approveCommissions(world.stores, world.owner, [commission]);
  const { id } = draftRun(world.stores, world.finance, { cutOff: dayOfClock(world) });
  approveRun(world.stores, world.owner, id);
  exportRun(world.stores, world.finance, id);
  settleRun(world.stores, world.finance, id);
  return { commission, run: id, click };
}

describe('the trace', () => {
  test('leads from the statement to the link, from wherever it starts', () => {
    using world = new World();
    const { commission, click } = paidOrder(world);
    const conversion = world.stores.books.commissions.byId(commission)?.conversionId;
    for (const key of [`commission:${commission}`, `conversion:${conversion}`, `click:${click}`]) {
      const parsed = parseTraceKey(key);
      if (!parsed) throw new Error(key);
      const chain = trace(world.stores, world.owner, parsed);
      expect(chain.payout?.item).toMatchObject({ amount: 10_000, state: 'paid' });
      expect(chain.ledger?.map(({ kind, account, amount }) => [kind, account, amount])).toEqual([
        ['earned', 'program_expense', -10_000],
        ['earned', 'partner_pending', 10_000],
        ['approved', 'partner_pending', -10_000],
        ['approved', 'partner_approved', 10_000],
      ]);
      expect(chain.explanation?.paid[0]).toMatchObject({ row: 'all', amount: 10_000 });
      expect(chain.conversion).toMatchObject({ orderRef: 'A1', custom: { x_place: 'Breda' } });
      expect(chain.history?.map(({ what }) => what)).toEqual(['recorded', 'commission approved']);
      expect(chain.postback?.query).toContain('order=A1');
      expect(chain.postback?.query).not.toContain(world.key);
      expect(chain.click?.values).toEqual({ sub1: 'ash glaze', pcid: 'q7' });
      expect(chain.link?.code).toBe(world.link.code);
    }
  });

  test('of what does not exist is none, and senseless keys are no keys', () => {
    using world = new World();
    for (const key of ['commission:99', 'conversion:99', 'click:01KB0000000000000000000000', 'link:99'])
      expect(traceIfAny(world.stores, world.owner, key)).toBeUndefined();
    for (const key of [undefined, '', 'commission', 'commission:', "commission:1'--", 'user:1'])
      expect(parseTraceKey(key)).toBeUndefined();
  });
});

test('search finds partners by any part, and links, orders and click IDs whole', () => {
  using world = new World();
  const { click } = paidOrder(world);
  const kinds = (text: string): string[] => search(world.stores, world.owner, text).map(({ kind }) => kind);
  expect(kinds('lowWH')).toEqual(['partner']);
  expect(kinds(world.link.code)).toEqual(['link']);
  expect(kinds('A1')).toEqual(['conversion']);
  expect(kinds(click.toLowerCase())).toEqual(['click', 'conversion']);
  expect(kinds("' OR 1=1 --")).toEqual([]);
  expect(kinds('a')).toEqual([]);
  const other = world.person('partner', world.newLink('OTHER').partnerId);
  for (const text of ['slow', world.link.code, 'A1', click]) expect(search(world.stores, other, text)).toEqual([]);
});

test('the figures of the Line follow the scope', () => {
  using world = new World();
  const other = world.newLink('OTHER');
  const cookie = `bv=${'a'.repeat(32)}`;
  for (const link of [world.link, world.link, other]) world.click(link, { cookie, client: '192.0.2.9' });
  world.click(world.link, { agent: 'linkchecker/10.2' });
  world.report({ event: 'order', order: '1', amount: '100.00', click_id: world.click() });
  world.report({ event: 'order', order: '2', amount: '50.00', click_id: world.click(other) });
  world.report({ event: 'order', order: '3', amount: '50.00', click_id: '01KB0000000000000000000000' });
  const figures = (partnerId: number | null, from = '2000-01-01') =>
    lineFigures(world.stores, world.owner, { ...ALL, from: day(from), partnerId });
  expect(figures(null)).toMatchObject({
    links: 2,
    counted: 5,
    uniques: 2,
    setAside: 1,
    conversions: 2,
    unmatched: 1,
    commission: 1500,
    nextPayoutDay: '2026-12-05',
  });
  expect(figures(other.partnerId)).toMatchObject({
    links: 1,
    counted: 2,
    conversions: 1,
    unmatched: 0,
    commission: 500,
  });
  expect(figures(null, '2026-11-25')).toMatchObject({ counted: 0, conversions: 0, commission: 0 });
});

test('a scope that makes no sense falls back to this month and any', () => {
  using world = new World();
  const month = { from: '2026-11-01', to: '2026-11-24', partnerId: null, channelId: null, offerId: null };
  for (const params of [
    {},
    { from: '2026-13-01', to: 'x' },
    { from: '2026-11-20', to: '2026-11-10' },
    { partner: '-1', channel: '1e9', offer: "1' OR 1" },
  ])
    expect(readScope(world.stores, world.owner, params)).toEqual(month);
  expect(readScope(world.stores, world.owner, { from: '2026-10-01', to: '2026-10-31', partner: ['7', '8'] })).toEqual({
    ...month,
    from: '2026-10-01',
    to: '2026-10-31',
    partnerId: 7,
  });
});

test('Today names what waits, with the money that hangs on it, and is empty on a good day', () => {
  using world = new World();
  const titles = (): string[] =>
    today(world.stores, world.owner).map(({ title, amount }) => `${title}${amount === undefined ? '' : ` ${amount}`}`);
  expect(titles()).toEqual([]);
  const fields = {
    code: 'NEW',
    name: 'New Wheel',
    kind: 'person',
    email: 'a@b.example',
    country: 'NL',
    payoutCurrency: 'EUR',
  };
  const applicant = createPartner(world.stores, world.owner, fields);
  world.report({ event: 'order', order: '9', amount: '50.00', click_id: '01KB0000000000000000000000' });
  const commission = commissionOf(
    world,
    world.report({ event: 'order', order: '1', amount: '1000.00', click_id: world.click() }),
  );
  world.pass(16);
  expect(titles()).toEqual(['1 commission due for validation 10000', '1 unmatched conversion', 'New Wheel applied']);
  setPartnerState(world.stores, world.owner, applicant.id, 'active');
  approveCommissions(world.stores, world.owner, [commission]);
  const { id } = draftRun(world.stores, world.finance, { cutOff: dayOfClock(world) });
  expect(titles()[0]).toBe('Payout run 1, 1 partner 10000');
  approveRun(world.stores, world.owner, id);
  exportRun(world.stores, world.finance, id);
  settleRun(world.stores, world.finance, id);
  returnPayment(world.stores, world.finance, id, world.link.partnerId, { reason: 'Account closed' });
  expect(titles()).toEqual(['1 unmatched conversion', 'Money of SLOWWHEEL waits for payout details 10000']);
});

test('exports hold every row once, amounts as plain decimals, and no formula', () => {
  using world = new World();
  for (let i = 0; i < 1203; i++)
    world.click(world.link, { query: i === 0 ? 'sub1=%3DHYPERLINK(%22x%22)' : `sub1=-${i}` });
  world.report({ event: 'order', order: '+cmd', amount: '121.00', tax: '21.00', click_id: world.click() });
  const lines = (chunks: Iterable<string>): string[] => [...chunks].join('').trim().split('\r\n');
  const csv = (what: 'conversions' | 'commissions' | 'links', shelf: string): string[] =>
    lines(exportCsv(world.stores, world.owner, what, ALL, shelf));
  world.work();
  const query = { shelf: 'counted', filters: [] } as const;
  const clicks = lines(exportClicks(world.stores, world.owner, ALL, query, ['time', 'click_id', 'sub1']));
  expect(clicks).toHaveLength(1 + 1204);
  expect(new Set(clicks).size).toBe(1 + 1204);
  expect(clicks.at(-1)).toContain(`"'=HYPERLINK(""x"")"`);
  expect(csv('conversions', 'all')[1]).toMatch(
    /,'\+cmd,\w{26},SLOWWHEEL,Main,Glaze box,121\.00,EUR,10\.00,EUR,pending,,2026-12-08,,,click,server$/,
  );
  const viewer = world.person('viewer');
  expect(() => exportCsv(world.stores, viewer, 'reviews', ALL, 'open').next()).toThrow('may not decide commissions');
  expect(csv('commissions', 'waiting')[1]).toContain(',121.00,EUR,10.00,EUR,pending,2026-12-08');
  expect(csv('links', 'all')[1]).toMatch(
    /^\w{8},https:\/\/go\.larkmoor\.example\/\w{8},live,SLOWWHEEL,SLOWWHEEL,MAIN,Main,GLAZE,Glaze box,referral,,.*,1204,\d+,1,10\.00,EUR$/,
  );
});
