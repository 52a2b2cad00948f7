import { mkdirSync } from 'node:fs';
import { DAY_MS, type Day, addDays, dayOf, endOfMonth, startOfDay, startOfMonth } from '@/core/time/days';
import type { Actor } from '@/services/actor';
import { saveAddressList } from '@/services/address_lists';
import { addNumbers } from '@/services/calls';
import { approveDue, dueToApprove, runCommissionTimetable } from '@/services/commissions';
import { approveRun, draftRun, exportRun, returnPayment, settleRun } from '@/services/payouts';
import { createProgram } from '@/services/programs';
import { decideReviews, listReviews, reviewConversions } from '@/services/reviews';
import { savePlan } from '@/services/routing';
import { hashPassword } from '@/services/secrets';
import { actorOf, createToken } from '@/services/sign_in';
import { type Stores, storeFile } from '@/services/stores';
import { putExchangeRate } from '@/services/terms';
import { openBooks } from '@/store/books';
import { type RollupWriter, openRollupsForWriting } from '@/store/rollups';
import { type TrafficWriter, openTrafficForWriting } from '@/store/traffic';
import { postPostbacks } from '@/worker/post';
import { rollClicks, rollConversions } from '@/worker/roll';
import type { DemoNumbers } from './calls';
import { Chance } from './chance';
import { createCast } from './cast';
import { DIRECTORY_NUMBER, HOSTING_RANGES, VISIT_NUMBERS } from './scenario/audience';
import { ROUTING } from './scenario/offers';
import { PEOPLE, PROGRAM } from './scenario/program';
import { Visitors } from './visitors';

const DAYS = 120;

export interface DemoStores extends Stores {
  traffic: TrafficWriter;
  rollups: RollupWriter;
}
interface Options {
  folder: string;
  now: number;
  secret: string;
  seed: number;
  /** How long a history; 120 days unless said otherwise. */
  days?: number;
  progress(share: number, what: string): void;
}

/**
 * Builds the scenario's history through the services: raw hits in, money out. A clock is walked through 120 days; the
 * same seed and the same 'now' give the same data.
 */
export async function buildDemo({ folder, now, secret, seed, days = DAYS, progress }: Options) {
  mkdirSync(folder, { recursive: true });
  const chance = new Chance(seed);
  const zone = PROGRAM.timeZone;
  let clock = startOfDay(addDays(dayOf(now, zone), -days), zone) - 3 * DAY_MS;
  const stores: DemoStores = {
    books: openBooks(storeFile('books', folder)),
    traffic: openTrafficForWriting(storeFile('traffic', folder)),
    rollups: openRollupsForWriting(storeFile('rollups', folder)),
    secret,
    now: () => clock,
    randomBytes: (count) => {
      const bytes = new Uint8Array(count);
      chance.fill(bytes);
      return bytes;
    },
  };
  const databases = [stores.books.db, stores.traffic.db, stores.rollups.db];
  // Nothing of value is lost if the machine stops while a demo is made: it is made anew.
  for (const db of databases) db.pragma('synchronous = OFF');

  const { id: programId, postbackKey } = createProgram(stores, PROGRAM, 'EUR');
  const [manager, finance] = await createPeople(stores, programId);
  const cast = createCast(stores, manager, finance);
  const token = createToken(stores, manager, 'Demo token');
  const numbers = takeNumbers(stores, manager);
  const visitors = new Visitors(stores, cast, chance, postbackKey, numbers);

  const first = addDays(dayOf(now, zone), -days);
  for (let i = 0; i <= days; i++) {
    const of = addDays(first, i);
    const end = Math.min(now, startOfDay(addDays(of, 1), zone));
    if (i % 7 === 0) storeRates(stores, finance, of, i);
    for (const time of visitors.liveThrough(of, startOfDay(of, zone), end, i / days)) {
      clock = time;
      postPostbacks(stores, 1);
    }
    while (rollClicks(stores.traffic, stores.books, stores.rollups) > 0);
    while (rollConversions(stores, stores.rollups) > 0);
    while (reviewConversions(stores) > 0);
    clock = Math.min(now, startOfDay(of, zone) + 10 * 3_600_000);
    routeFrom(stores, manager, days - i);
    decideOn(stores, manager, finance, of, { passed: i, left: days - i });
    clock = Math.max(clock, end - 1);
    progress(i / days, `history of ${of}`);
  }
  clock = now;
  const { clicks, postbacks } = stores.traffic.ends();
  for (const db of databases) {
    db.pragma('wal_checkpoint(TRUNCATE)');
    db.close();
  }
  return {
    postbackKey,
    token,
    clicks,
    postbacks,
    now,
    numbers: [numbers.own, ...numbers.visits.map(({ number }) => number)],
  };
}

