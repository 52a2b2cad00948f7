import fc from 'fast-check';
import type Joi from 'joi';
import { describe, expect, test } from 'vitest';
import { couponSchema } from '../attribution/coupon';
import { callTermsSchema } from '../calls/terms';
import { fileReadingSchema } from '../conversions/file';
import { USUAL_SUSPICION, suspicionSchema } from '../conversions/suspicion';
import { linkSchema } from '../links/schema';
import { mailCopySchema } from '../mail/merge';
import { currency } from '../money/currency';
import { offerSchema } from '../offers/schema';
import { applicationSchema, channelSchema, partnerSchema, payoutDetailsSchema, proposedCode } from '../partners/schema';
import { programSchema } from '../programs/schema';
import { planSchema } from '../routing/plan';
import { SHIPPED_SOURCES } from '../sources/shipped';
import { sourceSchema } from '../sources/schema';
import { amountField, permanentCode } from './fields';
import { check } from './problems';

const EUR = currency('EUR');
/** Of each schema, something that it takes. */
const TAKEN: readonly (readonly [string, Joi.Schema, Readonly<Record<string, unknown>>])[] = [
  [
    'a partner',
    partnerSchema(EUR),
    {
      ...{ code: 'KILN', name: 'Kiln Notes', kind: 'business', email: 'hello@kilnnotes.example', country: 'NL' },
      ...{ payoutCurrency: 'EUR', ownMinimum: '50.00', notes: '', group: 'Magazines', referrer: '' },
    },
  ],
  [
    'an application',
    applicationSchema,
    {
      ...{ name: 'Kiln Notes', kind: 'person', email: 'hello@kilnnotes.example', country: 'NL' },
      ...{ address: 'https://kilnnotes.example/', channelKind: 'website', about: 'Reviews of kilns, twice a week.' },
      ...{ referrer: '', termsVersion: 2, accepted: true },
    },
  ],
  [
    'a channel',
    channelSchema,
    { code: 'MAIN', name: 'Main site', kind: 'website', address: 'https://kilnnotes.example/', sourceId: null },
  ],
  [
    'an offer',
    offerSchema,
    {
      ...{ code: 'GLAZE', name: 'Glaze box', state: 'live', startsOn: '', endsOn: '2026-12-31' },
      landingPages: [{ name: 'Glaze box', address: 'https://larkmoor.example/glaze?c={click_id}' }],
      ...{ landingHosts: ['larkmoor.example', '*.larkmoor.example'], appended: '', clickWindowDays: 30 },
      ...{ hold: { kind: 'days', days: 30, from: 'event' }, autoApprove: true, fallback: '', hideReferrer: false },
      ...{ couponFirst: false, creditedClick: 'last', events: [{ event: 'order', repeat: 'ignore', payable: true }] },
    },
  ],
  [
    'a program',
    programSchema(EUR),
    {
      ...{ name: 'Larkmoor Kilns', timeZone: 'Europe/Amsterdam', country: 'NL', payoutDay: 5, privacy: 'cut' },
      ...{ trackingOrigin: 'https://go.larkmoor.example', otherOrigins: [], fallback: 'https://larkmoor.example/' },
      ...{ minimumPayout: '25.00', uniqueHours: 24, floodMost: 12, takesApplications: true },
    },
  ],
  ['a coupon', couponSchema, { code: 'GLAZE10', partnerId: 1, channelId: 2, offerId: 3, startsOn: '', endsOn: '' }],
  ['mail copy', mailCopySchema, { name: 'Autumn', subject: 'Hello', text: 'Here: {link}', offerId: 1, to: '' }],
  ['payout details', payoutDetailsSchema(() => true), { holder: 'Kiln Notes', account: 'NL20KILN0123456789' }],
  [
    'a link',
    linkSchema,
    {
      ...{ kind: 'deep', partnerId: 1, channelId: 2, offerId: 3, landing: '', to: 'https://larkmoor.example/ash' },
      ...{ values: { sub1: { kind: 'source', text: '{{keyword}}' } }, names: { sub1: 'kw' }, sourceId: null },
      ...{ alias: 'ash-glaze', labels: { campaign: 'Autumn', tags: ['glaze'] }, utm: { source: 'kiln' } },
      ...{ utmForm: 'short', host: '' },
    },
  ],
  [
    'a routing plan',
    planSchema,
    {
      rules: [
        {
          ...{ id: 'r1', name: 'Evenings', on: true, overOwn: false },
          when: [
            { field: 'country', is: true, values: ['BE'] },
            { field: 'hours', from: '18:00', to: '02:00' },
            { field: 'dates', from: '2026-11-01', to: '2026-11-30' },
          ],
          mix: { to: [{ page: 'Gift', weight: 1, on: true }], round: 1 },
        },
      ],
      otherwise: { to: [], round: 1, shift: { least: 10, step: 5 } },
      ...{ caps: [{ of: 'clicks', per: 'day', most: 1000 }], visitorMost: 0, overflow: '' },
    },
  ],
  ['signals of a review', suspicionSchema, { ...USUAL_SUSPICION }],
  [
    'a way to read files',
    fileReadingSchema,
    { delimiter: ';', decimal: ',', dates: 'dmy', columns: ['order', '', 'x_supplier'], event: 'order' },
  ],
  [
    'terms of calls',
    callTermsSchema,
    {
      ...{ converts: 'length', leastSeconds: 90, repeatHours: 24, days: [1, 2], opens: '09:00', closes: '18:00' },
      ...{ mostADay: 50, mostAtOnce: 2 },
    },
  ],
  ...SHIPPED_SOURCES.map((preset) => [`the source ${preset.name}`, sourceSchema, { ...preset }] as const),
];

