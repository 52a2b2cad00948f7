import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { SHIPPED_SOURCES } from '../sources/shipped';
import { valuesOf } from '../sources/schema';
import { FINDING_CODES, type Finding, type KnownSource, type LintInput } from './findings';
import { isOwnAddress, lintLink, takeApart } from './lint';
import { composeLink } from './parts';
import type { SlotValue } from './values';

const ORIGIN = 'https://go.larkmoor.example';
const shipped = (name: string, id: number): KnownSource => {
  const preset = SHIPPED_SOURCES.find((each) => each.name === name);
  if (!preset) throw new Error(`${name} is not among the shipped sources.`);
  return { id, preset };
};
const quillsearch = shipped('Quillsearch', 1);
const plazafeed = shipped('Plazafeed', 2);
const GLAZE = {
  id: 1,
  label: 'Glaze box',
  landingHosts: ['larkmoor.example', '*.larkmoor.example'],
  appended: 'bclid={click_id}',
};
const KILNS = { id: 2, label: 'Studio kilns', landingHosts: ['kilns.example'], appended: 'bclid={click_id}' };
const fixed = (text: string): SlotValue => ({ kind: 'fixed', text });
const source = (text: string): SlotValue => ({ kind: 'source', text });

function input(part: Partial<LintInput>): LintInput {
  const base = {
    kind: 'deep' as const,
    to: '',
    values: {},
    origins: [ORIGIN],
    offer: GLAZE,
    offers: [GLAZE, KILNS],
    sources: [quillsearch, plazafeed],
    ...part,
  };
  const to = base.kind !== 'referral' && URL.canParse(base.to) ? { to: base.to } : {};
  return {
    address: composeLink({ kind: base.kind, origin: ORIGIN, code: 'k7Qm2xTf', values: base.values, ...to }),
    ...base,
  };
}
const find = (part: Partial<LintInput>): Finding[] => lintLink(input(part));
/** The draft once the first fix was used. */
function mended(part: Partial<LintInput>): LintInput {
  const change = find(part)[0]?.fix?.change ?? {};
  const { address: _, ...before } = input(part);
  const values: LintInput['values'] = { ...before.values };
  for (const [slot, value] of Object.entries(change.values ?? {})) {
    if (value === undefined) delete values[slot as keyof typeof values];
    else values[slot as keyof typeof values] = value;
  }
  return input({
    ...before,
    values,
    ...(change.to !== undefined && { to: change.to }),
    ...(change.kind && { kind: change.kind }),
    ...(change.offerId && { offer: [GLAZE, KILNS].find(({ id }) => id === change.offerId) }),
    ...(change.sourceId && { source: [quillsearch, plazafeed].find(({ id }) => id === change.sourceId) }),
  } as Partial<LintInput>);
}

/** One example of every finding, with what the fix makes of it. */
const EXAMPLES: [Finding['code'], Partial<LintInput>, Partial<LintInput>][] = [
  ['second_question_mark', { to: 'https://larkmoor.example/a?b=1?c=2' }, { to: 'https://larkmoor.example/a?b=1&c=2' }],
  [
    'sub_id_in_destination',
    { to: 'https://larkmoor.example/a?b=1&sub2=x%20y&pcid={{cid}}#top', source: quillsearch },
    { to: 'https://larkmoor.example/a?b=1#top', values: { sub2: fixed('x y'), pcid: source('{{cid}}') } },
  ],
  ['double_encoding', { to: 'https%3A%2F%2Flarkmoor.example%2Fa%3Fb%3D1' }, { to: 'https://larkmoor.example/a?b=1' }],
  ['double_encoding', { to: 'https://larkmoor.example/a?b=x%2520y' }, { to: 'https://larkmoor.example/a?b=x%20y' }],
  ['reserved_character', { values: { sub1: fixed('a&b=c') } }, { values: { sub1: fixed('a-b-c') } }],
  [
    'parameter_stands_already',
    { to: 'https://larkmoor.example/?a=1&bclid=2' },
    { to: 'https://larkmoor.example/?a=1' },
  ],
  [
    'fragment_before_query',
    { to: 'https://larkmoor.example/a#dates?b=1' },
    { to: 'https://larkmoor.example/a?b=1#dates' },
  ],
  ['other_source', { values: { sub1: source('[POST]') }, source: quillsearch }, { source: plazafeed }],
  [
    'other_source',
    { values: { pcid: source('[VISIT]') }, source: quillsearch },
    { values: { pcid: source('{{cid}}') } },
  ],
  ['other_source', { values: { sub1: source('{{keyword}}') } }, { source: quillsearch }],
  [
    'unknown_placeholder',
    { values: { sub1: source('{{keywrd}}') }, source: quillsearch },
    { values: { sub1: source('{{keyword}}') } },
  ],
  ['unknown_placeholder', { values: { sub4: fixed('{{nobody}}') } }, {}],
  ['host_not_allowed', { to: 'https://kilns.example/a' }, { offer: KILNS }],
  ['host_not_allowed', { to: 'https://elsewhere.example/a' }, { to: '' }],
  [
    'unique_in_group',
    { values: { sub1: source('{{cid}}') }, source: quillsearch },
    { values: { pcid: source('{{cid}}') } },
  ],
  [
    'unique_in_group',
    { values: { sub2: fixed('0b2f6c1e-9d7a-4a52-8f1e-3c5d7e9f1a2b') } },
    { values: { pcid: fixed('0b2f6c1e-9d7a-4a52-8f1e-3c5d7e9f1a2b') } },
  ],
  ['personal_data', { values: { sub1: fixed('for ines@larkmoor.example') } }, { values: { sub1: fixed('for') } }],
  ['http_destination', { to: 'http://larkmoor.example/a' }, { to: 'https://larkmoor.example/a' }],
  ['too_long', { to: `https://larkmoor.example/${'a'.repeat(2000)}` }, { kind: 'referral' }],
  ['not_an_address', { to: 'larkmoor.example/a?b=1' }, { to: 'https://larkmoor.example/a?b=1' }],
  [
    'own_link',
    { to: `${ORIGIN}/abcdefgh?sub1=a&to=https%3A%2F%2Flarkmoor.example%2Fb` },
    { to: 'https://larkmoor.example/b', values: { sub1: fixed('a') } },
  ],
  [
    'separator_in_part',
    {
      values: {
        sub1: {
          kind: 'composite',
          separator: '-',
          parts: [
            { name: 'a', kind: 'fixed', text: 'x' },
            { name: 'b', kind: 'fixed', text: 'y-z' },
          ],
        },
      },
    },
    {
      values: {
        sub1: {
          kind: 'composite',
          separator: '~',
          parts: [
            { name: 'a', kind: 'fixed', text: 'x' },
            { name: 'b', kind: 'fixed', text: 'y-z' },
          ],
        },
      },
    },
  ],
];

