import { describe, expect, test } from 'vitest';
import { OFFER, World } from '../../tests/support/world';
import type { Role } from '@/store/books/users';
import type { Actor } from './actor';
import { EMPTY_PLAN } from '@/core/routing/plan';
import { readAddressList, saveAddressList } from './address_lists';
import { listAudit } from './audit';
import { readChannel } from './channels';
import { countMatching, readClick } from './clicks';
import { approveCommissions, decideMany, listCommissions, readCommission, reverseCommission } from './commissions';
import { listConversions, readConversion } from './conversions';
import { publishTerms } from './applications';
import { explore } from './explore';
import { changeDestinations, checkPage, listDestinations } from './destinations';
import { linksJob } from './jobs/links';
import { changeDestination, destinationHistory, issueLink, labelLink, readLink, setLinkState } from './links';
import { createMailCopy, issueForMail, readMailCopy } from './mail_copy';
import { createOffer, duplicateOffer, updateOffer } from './offers';
import { createPartner, putPayoutDetails, readPartner, revealPayoutDetails, setPartnerState } from './partners';
import { approveRun, draftRun, readItem, readRun } from './payouts';
import { lastClickExamples, prove } from './proving';
import { readProgram, renewPostbackKey, updateProgram } from './programs';
import { Refusal } from './refusal';
import { filterFor } from './scope';
import { createToken, sessionActor, signIn, tokenActor } from './sign_in';
import { hashPassword } from './secrets';
import { planVersions, readPlan, savePlan } from './routing';
import { ruleEffect } from './rule_effect';
import { newestReceipts, readReceipt } from './receipts';
import { addNumbers, readCallById } from './calls';
import { reconcileJob } from './reconciling';
import { decideReviews, saveSuspicion } from './reviews';
import { conversionsJob, newestImports, recordByHand, undoImport } from './recording';
import { dismissUnmatched, newestRepairs, undoRepair, unmatchedGroups } from './unmatched';
import { createSource, duplicateSource, readSource } from './sources';
import { readStatement } from './statements';
import { trace } from './trace';

const kindOf = (work: () => unknown): string => {
  try {
    work();
    return 'done';
  } catch (error) {
    if (error instanceof Refusal) return error.kind;
    throw error;
  }
};

const MANAGES = [
  ...['partners', 'links', 'setup', 'destinations', 'many', 'mail', 'sources', 'terms', 'follow', 'routing', 'lists'],
  ...['recorded', 'repaired', 'imported', 'received', 'numbers', 'suspicion'],
];
const DECIDES = ['decide', 'audit', 'reviewed', 'reconciled'];
const PAYS = ['details', 'draft'];

test.each<[Role, readonly string[]]>([
  ['viewer', []],
  ['manager', [...MANAGES, ...DECIDES]],
  ['finance', [...DECIDES, ...PAYS]],
  ['owner', [...MANAGES, ...DECIDES, ...PAYS]],
])('the role %s may do what it may and no more, and a refusal leaves an audit line', async (role, allowed) => {
  using world = new World();
  const { stores, link } = world;
  const actor = world.person(role);
  const attempts: Record<string, () => unknown> = {
    partners: () => createPartner(stores, actor, {}),
    links: () => issueLink(stores, actor, {}),
    setup: () => updateProgram(stores, actor, {}),
    decide: () => approveCommissions(stores, actor, []),
    details: () => putPayoutDetails(stores, actor, link.partnerId, {}),
    draft: () => draftRun(stores, actor, {}),
    audit: () => listAudit(stores, actor, { limit: 1, offset: 0 }),
    destinations: () => changeDestinations(stores, actor, {}),
    many: () => linksJob(stores, actor, {}, true, () => undefined),
    mail: () => createMailCopy(stores, actor, {}),
    sources: () => createSource(stores, actor, {}),
    terms: () => publishTerms(stores, actor, {}),
    routing: () => savePlan(stores, actor, link.offerId, { plan: {} }),
    lists: () => saveAddressList(stores, actor, undefined, {}),
    recorded: () => recordByHand(stores, actor, {}),
    repaired: () => dismissUnmatched(stores, actor, {}),
    imported: () => conversionsJob(stores, actor, {}, true, () => undefined),
    received: () => newestReceipts(stores, actor),
    numbers: () => addNumbers(stores, actor, {}),
    suspicion: () => saveSuspicion(stores, actor, {}),
    reviewed: () => decideReviews(stores, actor, {}),
    reconciled: () => reconcileJob(stores, actor, {}, true, () => undefined),
  };
  for (const [name, attempt] of Object.entries(attempts))
    expect([name, kindOf(attempt) !== 'forbidden']).toEqual([name, allowed.includes(name)]);
  const followed = await checkPage(stores, actor, 'http://127.0.0.1/', {}).catch((error: unknown) => error);
  expect(followed instanceof Refusal).toBe(!allowed.includes('follow'));
  const refusals = listAudit(stores, world.owner, { limit: 50, offset: 0 }).rows.filter(
    ({ action }) => action === 'refused',
  );
  expect(refusals).toHaveLength(Object.keys(attempts).length + 1 - allowed.length);
});