describe.each(TAKEN)('%s', (_, schema, good) => {
  test('is taken, and what was taken is taken again as it stands', () => {
    const first = check<unknown>(schema, good);
    expect(first).toMatchObject({ ok: true });
    expect(first.ok && check<unknown>(schema, first.value)).toEqual(first);
  });

  test('anything at all in one of its fields is taken, or refused by a sentence about that field', () => {
    fc.assert(
      fc.property(fc.constantFrom(...Object.keys(good)), fc.anything({ withBigInt: true }), (field, anything) => {
        const checked = check<unknown>(schema, { ...good, [field]: anything });
        if (checked.ok) return;
        expect(checked.problems.length).toBeGreaterThan(0);
        for (const problem of checked.problems) {
          expect(`${problem.field}.`.startsWith(`${field}.`)).toBe(true);
          expect(problem.reason).toMatch(/^\P{Ll}[^]*\.$/u);
        }
      }),
    );
  });

  test('a field too many, and each that it cannot do without, is named', () => {
    const fieldsOf = (value: unknown): string[] => {
      const checked = check<unknown>(schema, value);
      return checked.ok ? [] : checked.problems.map(({ field }) => field);
    };
    expect(fieldsOf({ ...good, surprise: 1 })).toEqual(['surprise']);
    for (const name of Object.keys(good)) {
      const { [name]: __, ...others } = good;
      expect([[], [name]]).toContainEqual(fieldsOf(others));
    }
    // All that is wrong is said at once.
    expect(fieldsOf({}).length).toBeGreaterThan(0);
    for (const nothing of [null, [], 'text', 7]) expect(check<unknown>(schema, nothing).ok).toBe(false);
  });
});

test('an amount has at most the decimals of its currency, and is not negative', () => {
  const minor = fc.nat(1_000_000_000);
  for (const [code, digits] of [
    ['JPY', 0],
    ['EUR', 2],
    ['KWD', 3],
  ] as const) {
    const field = amountField('Minimum', currency(code));
    fc.assert(
      fc.property(minor, (amount) => {
        const text = (amount / 10 ** digits).toFixed(digits);
        expect(check(field, text)).toEqual({ ok: true, value: text });
        const finer = digits === 0 ? `${text}.5` : `${text}5`;
        expect(check(field, finer)).toMatchObject({ ok: false });
        if (amount > 0) expect(check(field, `-${text}`)).toMatchObject({ ok: false });
      }),
      { numRuns: 30 },
    );
  }
});

test('a proposed code is one that may be taken, whatever the name', () => {
  expect(proposedCode('The Potter’s Den')).toBe('THEPOTTERSDEN');
  fc.assert(
    fc.property(fc.string({ unit: 'grapheme' }), (name) => {
      expect(check(permanentCode('Code'), proposedCode(name))).toEqual({ ok: true, value: proposedCode(name) });
    }),
  );
});
