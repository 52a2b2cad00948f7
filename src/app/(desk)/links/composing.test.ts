import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { OFFER, World } from '../../../../tests/support/world';
import type { KnownSource } from '@/core/links/findings';
import { LINK_COLUMNS, shownValue } from '@/core/links/bulk';
import { EXAMPLE_CLICK_ID } from '@/core/links/proof';
import { composeLink } from '@/core/links/parts';
import type { SlotValue } from '@/core/links/values';
import { currency } from '@/core/money/currency';
import { day } from '@/core/time/days';
import { issueLink } from '@/services/links';
import { linksJob } from '@/services/jobs/links';
import { prove } from '@/services/proving';
import { listSources } from '@/services/sources';
import {
  type Bench,
  type ComposedOffer,
  type Draft,
  EMPTY,
  draftEarning,
  draftFields,
  draftFindings,
  draftParts,
  draftProof,
  wantedExamples,
  withChange,
  withSource,
} from './composing';

const PAGES = [
  { name: 'Main', address: 'https://larkmoor.example/glaze?from={channel_code}' },
  { name: 'Gift', address: 'https://larkmoor.example/gift' },
];

/** The workbench as the page opens it, on a world's books. */
function opened(world: World): { bench: Bench; draft: Draft; source: KnownSource } {
  const { link, stores, owner } = world;
  const composed: ComposedOffer = {
    ...{ id: link.offerId, label: 'Glaze box', about: 'GLAZE', fallback: 'https://larkmoor.example/', live: true },
    ...{
      landingPages: PAGES,
      landingHosts: OFFER.landingHosts,
      appended: OFFER.appended,
      hold: OFFER.hold,
      events: ['order'],
    },
  };
  const sources = listSources(stores, owner).map(({ id, preset }) => ({ id, preset }));
  const source = sources.find(({ preset }) => preset.name === 'Quillsearch');
  if (!source) throw new Error('no source');
  const rows = [{ id: 'all', label: 'Everything', when: {}, pay: { kind: 'percent' as const, rate: 100_000 } }];
  const bench = {
    origins: ['https://go.larkmoor.example'],
    currency: currency('EUR'),
    offers: [composed],
    sources,
    rows,
    today: day('2026-11-24'),
    now: world.clock,
  };
  const partner = { id: link.partnerId, label: 'Slow Wheel', about: 'SLOWWHEEL' };
  const channel = { id: link.channelId, label: 'Main', about: 'MAIN' };
  return { bench, source, draft: { ...EMPTY, partner, channel, offer: composed } };
}