/** The exchange's numbers: one of a directory, and a few that are shown to one visit at a time. */
function takeNumbers(stores: Stores, manager: Actor): DemoNumbers {
  const { books } = stores;
  const offer = books.offers.byCode(manager.programId, 'KILNS');
  const partner = books.partners.byCode(manager.programId, 'ATELIERS');
  const channel = partner && books.partners.channelByCode(partner.id, 'CALLS');
  if (!offer || !channel) throw new Error('The offer and the channel of the calls were not made.');
  addNumbers(stores, manager, {
    numbers: [DIRECTORY_NUMBER],
    offerId: offer.id,
    use: 'channel',
    channelId: channel.id,
  });
  addNumbers(stores, manager, { numbers: VISIT_NUMBERS, offerId: offer.id, use: 'visits' });
  return { own: DIRECTORY_NUMBER, visits: books.calls.numbersOf(offer.id).filter(({ use }) => use === 'visits') };
}

/** The manager looks at what seems odd, some days later. */
function reviewOdd(stores: Stores, manager: Actor): void {
  const everything = {
    from: '2000-01-01' as Day,
    to: '2999-12-31' as Day,
    partnerId: null,
    channelId: null,
    offerId: null,
  };
  const open = listReviews(stores, manager, everything, 'open', { limit: 500, offset: 0 }).rows;
  const old = open.filter(({ time }) => stores.now() - time > 6 * DAY_MS);
  const ids = (bad: boolean): number[] =>
    old.filter(({ score }) => score >= 100 === bad).map(({ conversionId }) => conversionId);
  const reason = 'Own orders earn nothing, by the terms.';
  if (ids(true).length > 0) decideReviews(stores, manager, { ids: ids(true), way: 'reject', reason });
  if (ids(false).length > 0) decideReviews(stores, manager, { ids: ids(false), way: 'clear' });
}

/** The manager's routing, put in force on its day. */
function routeFrom(stores: Stores, manager: Actor, left: number): void {
  for (const { offer, daysAgo, reason, plan } of ROUTING) {
    const found = daysAgo === left ? stores.books.offers.byCode(manager.programId, offer) : undefined;
    if (found) savePlan(stores, manager, found.id, { plan, reason });
  }
  if (left !== 2) return;
  saveAddressList(stores, manager, undefined, {
    ...{ name: 'Hosting companies', effect: 'set_aside', on: false, text: HOSTING_RANGES },
  });
}

async function createPeople(stores: Stores, programId: number): Promise<[Actor, Actor]> {
  const actors: Actor[] = [];
  for (const { name, email, role, password } of PEOPLE) {
    const id = stores.books.users.insert({
      programId,
      name,
      email,
      role,
      partnerId: null,
      password: await hashPassword(password),
      now: stores.now(),
    });
    const user = stores.books.users.byId(id);
    if (user) actors.push(actorOf(user));
  }
  const [manager, finance] = actors;
  if (!manager || !finance) throw new Error('The people of the demo were not stored.');
  return [manager, finance];
}

/** Weekly rates that drift a little. One currency comes late, so that a commission has to wait for its rate. */
function storeRates(stores: Stores, finance: Actor, day: Day, i: number): void {
  const owner: Actor = { ...finance, role: 'owner' };
  const rate = (base: number, swing: number): string => (base + swing * Math.sin(i / 9)).toFixed(6);
  for (const [from, to, text] of [
    ['GBP', 'EUR', rate(1.164, 0.012)],
    ['EUR', 'GBP', rate(0.859, 0.009)],
    ['USD', 'EUR', rate(0.921, 0.011)],
    ['EUR', 'USD', rate(1.085, 0.012)],
  ])
    putExchangeRate(stores, owner, { from, to, day, rate: text });
}

/** What manager and finance do: validation on Mondays, a payout run on the 5th, a returned payment now and then. */
function decideOn(
  stores: Stores,
  manager: Actor,
  finance: Actor,
  of: Day,
  days: { passed: number; left: number },
): void {
  runCommissionTimetable(stores, manager.programId);
  const weekday = new Date(`${of}T12:00:00Z`).getUTCDay();
  if (weekday === 1 && days.left > 6) reviewOdd(stores, manager);
  const everything = { from: '2000-01-01' as Day, to: of, partnerId: null, channelId: null, offerId: null };
  const due = dueToApprove(stores, manager, everything).count;
  // The last days before 'now' are left for whoever opens the demo.
  if (weekday === 1 && days.left > 6 && due > 0) approveDue(stores, manager, everything);
  const dayOfMonth = Number(of.slice(8));
  // The first month has nothing to pay yet.
  if (dayOfMonth === 5 && days.passed > 30) {
    const run = draftRun(stores, finance, { cutOff: endOfMonth(addDays(startOfMonth(of), -1)) });
    approveRun(stores, manager, run.id);
    exportRun(stores, finance, run.id);
  }
  const run = stores.books.payouts.openRun(manager.programId);
  if (dayOfMonth === 7 && run?.state === 'exported') settleRun(stores, finance, run.id);
  if (dayOfMonth === 9) refuseByBank(stores, finance);
}

/** The bank of one partner sends every payment back. */
function refuseByBank(stores: Stores, finance: Actor): void {
  const run = stores.books.payouts.runs(finance.programId)[0];
  const partner = stores.books.partners.byCode(finance.programId, 'ONEKILN');
  const item = run && partner && stores.books.payouts.item(run.id, partner.id);
  if (item?.state === 'paid')
    returnPayment(stores, finance, item.runId, item.partnerId, {
      reason: 'Account closed, says the bank of the payee.',
    });
}
