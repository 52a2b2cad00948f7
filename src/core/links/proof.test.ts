import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { World } from '../../../tests/support/world';
import { type RouteSettings, compileRoute } from '../routing/route';
import { routeSettings } from '@/services/routes';
import { EXAMPLE_CLICK_ID, proveLink } from './proof';
import { type LinkParts, composeLink } from './parts';

const SETTINGS: RouteSettings = {
  linkLive: true,
  partnerLive: true,
  offerLive: true,
  landingPage: 'https://larkmoor.example/glaze?from={partner_code}',
  landingHosts: ['larkmoor.example', '*.larkmoor.example'],
  trackingOrigins: ['https://go.larkmoor.example'],
  appended: 'bclid={click_id}&k={sub1}',
  fallback: 'https://larkmoor.example/gone',
};
const CODES = { partner_code: 'SLOW WHEEL', channel_code: 'MAIN', offer_code: 'GLAZE' };
const NOW = Date.parse('2026-11-24T11:00:00Z');
const parts = (more: Partial<LinkParts> = {}): LinkParts => ({
  kind: more.to ? 'deep' : 'referral',
  origin: 'https://go.larkmoor.example',
  code: 'k7Qm2xTf',
  values: {},
  ...more,
});
const prove = (more: Partial<LinkParts>, settings: RouteSettings = SETTINGS, examples = {}) =>
  proveLink(parts(more), compileRoute(settings), CODES, examples, NOW);

describe('the proof', () => {
  test('fills the landing page and the appended parameters', () => {
    const proof = prove({ values: { sub1: { kind: 'source', text: '{{keyword}}' } } }, SETTINGS, {
      '{{keyword}}': 'ash & glaze',
    });
    expect(proof.choice).toMatchObject({
      via: 'landing_page',
      address: `https://larkmoor.example/glaze?from=SLOW%20WHEEL&bclid=${EXAMPLE_CLICK_ID}&k=ash%20%26%20glaze`,
    });
    expect(proof.unfilled).toEqual([]);
    expect(proof.recorded).toEqual({ sub1: 'ash & glaze' });
    expect(proof.clicked).toBe('https://go.larkmoor.example/k7Qm2xTf?sub1=ash%20%26%20glaze');
  });

  test('records by slot, whatever the source calls its values, and splits composite ones', () => {
    const proof = prove(
      {
        names: { sub1: 'keyword', cost: 'bid' },
        values: {
          sub1: { kind: 'source', text: '{{keyword}}' },
          sub2: {
            kind: 'composite',
            separator: '~',
            parts: [
              { name: 'match', kind: 'source', text: '{{match}}' },
              { name: 'device', kind: 'source', text: '{{screen}}' },
            ],
          },
          sub3: { kind: 'partner' },
          cost: { kind: 'source', text: '{{bid}}' },
        },
      },
      SETTINGS,
      { '{{keyword}}': 'ash', '{{match}}': 'exact', '{{screen}}': 'phone', '{{bid}}': '0.42', sub3: 'blog' },
    );
    expect(proof.recorded).toEqual({ sub1: 'ash', sub2: 'exact~phone', sub3: 'blog', cost: '0.42' });
    expect(proof.split).toEqual({ 'sub2.match': 'exact', 'sub2.device': 'phone' });
    expect(proof.clicked).toContain('?keyword=ash&sub2=exact~phone&sub3=blog&bid=0.42');
  });

  test('names the slots that nobody fills', () => {
    const values = {
      sub1: { kind: 'source' as const, text: '[KEYWORD]' },
      pcid: { kind: 'source' as const, text: '${click}' },
    };
    expect(prove({ values }).unfilled).toEqual(['sub1', 'pcid']);
    expect(prove({ values }, SETTINGS, { '[KEYWORD]': 'x' }).unfilled).toEqual(['pcid']);
  });

  test('says that a foreign deep link is not followed, and what ours takes the place of', () => {
    expect(prove({ to: 'https://evil.example/' }).choice).toMatchObject({
      via: 'landing_page',
      toRefused: expect.stringContaining('evil.example'),
    });
    expect(prove({ to: 'https://larkmoor.example/?k=1&bclid=2' }).choice.replaced).toEqual(['bclid', 'k']);
  });

  test('a link without a redirect is its own landing page', () => {
    const proof = prove({
      kind: 'direct',
      to: 'https://larkmoor.example/ash',
      values: { sub1: { kind: 'fixed', text: 'a' } },
    });
    expect(proof.choice.address).toBe('https://larkmoor.example/ash?ref=k7Qm2xTf&sub1=a');
    expect(proof.recorded).toEqual({ sub1: 'a' });
  });

  test('leads to the fallback when something is not live, or the offer’s days are over', () => {
    const off: Partial<RouteSettings>[] = [
      { linkLive: false },
      { partnerLive: false },
      { offerLive: false },
      { liveFrom: NOW + 1 },
      { liveUntil: NOW },
    ];
    for (const each of off)
      expect(prove({}, { ...SETTINGS, ...each }).choice).toEqual({
        via: 'fallback',
        address: SETTINGS.fallback,
        replaced: [],
      });
    expect(prove({}, { ...SETTINGS, liveFrom: NOW, liveUntil: NOW + 1 }).choice.via).toBe('landing_page');
  });

  test('a deep link as it was issued follows its destination, another one is followed as it stands', () => {
    const changed = {
      ...SETTINGS,
      issuedTo: 'https://larkmoor.example/old',
      destination: 'https://larkmoor.example/new',
    };
    const to = (page: string | undefined) => prove({ kind: 'deep', to: page }, changed).choice;
    expect(to('https://larkmoor.example/old')).toMatchObject({
      via: 'destination',
      address: expect.stringMatching(/\/new\?bclid/),
    });
    expect(to('https://larkmoor.example/other')).toMatchObject({
      via: 'deep_link',
      address: expect.stringMatching(/\/other\?/),
    });
    expect(to('https://evil.example/')).toMatchObject({ via: 'destination', toRefused: expect.anything() });
    expect(to(undefined)).toMatchObject({ via: 'destination', address: expect.stringMatching(/\/new\?/) });
  });

  test('gives the address to which the edge sends the visitor', () => {
    using world = new World();
    const row = world.stores.books.links.route(world.link.code);
    if (!row) throw new Error('no link');
    const route = compileRoute(routeSettings(row, undefined));
    const codes = { partner_code: row.partnerCode, channel_code: row.channelCode, offer_code: row.offerCode };
    const text = fc
      .string({ maxLength: 12, unit: 'grapheme' })
      .map((value) => ({ kind: 'fixed' as const, text: value }));
    const path = fc.webPath().map((each) => `https://larkmoor.example${each}`);
    fc.assert(
      fc.property(
        fc.dictionary(fc.constantFrom('sub1' as const, 'sub5' as const, 'pcid' as const), text, {
          noNullPrototype: true,
        }),
        fc.option(path, { nil: undefined }),
        (values, to) => {
          const link = parts({ code: world.link.code, values, ...(to && { to }) });
          const proof = proveLink(link, route, codes, {}, world.clock);
          const query = composeLink(link).split('?').slice(1).join('?');
          const click = world.stores.traffic.click(world.click(world.link, { query }));
          expect(click?.address.replace(click.clickId, EXAMPLE_CLICK_ID)).toBe(proof.choice.address);
        },
      ),
      { numRuns: 60 },
    );
  });
});
