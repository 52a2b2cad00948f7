import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { hostCovers } from '../links/destination';
import { type RouteSettings, chooseDestination, compileRoute, joinAppended } from './route';

const NOW = Date.parse('2026-11-24T11:00:00Z');
const ORIGIN = 'https://go.larkmoor.example';
const SETTINGS: RouteSettings = {
  linkLive: true,
  partnerLive: true,
  offerLive: true,
  landingPage: 'https://larkmoor.example/glaze?from={channel_code}',
  landingHosts: ['larkmoor.example', '*.larkmoor.example'],
  trackingOrigins: [ORIGIN],
  appended: 'bclid={click_id}',
  fallback: 'https://larkmoor.example/gone',
};
const VALUES = { click_id: '01KB0000000000000000000000', channel_code: 'NL AUT' };
const choose = (settings: Partial<RouteSettings>, to?: string) =>
  chooseDestination(compileRoute({ ...SETTINGS, ...settings }), { values: VALUES, to, now: NOW });

/** Pages of the offer, of others, of the tracking host, and nonsense. */
const page = fc.oneof(
  fc.webUrl({ withQueryParameters: true, withFragments: true }),
  fc.webPath().map((path) => `https://larkmoor.example${path}`),
  fc.webPath().map((path) => `https://shop.larkmoor.example${path}`),
  fc.webPath().map((path) => `${ORIGIN}${path}`),
  fc.string({ unit: 'binary' }),
  fc.constantFrom(
    '//evil.example',
    'javascript:alert(1)',
    'https://larkmoor.example@evil.example/',
    'https:\\\\evil.example',
  ),
);

describe('where a click goes', () => {
  test('whatever is asked for, the visitor stays on the offer’s hosts and never comes back to the tracking host', () => {
    fc.assert(
      fc.property(fc.option(page, { nil: undefined }), fc.option(page, { nil: undefined }), (to, destination) => {
        const { address, via, toRefused } = choose({ ...(destination !== undefined && { destination }) }, to);
        const url = new URL(address);
        expect(SETTINGS.landingHosts.some((pattern) => hostCovers(pattern, url))).toBe(true);
        expect(url.origin).not.toBe(ORIGIN);
        expect(url.searchParams.getAll('bclid')).toEqual([VALUES.click_id]);
        // What was asked for is either followed or said to be refused.
        if (to !== undefined && to !== '') expect([via === 'deep_link', toRefused !== undefined]).toContain(true);
      }),
    );
  });

  test('the deep link as it was issued means the link’s own page, whatever that is now', () => {
    fc.assert(
      fc.property(fc.webPath(), fc.webPath(), (before, now) => {
        const issuedTo = `https://larkmoor.example/a${before}`;
        const destination = `https://larkmoor.example/b${now}`;
        const through = choose({ issuedTo, destination }, issuedTo);
        expect(through).toEqual(choose({ issuedTo, destination }));
        expect([through.via, new URL(through.address).pathname]).toEqual([
          'destination',
          new URL(destination).pathname,
        ]);
      }),
    );
  });

  test('anything that is not live, or a day too early or too late, leads to the fallback and nowhere else', () => {
    const offs: Partial<RouteSettings>[] = [
      ...[{ linkLive: false }, { partnerLive: false }, { offerLive: false }],
      ...[{ liveFrom: NOW + 1 }, { liveUntil: NOW }],
    ];
    fc.assert(
      fc.property(fc.constantFrom(...offs), fc.option(page, { nil: undefined }), (off, to) => {
        expect(choose(off, to)).toEqual({ via: 'fallback', address: SETTINGS.fallback, replaced: [] });
      }),
    );
  });

  test('values stand in the landing page and behind it; the link’s own parameters follow the offer’s', () => {
    expect(
      choose({ appended: joinAppended('bclid={click_id}', 'utm_source=brivet&utm_campaign={channel_code}') }).address,
    ).toBe(
      'https://larkmoor.example/glaze?from=NL%20AUT&bclid=01KB0000000000000000000000&utm_source=brivet&utm_campaign=NL%20AUT',
    );
    expect([joinAppended('', 'a=1'), joinAppended('b=1', ''), joinAppended('', '')]).toEqual(['a=1', 'b=1', '']);
    expect(choose({ appended: '' }).address).toBe('https://larkmoor.example/glaze?from=NL%20AUT');
  });
});