describe('objects of others', () => {
  const everything = { from: '2000-01-01', to: '2999-12-31', partnerId: null, channelId: null, offerId: null } as never;

  const target = ({ partnerId, channelId, offerId }: World['link']) => ({ partnerId, channelId, offerId });

  function prepared() {
    const world = new World();
    const receipt = world.report({ event: 'order', order: 'A1', amount: '1000.00', click_id: world.click() });
    const conversion = world.outcome(receipt)?.conversionId ?? 0;
    const commission = world.stores.books.commissions.byConversion(conversion)?.id ?? 0;
    const { offerId, channelId } = world.link;
    addNumbers(world.stores, world.owner, { numbers: ['+15550110'], offerId, use: 'channel', channelId });
    const started = new Date(world.clock).toISOString();
    const told = { call: 'C1', number: '+15550110', caller: '', started, answered: '1', length: '9' };
    world.report(told, true, 'server', 'call');
    const call = world.stores.books.calls.byCallId(world.programId, 'C1')?.id ?? 0;
    world.pass(15);
    approveCommissions(world.stores, world.owner, [commission]);
    const run = draftRun(world.stores, world.finance, { cutOff: new Date(world.clock).toISOString().slice(0, 10) });
    const click = world.stores.traffic.clickBySeq(1)?.clickId ?? '';
    const reads = (actor: Actor): Record<string, () => unknown> => ({
      partner: () => readPartner(world.stores, actor, world.link.partnerId),
      channel: () => readChannel(world.stores, actor, world.link.channelId),
      link: () => readLink(world.stores, actor, world.link.id),
      history: () => destinationHistory(world.stores, actor, world.link.id),
      label: () => labelLink(world.stores, actor, world.link.id, {}),
      lead: () => changeDestination(world.stores, actor, world.link.id, { to: '' }),
      proof: () => prove(world.stores, actor, { link: target(world.link) }),
      examples: () => lastClickExamples(world.stores, actor, world.link.channelId, world.link.offerId),
      issue: () => issueLink(world.stores, actor, target(world.link)),
      pause: () => setLinkState(world.stores, actor, world.link.id, 'paused'),
      conversion: () => readConversion(world.stores, actor, conversion),
      call: () => readCallById(world.stores, actor, call),
      commission: () => readCommission(world.stores, actor, commission),
      receipt: () => readReceipt(world.stores, actor, receipt),
      click: () => readClick(world.stores, actor, click),
      trace: () => trace(world.stores, actor, { kind: 'commission', id: String(commission) }),
      item: () => readItem(world.stores, actor, run.id, world.link.partnerId),
      statement: () => readStatement(world.stores, actor, run.id, world.link.partnerId),
    });
    return { world, reads, commission, run };
  }

  test('a partner reads its own and nothing of another partner', () => {
    const { world, reads } = prepared();
    using _ = world;
    const own = world.person('partner', world.link.partnerId);
    const other = world.person('partner', world.newLink('OTHER').partnerId);
    for (const [name, read] of Object.entries(reads(own))) expect([name, kindOf(read)]).toEqual([name, 'done']);
    for (const [name, read] of Object.entries(reads(other))) expect([name, kindOf(read)]).toEqual([name, 'not_found']);
    // It pauses its own link; whether that goes on, a manager says.
    const resume = (actor: Actor): string => kindOf(() => setLinkState(world.stores, actor, world.link.id, 'live'));
    expect([resume(own), resume(other), resume(world.owner)]).toEqual(['forbidden', 'forbidden', 'done']);
    expect(listCommissions(world.stores, other, everything, 'all', { limit: 9, offset: 0 }).total).toBe(0);
    expect(listConversions(world.stores, other, everything, 'all', { limit: 9, offset: 0 }).total).toBe(0);
    expect(filterFor(other, { ...(everything as object), partnerId: world.link.partnerId } as never).partnerId).toBe(
      other.partnerId,
    );
    // What is the program's own is not for partners, whose links they are.
    expect(kindOf(() => createMailCopy(world.stores, own, {}))).toBe('forbidden');
    expect(kindOf(() => readPlan(world.stores, own, world.link.offerId))).toBe('not_found');
    expect(kindOf(() => ruleEffect(world.stores, own, { floodMost: 1 }))).toBe('forbidden');
    // Whatever a partner filters by, only its own clicks are looked at.
    const mine = (actor: Actor, shelf: 'all' | 'counted' = 'all') =>
      countMatching(world.stores, actor, everything, { shelf, filters: [] });
    world.work();
    expect([mine(own), mine(other)]).toEqual([1, 0]);
    const grouped = { by: ['partner'], filters: [], sort: 'clicks', ascending: false, limit: 9, offset: 0 } as const;
    expect(explore(world.stores, other, { scope: everything, ...grouped }, 100).groups).toEqual([]);
    expect(listDestinations(world.stores, own, {}, { limit: 9, offset: 0 }).rows).toEqual([]);
    world.report({ event: 'order', order: 'U1', amount: '5.00', click_id: 'of-another-kind' });
    expect([
      unmatchedGroups(world.stores, own, everything),
      unmatchedGroups(world.stores, world.owner, everything).length,
    ]).toEqual([[], 1]);
    expect(kindOf(() => newestRepairs(world.stores, own, 5))).toBe('forbidden');
    expect(kindOf(() => newestImports(world.stores, own, 5))).toBe('forbidden');
    expect(kindOf(() => setPartnerState(world.stores, own, world.link.partnerId, 'closed', 'no'))).toBe('forbidden');
    expect(
      listAudit(world.stores, world.owner, { limit: 50, offset: 0 }).rows.filter(({ action }) => action === 'refused')
        .length,
    ).toBeGreaterThan(8);
  });

  test('the owner of another program finds nothing here', () => {
    const { world, reads, commission, run } = prepared();
    using _ = world;
    const stranger: Actor = { ...world.owner, programId: world.programId + 1 };
    const mail = createMailCopy(world.stores, world.owner, {
      ...{ name: 'Autumn', subject: 'Hello', text: '{link}', offerId: world.link.offerId },
    });
    const list = saveAddressList(world.stores, world.owner, undefined, {
      ...{ name: 'A list', effect: 'set_aside', on: true, text: '192.0.2.0/24' },
    });
    world.report({ event: 'order', order: 'U1', amount: '5.00', click_id: 'of-another-kind' });
    const unmatched = unmatchedGroups(world.stores, world.owner, everything)[0]?.ids ?? [];
    const repair = dismissUnmatched(world.stores, world.owner, { ids: [...unmatched], reason: 'a test' });
    const reading = { delimiter: ';', decimal: ',', dates: 'dmy', columns: ['order', 'click_id'], event: 'order' };
    const file = { text: 'o;c\nX1;none', source: 'Shop', reading };
    conversionsJob(world.stores, world.owner, file, true, () => undefined);
    const [imported] = newestImports(world.stores, world.owner, 1);
    const another = unmatchedGroups(world.stores, world.owner, everything)[0]?.ids ?? [];
    for (const [name, read] of Object.entries({
      ...reads(stranger),
      repair: () => undoRepair(world.stores, stranger, repair.id),
      import: () => undoImport(world.stores, stranger, imported?.id ?? 0),
      dismiss: () => dismissUnmatched(world.stores, stranger, { ids: [...another], reason: 'not mine' }),
      decide: () => decideMany(world.stores, stranger, { ids: [1], way: 'reject', reason: 'not mine' }),
      program: () => readProgram(world.stores, stranger, world.programId),
      source: () => readSource(world.stores, stranger, 1),
      copySource: () => duplicateSource(world.stores, stranger, 1),
      copyOffer: () => duplicateOffer(world.stores, stranger, world.link.offerId),
      mail: () => readMailCopy(world.stores, stranger, mail.id),
      mailed: () => issueForMail(world.stores, stranger, mail.id),
      destinations: () => changeDestinations(world.stores, stranger, { offerId: world.link.offerId, from: '' }),
      offer: () => updateOffer(world.stores, stranger, world.link.offerId, {}),
      plan: () => readPlan(world.stores, stranger, world.link.offerId),
      versions: () => planVersions(world.stores, stranger, world.link.offerId),
      saved: () => savePlan(world.stores, stranger, world.link.offerId, { plan: EMPTY_PLAN }),
      list: () => readAddressList(world.stores, stranger, list.id),
      effect: () => ruleEffect(world.stores, stranger, { listId: list.id }),
      run: () => readRun(world.stores, stranger, run.id),
      approveRun: () => approveRun(world.stores, stranger, run.id),
      reverse: () => reverseCommission(world.stores, stranger, commission, { reason: 'none' }),
      reveal: () => revealPayoutDetails(world.stores, stranger, world.link.partnerId),
    }))
      expect([name, kindOf(read)]).toEqual([name, 'not_found']);
  });
});

