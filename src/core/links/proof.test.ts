import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { World } from '../../../tests/support/world';
import { compileRoute } from '../routing/route';
import { EXAMPLE_CLICK_ID, proveLink } from './proof';
import { type LinkParts, composeLink } from './parts';

const SETTINGS = {
  linkLive: true,
  partnerLive: true,
  offerLive: true,
  landingPage: 'https://larkmoor.example/glaze?from={partner_code}',
  landingHosts: ['larkmoor.example'],
  appended: 'bclid={click_id}&k={sub1}',
  fallback: 'https://larkmoor.example/gone',
};
const CODES = { partner_code: 'SLOW WHEEL', channel_code: 'MAIN', offer_code: 'GLAZE' };
const parts = (more: Partial<LinkParts> = {}): LinkParts => ({
  origin: 'https://go.larkmoor.example',
  code: 'k7Qm2xTf',
  slots: {},
  ...more,
});
const prove = (more: Partial<LinkParts>, settings = SETTINGS, examples = {}) =>
  proveLink(parts(more), compileRoute(settings), CODES, examples);

describe('the proof', () => {
  test('fills the landing page and the appended parameters', () => {
    const proof = prove({ slots: { sub1: { kind: 'source', text: '{{keyword}}' } } }, SETTINGS, {
      sub1: 'ash & glaze',
    });
    expect(proof.choice).toMatchObject({
      via: 'landing_page',
      address: `https://larkmoor.example/glaze?from=SLOW%20WHEEL&bclid=${EXAMPLE_CLICK_ID}&k=ash%20%26%20glaze`,
    });
    expect(proof.unfilled).toEqual([]);
    expect(proof.hops[1]?.values).toEqual({ sub1: 'ash & glaze' });
  });

  test('names the slots that nobody fills', () => {
    const slots = {
      sub1: { kind: 'source' as const, text: '[KEYWORD]' },
      pcid: { kind: 'source' as const, text: '${click}' },
    };
    expect(prove({ slots }).unfilled).toEqual(['sub1', 'pcid']);
    expect(prove({ slots }, SETTINGS, { sub1: 'x' }).unfilled).toEqual(['pcid']);
  });

  test('says that a foreign deep link is not followed, and what ours takes the place of', () => {
    expect(prove({ to: 'https://evil.example/' }).choice).toMatchObject({
      via: 'landing_page',
      toRefused: expect.stringContaining('evil.example'),
    });
    expect(prove({ to: 'https://larkmoor.example/?k=1&bclid=2' }).choice.replaced).toEqual(['k', 'bclid']);
  });

  test('leads to the fallback when something is not live', () => {
    for (const off of ['linkLive', 'partnerLive', 'offerLive'])
      expect(prove({}, { ...SETTINGS, [off]: false }).choice).toEqual({
        via: 'fallback',
        address: SETTINGS.fallback,
        replaced: [],
      });
  });

  test('gives the address to which the edge sends the visitor', () => {
    using world = new World();
    const offer = world.stores.books.offers.byId(world.link.offerId);
    if (!offer) throw new Error('no offer');
    const route = compileRoute({ ...SETTINGS, ...offer, fallback: SETTINGS.fallback });
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
        (slots, to) => {
          const link = parts({ code: world.link.code, slots, ...(to && { to }) });
          const proof = proveLink(link, route, CODES, {});
          const query = composeLink(link).split('?').slice(1).join('?');
          const click = world.stores.traffic.click(world.click(world.link, { query }));
          expect(click?.address.replace(click.clickId, EXAMPLE_CLICK_ID)).toBe(proof.choice.address);
        },
      ),
      { numRuns: 60 },
    );
  });
});