describe('the workbench', () => {
  test(
    'gives the address that the API, the bulk issuer and the edge give, whatever is composed',
    { timeout: 60_000 },
    () => {
      using world = new World({ offer: { ...OFFER, landingPages: PAGES } });
      const { bench, draft, source } = opened(world);
      const text = fc.stringMatching(/^[a-zA-Z0-9 _.-]{1,12}$/).filter((each) => each.trim() === each);
      const value: fc.Arbitrary<SlotValue> = fc.oneof(
        text.map((each) => ({ kind: 'fixed' as const, text: each })),
        fc.constant({ kind: 'partner' as const }),
        fc.constant({ kind: 'source' as const, text: '{{keyword}}' }),
      );
      const drafts = fc.record({
        kind: fc.constantFrom('referral' as const, 'deep' as const, 'direct' as const),
        to: fc.webPath().map((path) => `https://larkmoor.example/p${path}?size=2#top`),
        landing: fc.constantFrom('', 'Gift'),
        values: fc.dictionary(fc.constantFrom('sub1' as const, 'sub4' as const, 'pcid' as const), value, {
          noNullPrototype: true,
        }),
        utm: fc.constantFrom({}, { source: 'brivet', campaign: '{channel_code}' }),
        withoutPage: fc.boolean(),
      });
      fc.assert(
        fc.property(drafts, ({ withoutPage, ...some }) => {
          const to = withoutPage && some.kind !== 'deep' ? '' : some.to;
          const composed = withSource({ ...draft, ...some, to }, source);
          fc.pre(draftFindings(composed, bench).every(({ severity }) => severity !== 'error'));
          const fields = draftFields(composed);
          const shown = composeLink(draftParts(composed, bench));
          const examples = Object.fromEntries(wantedExamples(composed).map((token) => [token, 'example']));
          const here = draftProof({ ...composed, examples }, bench);
          const there = prove(world.stores, world.owner, { link: fields, examples });
          expect([there.address, there.proof]).toEqual([shown, here]);
          const issued = issueLink(world.stores, world.owner, fields);
          const withCode = (address: string): string => address.replaceAll('·'.repeat(8), issued.code);
          expect(issued.address).toBe(withCode(shown));
          if (some.kind !== 'direct' && here) {
            const query = here.clicked.split('?').slice(1).join('?');
            const click = world.traffic.click(world.click(issued, { query }));
            expect(click?.address.replace(click.clickId, EXAMPLE_CLICK_ID)).toBe(here.choice.address);
          }
          // The same as a line of a file issues nothing new, and names the same address.
          const record: Partial<Record<(typeof LINK_COLUMNS)[number], string>> = {
            ...{ destination: to, kind: some.kind, source: 'Quillsearch', landing: fields.landing },
            ...Object.fromEntries(
              Object.entries(fields.values).map(([slot, each]) => [slot, each ? shownValue(each) : '']),
            ),
            ...Object.fromEntries(Object.entries(some.utm).map(([field, each]) => [`utm_${field}`, each])),
          };
          const line = [Object.keys(record), Object.values(record)]
            .map((cells) => cells.map((cell) => JSON.stringify(cell)).join(','))
            .join('\n');
          const defaults = { partnerId: fields.partnerId, channelId: fields.channelId, offerId: fields.offerId };
          const [result] = linksJob(
            world.stores,
            world.owner,
            { form: 'lines', text: line, defaults },
            true,
            () => undefined,
          );
          expect([result?.outcome, result?.problems]).toEqual(['same', []]);
        }),
        { numRuns: 60 },
      );
    },
  );

  test('writes the link for a source and keeps what was typed by hand; another source replaces the placeholders', () => {
    using world = new World({ offer: { ...OFFER, landingPages: PAGES } });
    const { bench, draft, source } = opened(world);
    const typed = { ...draft, values: { sub2: { kind: 'fixed' as const, text: 'by hand' } } };
    const quill = withSource(typed, source);
    expect(composeLink(draftParts(quill, bench))).toContain(
      '?keyword={{keyword}}&sub2=by%20hand&adgroup={{adgroup}}&pcid={{cid}}&cost={{bid}}',
    );
    const plaza = withSource(
      quill,
      bench.sources.find(({ preset }) => preset.name === 'Plazafeed'),
    );
    expect(composeLink(draftParts(plaza, bench))).toContain('?sub1=[POST]&sub2=by%20hand&sub3=[PLACE]&pcid=[VISIT]');
    expect(withSource(plaza, undefined).values).toEqual(typed.values);
    expect(draftProof(quill, bench)?.recorded).toMatchObject({ sub1: 'ash glaze', sub2: 'by hand', cost: '0.42' });
  });

  test('does what a fix says, to the page, the values, the offer and the source', () => {
    using world = new World({ offer: { ...OFFER, landingPages: PAGES } });
    const { bench, draft, source } = opened(world);
    const before = { ...draft, values: { sub1: { kind: 'fixed' as const, text: 'a' } } };
    const after = withChange(
      before,
      { to: 'https://larkmoor.example/x', kind: 'deep', values: { sub1: undefined, pcid: { kind: 'partner' } } },
      bench,
    );
    expect(after).toMatchObject({
      to: 'https://larkmoor.example/x',
      kind: 'deep',
      values: { pcid: { kind: 'partner' } },
    });
    expect('sub1' in after.values).toBe(false);
    expect(withChange(draft, { sourceId: source.id }, bench).source).toBe(source);
    expect(withChange(draft, { offerId: 999 }, bench).offer).toBeUndefined();
  });

  test('says what a sale would earn, and why an amount cannot be read', () => {
    using world = new World({ offer: { ...OFFER, landingPages: PAGES } });
    const { bench, draft } = opened(world);
    expect(draftEarning(draft, bench, { event: 'order', amount: '32.00' })).toMatchObject({
      rating: { amount: { minor: 320 } },
      payable: '2026-12-08',
    });
    expect(draftEarning(draft, bench, { event: 'order', amount: '32.005' }).problem).toContain('at most 2 decimals');
    expect(draftEarning({ ...draft, offer: undefined }, bench, { event: 'order', amount: '1' })).toEqual({});
    expect(draftProof({ ...draft, offer: undefined }, bench)).toBeUndefined();
    expect(draftProof({ ...draft, to: 'no address' }, bench)).toBeUndefined();
  });
});
