import { describe, expect, test } from 'vitest';
import { World } from '../../tests/support/world';
import { apply, approveApplicant, listTerms, openForm, publishTerms } from './applications';
import { createChannel, findChannels, updateChannel } from './channels';
import { duplicateOffer } from './offers';
import {
  createPartner,
  listGroups,
  listPartners,
  partnerFields,
  readPartner,
  setPartnerState,
  updatePartner,
} from './partners';
import { programFields, readProgram, updateProgram } from './programs';
import { Refusal } from './refusal';
import {
  createSource,
  duplicateSource,
  exportSource,
  importSource,
  listSources,
  readSource,
  setSourceRemoved,
  updateSource,
} from './sources';
import { today } from './today';

const APPLICATION = {
  ...{
    name: 'The Potter’s Den',
    kind: 'person',
    email: 'hello@den.example',
    country: 'NL',
    address: 'https://www.den.example/',
    channelKind: 'website',
  },
  ...{ about: 'A blog on glazes, read by 900 people a month.', referrer: 'slowwheel', termsVersion: 1, accepted: true },
};
const TERMS = 'These are the terms of the program, long enough to be terms.';
const problemsOf = (work: () => unknown): readonly { field: string; reason: string }[] => {
  try {
    work();
  } catch (error) {
    if (error instanceof Refusal) return error.problems;
    throw error;
  }
  return [];
};

describe('applications', () => {
  test('come in with the terms accepted, wait in Today, and become a partner with a channel', () => {
    using world = new World();
    const { stores, owner, programId } = world;
    publishTerms(stores, owner, { text: TERMS });
    expect(openForm(stores, programId)?.terms).toMatchObject({ version: 1, text: TERMS });
    apply(stores, programId, APPLICATION);
    apply(stores, programId, { ...APPLICATION, email: 'HELLO@den.example' });
    const [applicant, ...rest] = listPartners(stores, owner, { state: 'applied', limit: 9, offset: 0 }).rows;
    expect(rest).toEqual([]);
    expect(applicant).toMatchObject({
      code: 'THEPOTTERSDEN',
      termsVersion: 1,
      termsAcceptedAt: world.clock,
      referrerCode: 'SLOWWHEEL',
      group: null,
    });
    expect(today(stores, owner)[0]).toMatchObject({ title: 'The Potter’s Den applied', why: APPLICATION.about });
    const id = applicant?.id ?? 0;
    // An applicant's code may still be chosen with care; later it stands.
    const fields = partnerFields(stores, readPartner(stores, owner, id));
    updatePartner(stores, owner, id, { ...fields, code: 'DEN', group: 'Makers' });
    approveApplicant(stores, owner, id);
    expect(findChannels(stores, owner, { partnerId: id }, { limit: 9, offset: 0 }).rows).toMatchObject([
      { code: 'MAIN', name: 'den.example', kind: 'website' },
    ]);
    expect(problemsOf(() => updatePartner(stores, owner, id, { ...fields, code: 'OTHER' }))[0]?.field).toBe('code');
    expect(listGroups(stores, owner)).toMatchObject([{ name: 'Makers', partners: 1 }]);
  });

  test('are refused by field, with old terms, and when none are taken', () => {
    using world = new World();
    const { stores, owner, programId } = world;
    publishTerms(stores, owner, { text: TERMS });
    const wrong = problemsOf(() =>
      apply(stores, programId, {
        ...APPLICATION,
        email: 'x',
        country: 'Holland',
        address: 'den',
        about: 'short',
        accepted: false,
      }),
    );
    expect(wrong.map(({ field }) => field).sort()).toEqual(['about', 'accepted', 'address', 'country', 'email']);
    publishTerms(stores, owner, { text: `${TERMS} And more.` });
    expect(problemsOf(() => apply(stores, programId, APPLICATION))[0]).toMatchObject({
      field: 'accepted',
      reason: expect.stringContaining('changed'),
    });
    expect(listTerms(stores, owner).map(({ version }) => version)).toEqual([2, 1]);
    expect(problemsOf(() => publishTerms(stores, owner, { text: `${TERMS} And more.` }))[0]?.reason).toContain(
      'nothing differs',
    );
    updateProgram(stores, owner, { ...programFields(readProgram(stores, owner)), takesApplications: false });
    expect(openForm(stores, programId)).toBeUndefined();
    expect(() => apply(stores, programId, { ...APPLICATION, termsVersion: 2 })).toThrow('takes no applications');
  });

  test('a refusal keeps its reason; groups and referrers are checked', () => {
    using world = new World();
    const { stores, owner } = world;
    const fields = {
      code: 'NEW',
      name: 'New',
      kind: 'person',
      email: 'a@b.example',
      country: 'NL',
      payoutCurrency: 'EUR',
    };
    const { id } = createPartner(stores, owner, { ...fields, referrer: 'SLOWWHEEL', group: 'Makers' });
    expect(problemsOf(() => setPartnerState(stores, owner, id, 'refused', ''))[0]?.field).toBe('reason');
    expect(setPartnerState(stores, owner, id, 'refused', 'Could not name a site.')).toMatchObject({
      state: 'refused',
      stateReason: 'Could not name a site.',
    });
    expect(
      problemsOf(() => createPartner(stores, owner, { ...fields, code: 'NEXT', referrer: 'NOBODY' }))[0]?.field,
    ).toBe('referrer');
    expect(problemsOf(() => updatePartner(stores, owner, id, { ...fields, referrer: 'NEW' }))[0]?.field).toBe(
      'referrer',
    );
    const partner = world.person('partner', world.link.partnerId);
    updatePartner(stores, owner, world.link.partnerId, {
      ...partnerFields(stores, readPartner(stores, owner, world.link.partnerId)),
      notes: 'secret',
    });
    expect([
      readPartner(stores, owner, world.link.partnerId).notes,
      readPartner(stores, partner, world.link.partnerId).notes,
    ]).toEqual(['secret', '']);
  });
});