describe('findings', () => {
  test.each(EXAMPLES)('%s: found with a reason, gone after its fix', (code, part, after) => {
    const found = find(part);
    expect(found.map((each) => each.code)).toContain(code);
    const one = found.find((each) => each.code === code);
    expect(one?.reason.length).toBeGreaterThan(30);
    if (!one?.fix) return expect(after).toEqual({});
    const fixedUp = mended(part);
    expect(fixedUp).toMatchObject(after);
    expect(lintLink(fixedUp).filter((each) => each.code === code)).toEqual([]);
  });

  test('every kind of finding is exemplified above', () => {
    expect([...new Set(EXAMPLES.map(([code]) => code))].sort()).toEqual([...FINDING_CODES].sort());
  });

  test('a link as the shipped presets write it is clean, and so is an ordinary one', () => {
    for (const each of [quillsearch, plazafeed])
      expect(
        find({ to: 'https://larkmoor.example/glaze?size=2#top', source: each, values: valuesOf(each.preset) }),
      ).toEqual([]);
    expect(
      find({
        to: 'https://www.larkmoor.example/?q=a+b&c',
        values: { sub1: fixed('2026-11_hero ad'), sub2: { kind: 'partner' } },
      }),
    ).toEqual([]);
  });

  test('errors come first, and any text whatever is looked at without harm', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'binary' }), fc.string({ unit: 'grapheme' }), (to, text) => {
        const found = find({ to, values: { sub1: fixed(text), sub2: source(text) }, source: quillsearch });
        const firstWarning = found.findIndex(({ severity }) => severity === 'warning');
        expect(found.findLastIndex(({ severity }) => severity === 'error')).toBeLessThan(
          firstWarning < 0 ? found.length : firstWarning,
        );
      }),
    );
  });
});

describe('a pasted link of ours', () => {
  test('is taken apart: what it carries, and the page', () => {
    expect(
      takeApart(`${ORIGIN}/k7Qm2xTf?sub1={{keyword}}&cost=0.4&to=https%3A%2F%2Flarkmoor.example%2Fash%3Fsize%3D2`, [
        ORIGIN,
      ]),
    ).toEqual({
      code: 'k7Qm2xTf',
      change: {
        kind: 'deep',
        to: 'https://larkmoor.example/ash?size=2',
        values: { sub1: source('{{keyword}}'), cost: fixed('0.4') },
      },
    });
    expect(takeApart(`${ORIGIN}/autumn-glaze`, [ORIGIN])).toEqual({
      code: 'autumn-glaze',
      change: { kind: 'referral', to: '' },
    });
    expect(takeApart('https://larkmoor.example/ash', [ORIGIN])).toBeUndefined();
    expect([isOwnAddress(`${ORIGIN}/a/b#c`, [ORIGIN]), isOwnAddress('https://larkmoor.example', [ORIGIN])]).toEqual([
      true,
      false,
    ]);
  });
});