test('payout details are sealed on disk, masked on screen, and every view is in the audit', () => {
  using world = new World();
  const { stores, owner, link } = world;
  expect(stores.books.partners.sealedDetails(link.partnerId)?.toString('latin1')).not.toContain('KLEI');
  expect(readPartner(stores, owner, link.partnerId).detailsMask).toBe('S… · NL55…3119');
  expect(revealPayoutDetails(stores, owner, link.partnerId)).toEqual({
    holder: 'SLOWWHEEL',
    account: 'NL55KLEI0300073119',
  });
  expect(listAudit(stores, owner, { limit: 1, offset: 0 }).rows[0]).toMatchObject({ action: 'viewed' });
});

test('signing in: passwords and tokens are kept as hashes, sessions end together', async () => {
  using world = new World();
  const { stores, owner } = world;
  const password = await hashPassword('kiln-and-clay');
  stores.books.users.insert({
    programId: world.programId,
    email: 'ines@larkmoor.example',
    name: 'Ines',
    role: 'manager',
    partnerId: null,
    password,
    now: 0,
  });
  const user = await signIn(stores, { email: 'Ines@larkmoor.example', password: 'kiln-and-clay' });
  expect(sessionActor(stores, { userId: user.id, version: user.sessionVersion })?.name).toBe('Ines');
  stores.books.users.endSessions(user.id);
  expect(sessionActor(stores, { userId: user.id, version: user.sessionVersion })).toBeUndefined();
  for (const attempt of [
    { email: 'ines@larkmoor.example', password: 'wrong' },
    { email: 'no@one.example', password: 'kiln-and-clay' },
  ])
    await expect(signIn(stores, attempt)).rejects.toMatchObject({ kind: 'unauthenticated' });
  const token = createToken(stores, owner, 'For a test');
  expect(tokenActor(stores, token)?.userId).toBe(owner.userId);
  expect(tokenActor(stores, `${token}x`)).toBeUndefined();
  const key = renewPostbackKey(stores, owner);
  const onDisk = JSON.stringify([
    stores.books.users.tokens(world.programId),
    stores.books.db.prepare('SELECT * FROM tokens').all(),
    stores.books.db.prepare('SELECT * FROM programs').all(),
  ]);
  expect([token, key].some((secret) => onDisk.includes(secret))).toBe(false);
});

