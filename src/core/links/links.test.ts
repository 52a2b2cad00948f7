import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { CARRIED, type Carried } from '../placeholders/names';
import { drawLinkCode, isLinkCode } from './code';
import { type ComposeContext, composeParts, linkIdentity, utmTemplate } from './compose';
import { appendedParametersProblem, checkDeepLink, landingPageProblem } from './destination';
import { mergeParameters, splitDestination } from './landing';
import {
  type LinkParts,
  type ParameterNames,
  composeLink,
  parseDirect,
  parseLink,
  readNames,
  readQuery,
} from './parts';
import type { LinkFields } from './schema';
import { aliasProblem, parameterNameProblem } from './schema';
import {
  type Layout,
  type SlotValue,
  decodeValue,
  layoutOf,
  sourceTextProblem,
  splitComposite,
  writtenValue,
} from './values';

/** Placeholders in any syntax a source may have. */
const sourceToken = fc.oneof(
  fc.constantFrom('{{keyword}}-{{match}}', '[CLICK]', '%%AD%%', '${x}', '__CID__', '{kw:none}'),
  fc
    .tuple(
      fc.constantFrom(['{{', '}}'], ['[', ']'], ['%%', '%%'], ['${', '}'], ['##', '##']),
      fc.stringMatching(/^[A-Z]{2,8}$/),
    )
    .map(([[open, close], name]) => `${open}${name}${close}`)
    .filter((token) => sourceTextProblem(token) === undefined),
);
const text = fc.string({ minLength: 1, maxLength: 20, unit: 'grapheme' });
const part = fc.oneof(
  // A part cannot contain the separator, or nobody could tell where it ends.
  text.filter((each) => !each.includes('~')).map((each) => ({ kind: 'fixed' as const, text: each })),
  fc.constantFrom('{{keyword}}', '[CLICK]', '%%AD%%').map((each) => ({ kind: 'source' as const, text: each })),
);
const slotValue: fc.Arbitrary<SlotValue> = fc.oneof(
  text.map((value) => ({ kind: 'fixed' as const, text: value })),
  sourceToken.map((value) => ({ kind: 'source' as const, text: value })),
  fc.constant({ kind: 'partner' as const }),
  fc.array(part, { minLength: 2, maxLength: 4 }).map((parts) => ({
    kind: 'composite' as const,
    separator: '~',
    parts: parts.map((each, i) => ({ name: `p${i}`, ...each })),
  })),
);
const names = fc
  .uniqueArray(fc.stringMatching(/^[a-z]{3,9}$/), { minLength: 4, maxLength: 4 })
  .filter((all) => all.every((name) => parameterNameProblem('sub1', name) === undefined))
  .map(([a, b, c, d]): ParameterNames => ({ sub1: a, sub3: b, pcid: c, cost: d }));
const destination = fc.webUrl({ withQueryParameters: true, withFragments: true });
const values = fc.dictionary(fc.constantFrom(...CARRIED), slotValue, { noNullPrototype: true });
const parts = fc.record({ values, names, to: destination }, { requiredKeys: ['values'] });

const full = (some: { values: LinkParts['values']; names?: ParameterNames; to?: string }): LinkParts => ({
  kind: some.to ? 'deep' : 'referral',
  origin: 'https://go.larkmoor.example',
  code: 'k7Qm2xTf',
  ...some,
});
const layouts = (all: LinkParts['values']): Partial<Record<Carried, Layout>> =>
  Object.fromEntries(
    Object.entries(all).flatMap(([slot, value]) => (layoutOf(value) ? [[slot, layoutOf(value)]] : [])),
  );