describe('sources', () => {
  test('are created, duplicated, taken out of use and back', () => {
    using world = new World();
    const { stores, owner } = world;
    const [quill] = listSources(stores, owner).filter(({ preset }) => preset.name === 'Quillsearch');
    if (!quill) throw new Error('no source');
    expect(listSources(stores, owner)).toHaveLength(3);
    expect(duplicateSource(stores, owner, quill.id).preset).toEqual({ ...quill.preset, name: 'Quillsearch 2' });
    expect(duplicateSource(stores, owner, quill.id).preset.name).toBe('Quillsearch 3');
    expect(problemsOf(() => createSource(stores, owner, { ...quill.preset, name: 'quillsearch' }))[0]?.field).toBe(
      'name',
    );
    expect(updateSource(stores, owner, quill.id, { ...quill.preset, paste: 'Here.' }).preset.paste).toBe('Here.');
    setSourceRemoved(stores, owner, quill.id, true);
    expect(listSources(stores, owner).map(({ preset }) => preset.name)).not.toContain('Quillsearch');
    expect(readSource(stores, owner, quill.id).preset.name).toBe('Quillsearch');
    setSourceRemoved(stores, owner, quill.id, false);
    expect(listSources(stores, owner)).toHaveLength(5);
    const stranger = { ...owner, programId: world.programId + 1 };
    expect(() => readSource(stores, stranger, quill.id)).toThrow('no source');
    expect(() => updateSource(stores, world.person('viewer'), quill.id, quill.preset)).toThrow('may not manage setup');
    const { partnerId, channelId } = world.link;
    expect(
      problemsOf(() =>
        createChannel(stores, owner, partnerId, { code: 'XX', name: 'X', kind: 'website', sourceId: 999 }),
      )[0]?.field,
    ).toBe('sourceId');
    expect(
      updateChannel(stores, owner, channelId, { code: 'MAIN', name: 'Main', kind: 'website', sourceId: quill.id })
        .sourceId,
    ).toBe(quill.id);
  });

  test('a file comes back as it went out; a bad one names the path of what is wrong', () => {
    using world = new World();
    const { stores, owner } = world;
    const [source] = listSources(stores, owner);
    if (!source) throw new Error('no source');
    const file = { $schema: 'https://brivet.example/schema', ...exportSource(stores, owner, source.id) };
    const again = importSource(stores, owner, JSON.stringify(file));
    expect(again.preset).toEqual({ ...source.preset, name: `${source.preset.name} 2` });
    expect(problemsOf(() => importSource(stores, owner, '{'))[0]?.reason).toContain('not JSON');
    expect(problemsOf(() => importSource(stores, owner, '{"format":"other"}')).map(({ field }) => field)).toContain(
      'format',
    );
    const bad = {
      ...file,
      tokens: [{ token: 'a b', meaning: 'x' }],
      values: { sub1: { parameter: 'to', value: { kind: 'fixed' } } },
    };
    expect(
      problemsOf(() => importSource(stores, owner, JSON.stringify(bad))).map(({ reason }) => reason.split(':')[0]),
    ).toEqual(['At tokens.0.token', 'At values.sub1.parameter', 'At values.sub1.value.text']);
  });
});

test('an offer is copied paused, under a code of its own', () => {
  using world = new World();
  const first = duplicateOffer(world.stores, world.owner, world.link.offerId);
  const second = duplicateOffer(world.stores, world.owner, world.link.offerId);
  expect([first.code, first.state, second.code]).toEqual(['GLAZE-2', 'paused', 'GLAZE-3']);
});