describe('input that is refused names its field', () => {
  test.each<[string, object, string, string]>([
    [
      'offer',
      { landingPages: [{ name: 'A', address: 'https://larkmoor.example/{clickid}' }] },
      'landingPages.0.address',
      '"{clickid}" is not a value',
    ],
    [
      'offer',
      { landingPages: [{ name: 'A', address: 'https://evil.example/' }] },
      'landingPages.0.address',
      'not among the landing hosts',
    ],
    ['offer', { startsOn: '2026-12-01', endsOn: '2026-11-30' }, '', 'lies before the first'],
    ['offer', { events: [] }, 'events', 'at least 1'],
    ['offer', { code: 'GLAZE' }, 'code', 'code of the offer'],
    ['partner', { ownMinimum: '50.005' }, 'ownMinimum', 'at most 2 decimals'],
    ['partner', { payoutCurrency: 'EURO' }, 'payoutCurrency', 'ISO 4217'],
    ['partner', { email: 'nobody' }, 'email', 'e-mail address'],
    ['partner', { code: 'slowwheel' }, 'code', 'permanent'],
  ])('%s with %o', (what, change, field, reason) => {
    using world = new World();
    const { stores, owner } = world;
    const offer = { ...OFFER, code: 'NEW', ...change };
    const partner = {
      code: 'NEW',
      name: 'New',
      kind: 'business',
      email: 'a@b.example',
      country: 'NL',
      payoutCurrency: 'EUR',
      ...change,
    };
    const work = (): unknown =>
      what === 'offer' ? createOffer(stores, owner, offer) : createPartner(stores, owner, partner);
    expect(work).toThrow(expect.objectContaining({ problems: [{ field, reason: expect.stringContaining(reason) }] }));
  });
});