describe('issued links', () => {
  test('the placeholders of the source stand literally, the deep link last and encoded', () => {
    const link = composeLink(
      full({
        names: { sub1: 'keyword' },
        values: {
          sub2: { kind: 'fixed', text: '2026-11 hero&co' },
          sub1: { kind: 'source', text: '{{keyword}}-{{match}}' },
          sub3: { kind: 'partner' },
          sub4: {
            kind: 'composite',
            separator: '~',
            parts: [
              { name: 'ad', kind: 'source', text: '{{ad}}' },
              { name: 'season', kind: 'fixed', text: 'late autumn' },
            ],
          },
          pcid: { kind: 'source', text: '{{cid}}' },
          cost: { kind: 'source', text: '{{bid}}' },
        },
        to: 'https://larkmoor.example/glaze/ash?size=2#top',
      }),
    );
    expect(link).toBe(
      'https://go.larkmoor.example/k7Qm2xTf?keyword={{keyword}}-{{match}}&sub2=2026-11%20hero%26co&sub3=&sub4={{ad}}~late%20autumn' +
        '&pcid={{cid}}&cost={{bid}}&to=https%3A%2F%2Flarkmoor.example%2Fglaze%2Fash%3Fsize%3D2%23top',
    );
  });

  test('parsing what was composed gives the parts back, whatever text, placeholder, name and page', () => {
    fc.assert(
      fc.property(parts, (some) => {
        const known = { ...(some.names && { names: some.names }), layouts: layouts(some.values) };
        expect(parseLink(composeLink(full(some)), known)).toEqual(full(some));
      }),
    );
  });

  test('a link without a redirect gives its page, code and values back', () => {
    fc.assert(
      fc.property(parts, destination, (some, page) => {
        fc.pre(
          !new URL(page).searchParams.has('ref') &&
            ![...new URL(page).searchParams.keys()].some((name) => CARRIED.some((each) => each === name)),
        );
        const direct: LinkParts = { ...full(some), kind: 'direct', to: page };
        const taken = [...Object.values(some.names ?? {})].some((name) => new URL(page).searchParams.has(name));
        fc.pre(!taken);
        const again = parseDirect(composeLink(direct), direct.origin, {
          ...(some.names && { names: some.names }),
          layouts: layouts(some.values),
        });
        expect({ ...again, to: undefined }).toEqual({ ...direct, to: undefined });
        // The page comes back as the URL standard writes it; what stood for nothing ("?", "&&") goes.
        const before = new URL(page);
        const after = new URL(again?.to ?? '');
        expect([after.origin, after.pathname, after.hash]).toEqual([before.origin, before.pathname, before.hash]);
        expect([...after.searchParams]).toEqual([...before.searchParams]);
      }),
    );
  });

  test('what arrives is what was carried, also through a browser', () => {
    fc.assert(
      fc.property(parts, (some) => {
        const link = new URL(composeLink(full(some)));
        const arrival = readQuery(link.search.slice(1), readNames(some.names));
        const carried: Partial<Record<Carried, string>> = {
          ...arrival.slots,
          ...(arrival.cost !== undefined && { cost: arrival.cost }),
        };
        for (const slot of CARRIED) {
          const value = some.values[slot];
          if (!value) expect(carried[slot]).toBeUndefined();
          else if (value.kind === 'fixed') expect(carried[slot]).toBe(value.text.toWellFormed());
          else if (value.kind === 'partner') expect(carried[slot]).toBe('');
          else expect(carried[slot]).toBe(decodeValue(writtenValue(value)));
        }
        expect(arrival.to).toBe(some.to);
      }),
    );
  });

  test('a composite value is split again by its layout; a part too many belongs to the first', () => {
    const layout = { separator: '~', names: ['keyword', 'match', 'device'] };
    expect(splitComposite('ash glaze~exact~phone', layout)).toEqual(['ash glaze', 'exact', 'phone']);
    expect(splitComposite('ash~glaze~exact~phone', layout)).toEqual(['ash~glaze', 'exact', 'phone']);
    expect(splitComposite('ash glaze', layout)).toEqual(['ash glaze', '', '']);
    fc.assert(
      fc.property(
        fc.array(
          fc.string().filter((each) => !each.includes('~')),
          { minLength: 2, maxLength: 6 },
        ),
        (pieces) => {
          expect(splitComposite(pieces.join('~'), { separator: '~', names: pieces.map((_, i) => `p${i}`) })).toEqual(
            pieces,
          );
        },
      ),
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

  test('codes are base58, aliases are no codes, and source values cannot split the query', () => {
    expect(isLinkCode(drawLinkCode((count) => Uint8Array.from({ length: count }, (_, i) => i * 21)))).toBe(true);
    expect(sourceTextProblem('{{a}}&b')).toContain('"&"');
    expect(sourceTextProblem('{{a b}}')).toContain('a space');
    expect(
      ['autumn-glaze', 'abc', 'a2', '-ab', 'postback', 'gazebo12', 'Straße'].map(
        (alias) => aliasProblem(alias) === undefined,
      ),
    ).toEqual([true, true, false, false, false, false, false]);
    expect(
      ['keyword', 'sub2', 'to', 'ref', '1st', 'a b'].map((name) => parameterNameProblem('sub1', name) === undefined),
    ).toEqual([true, false, false, false, false, false]);
  });
});

describe('composing', () => {
  const FIELDS: LinkFields = {
    ...{ kind: 'referral', partnerId: 1, channelId: 2, offerId: 3, landing: '', to: '', values: {} },
    ...{ alias: '', labels: {}, utm: {}, utmForm: 'short' },
  };
  const CONTEXT: ComposeContext = {
    origin: 'https://go.larkmoor.example',
    code: 'k7Qm2xTf',
    codes: { partner_code: 'SLOW', channel_code: 'NL AUT', offer_code: 'GLAZE' },
    landingPage: 'https://larkmoor.example/glaze?from={channel_code}',
  };
  const page = 'https://larkmoor.example/ash?size=2#top';
  const utm = { source: 'brivet', campaign: 'autumn {channel_code}' };
  const compose = (fields: Partial<LinkFields>): string => composeLink(composeParts({ ...FIELDS, ...fields }, CONTEXT));

  test('each kind has its form', () => {
    const sub1: SlotValue = { kind: 'source', text: '{{keyword}}' };
    expect(compose({ to: page, values: { sub1 } })).toBe('https://go.larkmoor.example/k7Qm2xTf?sub1={{keyword}}');
    expect(compose({ kind: 'deep', to: page })).toContain(
      '/k7Qm2xTf?to=https%3A%2F%2Flarkmoor.example%2Fash%3Fsize%3D2%23top',
    );
    expect(compose({ kind: 'direct', to: page, values: { sub1 } })).toBe(
      'https://larkmoor.example/ash?size=2&ref=k7Qm2xTf&sub1={{keyword}}#top',
    );
    expect(compose({ kind: 'direct' })).toBe('https://larkmoor.example/glaze?from=NL%20AUT&ref=k7Qm2xTf');
    expect(compose({ kind: 'manual' })).toBe('?ref=k7Qm2xTf');
  });

  test('UTM parameters stand in the page, or are left to the redirect', () => {
    expect(utmTemplate(utm)).toBe('utm_source=brivet&utm_campaign=autumn%20{channel_code}');
    expect(compose({ kind: 'deep', to: page, utm })).not.toContain('utm');
    expect(decodeURIComponent(compose({ kind: 'deep', to: page, utm, utmForm: 'long' }))).toContain(
      'to=https://larkmoor.example/ash?size=2&utm_source=brivet&utm_campaign=autumn%20NL%20AUT#top',
    );
    expect(compose({ kind: 'direct', to: page, utm })).toContain(
      '&utm_source=brivet&utm_campaign=autumn%20NL%20AUT&ref=',
    );
  });

  test('two links are the same when nothing that matters differs', () => {
    const identity = (some: Partial<LinkFields>): string => {
      const fields = { ...FIELDS, ...some };
      return linkIdentity(fields, composeParts(fields, CONTEXT));
    };
    const same = (a: Partial<LinkFields>, b: Partial<LinkFields>): boolean => identity(a) === identity(b);
    const fixed = (each: string): SlotValue => ({ kind: 'fixed', text: each });
    expect(
      same(
        { to: ` ${page} `, values: { sub1: fixed('a'), sub2: fixed('') } },
        { to: page, values: { sub1: fixed('a') } },
      ),
    ).toBe(true);
    expect(same({ labels: { ad: 'x' } }, {})).toBe(true);
    expect(same({ values: { sub1: fixed('a') } }, { values: { sub1: fixed('b') } })).toBe(false);
    expect(same({ utm }, {})).toBe(false);
    const long = composeParts({ ...FIELDS, kind: 'deep', to: page, utm, utmForm: 'long' }, CONTEXT).to ?? '';
    expect(same({ kind: 'deep', to: page, utm, utmForm: 'long' }, { kind: 'deep', to: long })).toBe(true);
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
