import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { SUB_SLOTS, VALUE_SLOTS } from '../placeholders/names';
import { drawLinkCode, isLinkCode } from './code';
import { appendedParametersProblem, checkDeepLink, landingPageProblem } from './destination';
import { mergeParameters, splitDestination } from './landing';
import { type LinkParts, composeLink, decodeValue, parseLink, readQuery, sourceTextProblem } from './parts';

const sourceToken = fc.constantFrom('{{keyword}}-{{match}}', '[CLICK]', '%%AD%%', '${x}', '__CID__', '{kw:none}');
const text = fc.string({ minLength: 1, maxLength: 20, unit: 'grapheme' });
const slotValue = fc.oneof(
  text.map((value) => ({ kind: 'fixed' as const, text: value })),
  sourceToken.map((value) => ({ kind: 'source' as const, text: value })),
);
const destination = fc.webUrl({ withQueryParameters: true, withFragments: true });
const parts = fc.record(
  { slots: fc.dictionary(fc.constantFrom(...VALUE_SLOTS), slotValue, { noNullPrototype: true }), to: destination },
  { requiredKeys: ['slots'] },
);
const full = (some: { slots: LinkParts['slots']; to?: string }): LinkParts => ({
  origin: 'https://go.larkmoor.example',
  code: 'k7Qm2xTf',
  ...some,
});

describe('issued links', () => {
  test('the placeholders of the source stand literally, the deep link last and encoded', () => {
    const link = composeLink(
      full({
        slots: {
          sub2: { kind: 'fixed', text: '2026-11 hero&co' },
          sub1: { kind: 'source', text: '{{keyword}}-{{match}}' },
          pcid: { kind: 'source', text: '{{cid}}' },
        },
        to: 'https://larkmoor.example/glaze/ash?size=2#top',
      }),
    );
    expect(link).toBe(
      'https://go.larkmoor.example/k7Qm2xTf?sub1={{keyword}}-{{match}}&sub2=2026-11%20hero%26co&pcid={{cid}}' +
        '&to=https%3A%2F%2Flarkmoor.example%2Fglaze%2Fash%3Fsize%3D2%23top',
    );
  });

  test('parsing what was composed gives the parts back', () => {
    fc.assert(
      fc.property(parts, (some) => {
        expect(parseLink(composeLink(full(some)))).toEqual(full(some));
      }),
    );
  });

  test('what arrives is what was carried, also through a browser', () => {
    fc.assert(
      fc.property(parts, (some) => {
        const link = new URL(composeLink(full(some)));
        const arrival = readQuery(link.search.slice(1));
        for (const slot of SUB_SLOTS) {
          const value = some.slots[slot];
          if (value?.kind === 'fixed') expect(arrival.slots[slot]).toBe(value.text.toWellFormed());
          else if (value) expect(arrival.slots[slot]).toBe(decodeValue(value.text));
        }
        expect(arrival.to).toBe(some.to);
      }),
    );
  });

  test('an unencoded deep link takes everything after it', () => {
    expect(readQuery('sub1=a&to=https://shop.example/x?b=1&sub2=late')).toEqual({
      slots: { sub1: 'a' },
      cost: undefined,
      to: 'https://shop.example/x?b=1&sub2=late',
    });
    expect(readQuery('sub1=a&sub1=b&&cost=0.12&=x')).toEqual({ slots: { sub1: 'a' }, cost: '0.12', to: undefined });
  });

  test('codes are base58 and source values cannot split the query', () => {
    expect(isLinkCode(drawLinkCode((count) => Uint8Array.from({ length: count }, (_, i) => i * 21)))).toBe(true);
    expect(sourceTextProblem('{{a}}&b')).toContain('"&"');
    expect(sourceTextProblem('{{a b}}')).toContain('a space');
  });
});

describe('landing address', () => {
  test.each([
    ['https://s.example/x', 'https://s.example/x?bclid=1'],
    ['https://s.example/x?', 'https://s.example/x?bclid=1'],
    ['https://s.example/x?a=%20&b=+#part?x', 'https://s.example/x?a=%20&b=+&bclid=1#part?x'],
    ['https://s.example?bclid=old&z=1&bclid=older', 'https://s.example/?bclid=1&z=1'],
    ['https://bücher.example:8443/?q', 'https://xn--bcher-kva.example:8443/?q&bclid=1'],
    ['http://[2001:db8::1]/a', 'http://[2001:db8::1]/a?bclid=1'],
  ])('%s → %s', (from, expected) => expect(mergeParameters(splitDestination(from), 'bclid=1').address).toBe(expected));

  test('says which parameters were replaced', () => {
    expect(mergeParameters(splitDestination('https://s.example/?a=1&b=2'), '&b=3&c=4')).toEqual({
      address: 'https://s.example/?a=1&b=3&c=4',
      replaced: ['b'],
    });
  });

  test('no parameter is lost or doubled, whatever the destination', () => {
    fc.assert(
      fc.property(destination, fc.stringMatching(/^[a-z]{1,6}$/), (address, value) => {
        const before = new URL(address);
        const after = new URL(mergeParameters(splitDestination(address), `bclid=${value}`).address);
        expect([...after.searchParams].filter(([name]) => name !== 'bclid')).toEqual(
          [...before.searchParams].filter(([name]) => name !== 'bclid'),
        );
        expect(after.searchParams.getAll('bclid')).toEqual([value]);
        expect([after.origin, after.pathname, after.hash]).toEqual([before.origin, before.pathname, before.hash]);
      }),
    );
  });
});

describe('destinations', () => {
  const hosts = ['larkmoor.example', '*.larkmoor.example', 'test.example:8443'];
  test.each([
    ['https://larkmoor.example/a', true],
    ['http://www.larkmoor.example', true],
    ['https://test.example:8443/', true],
    ['https://larkmoor.example:8443/', false],
    ['https://evil.example/?larkmoor.example', false],
    ['https://larkmoor.example@evil.example/', false],
    ['https://evil-larkmoor.example/', false],
    ['https://user@larkmoor.example/', false],
    ['//larkmoor.example', false],
    ['javascript:alert(1)//larkmoor.example', false],
    ['https:\\\\evil.example', false],
    ['', false],
  ])('%s may be followed: %s', (to, allowed) => expect(checkDeepLink(to, hosts).ok).toBe(allowed));

  test('landing pages and appended parameters are checked when they are saved', () => {
    expect(landingPageProblem('https://larkmoor.example/{channel_code}?k={+sub1}')).toBeUndefined();
    expect(landingPageProblem('https://larkmoor.example/?c={clickid}')).toContain('"{clickid}" is not a value');
    expect(landingPageProblem('https://{sub1}.example/')).toContain('host');
    expect(landingPageProblem('larkmoor.example')).toContain('begins with');
    expect(appendedParametersProblem('bclid={click_id}&src={partner_code}{&sub1}')).toBeUndefined();
    expect(appendedParametersProblem('{?sub1,sub2}')).toBeUndefined();
    expect(appendedParametersProblem('bclid')).toContain('name={value}');
    expect(appendedParametersProblem('a={nope}')).toContain('nope');
  });
});
