import { randomBytes } from 'node:crypto';
import { readFileSync, rmSync, writeFileSync } from 'node:fs';
import type { RateSheet } from '@/core/commissions/sheet';
import type { OfferFields } from '@/core/offers/schema';
import { CapBook } from '@/edge/caps';
import { type ClickSources, type Hit, answerClick } from '@/edge/click';
import { IdSource } from '@/edge/ids';
import { ListBook } from '@/edge/list_book';
import { RouteBook } from '@/edge/route_book';
import { FloodWatch, RecentVisitors } from '@/edge/visitors';
import type { Actor } from '@/services/actor';
import type { Filter } from '@/core/reports/columns';
import type { Day } from '@/core/time/calendar';
import type { ClickShelf } from '@/services/click_blocks';
import { listClicks } from '@/services/clicks';
import { createChannel } from '@/services/channels';
import { type IssuedLink, issueLink } from '@/services/links';
import { createOffer } from '@/services/offers';
import { createPartner, markDetailsChecked, putPayoutDetails, setPartnerState } from '@/services/partners';
import { createProgram } from '@/services/programs';
import { actorOf } from '@/services/sign_in';
import { reviewConversions } from '@/services/reviews';
import type { Stores } from '@/services/stores';
import { storeFile } from '@/services/stores';
import { putSheetInForce } from '@/services/terms';
import { openBooks } from '@/store/books';
import type { Role } from '@/store/books/users';
import { openRollupsForWriting } from '@/store/rollups';
import { type PostbackRow, openTrafficForWriting } from '@/store/traffic';
import { type Place, testFolder } from './folder';
import { postPostbacks } from '@/worker/post';
import { rollClicks, rollConversions } from '@/worker/roll';

export const NOON = Date.parse('2026-11-24T11:00:00Z');
const AGENT = 'Mozilla/5.0 (X11; Linux x86_64; rv:143.0) Gecko/20100101 Firefox/143.0';
export const OFFER: OfferFields = {
  code: 'GLAZE',
  name: 'Glaze box',
  state: 'live',
  startsOn: '',
  endsOn: '',
  landingPages: [{ name: 'Glaze box', address: 'https://larkmoor.example/glaze' }],
  landingHosts: ['larkmoor.example'],
  appended: 'bclid={click_id}',
  clickWindowDays: 30,
  hold: { kind: 'days', days: 14, from: 'event' },
  autoApprove: false,
  fallback: '',
  hideReferrer: false,
  couponFirst: false,
  creditedClick: 'last',
  events: [
    { event: 'order', repeat: 'replace', payable: true },
    { event: 'renewal', repeat: 'add', payable: true },
    { event: 'sign-up', repeat: 'count', payable: true },
    { event: 'lead', repeat: 'ignore', payable: false },
  ],
};
const TEN_PERCENT: RateSheet['rows'] = [
  { id: 'all', label: 'Everything', when: {}, pay: { kind: 'percent', rate: 100_000 } },
];

const OPEN = { books: openBooks, traffic: openTrafficForWriting, rollups: openRollupsForWriting };
const STORES = ['books', 'traffic', 'rollups'] as const;
const blank = new Map<(typeof STORES)[number], Buffer>();

/** A folder with copies of empty databases: their schema is made once for the tests of a file. */
function newFolder(place: Place): string {
  const folder = testFolder('world', place);
  for (const store of STORES) {
    const file = storeFile(store, folder);
    const bytes = blank.get(store);
    if (bytes) writeFileSync(file, bytes);
    else {
      OPEN[store](file).db.close();
      blank.set(store, readFileSync(file));
    }
  }
  return folder;
}

/** A program with real files in a folder of its own; its clock is moved by hand. */
export class World {
  readonly folder = newFolder(this.place());
  clock = NOON;
  readonly traffic = openTrafficForWriting(storeFile('traffic', this.folder));
  readonly rollups = openRollupsForWriting(storeFile('rollups', this.folder));
  readonly stores: Stores = {
    books: openBooks(storeFile('books', this.folder)),
    traffic: this.traffic,
    rollups: this.rollups,
    secret: 'a secret of the tests, long enough to be one',
    now: () => this.clock,
    randomBytes,
  };
  readonly programId: number;
  readonly key: string;
  readonly owner: Actor;
  readonly finance: Actor;
  readonly link: IssuedLink;
  private readonly sources: ClickSources = {
    ...{ recent: new RecentVisitors(), floods: new FloodWatch(), ids: new IdSource(), key: Buffer.alloc(32) },
    caps: new CapBook(this.traffic, this.stores.books),
    lists: new ListBook(this.stores.books.routing),
    countryOf: (address) => (address.startsWith('198.51.100.') ? 'BE' : 'NL'),
  };

  private readonly changes = this.stores.books.db.prepare<[], number>('SELECT total_changes()').pluck();
  private book: RouteBook | undefined;
  private bookedAt: number | undefined;

  protected place(): Place {
    return 'memory';
  }

  constructor({ offer = OFFER, rows = TEN_PERCENT }: { offer?: OfferFields; rows?: RateSheet['rows'] } = {}) {
    const program = createProgram(
      this.stores,
      {
        name: 'Larkmoor Kilns',
        timeZone: 'Europe/Amsterdam',
        country: 'NL',
        trackingOrigin: 'https://go.larkmoor.example',
        fallback: 'https://larkmoor.example/',
        minimumPayout: '50.00',
        payoutDay: 5,
        privacy: 'cut',
      },
      'EUR',
    );
    this.programId = program.id;
    this.key = program.postbackKey;
    this.owner = this.person('owner');
    this.finance = this.person('finance');
    putSheetInForce(this.stores, this.owner, rows, 0);
    const { id } = createOffer(this.stores, this.owner, offer);
    this.link = this.newLink('SLOWWHEEL', id);
  }

  person(role: Role, partnerId: number | null = null): Actor {
    const { users } = this.stores.books;
    const name = `${role}${users.ofProgram(this.programId).length}`;
    const id = users.insert({
      programId: this.programId,
      email: `${name}@larkmoor.example`,
      name,
      role,
      partnerId,
      password: '',
      now: this.clock,
    });
    const user = users.byId(id);
    if (!user) throw new Error('The user was not stored.');
    return actorOf(user);
  }

  /** A link of a new active partner whose payout details are checked. */
  newLink(code: string, offerId = this.link.offerId, payoutCurrency = 'EUR'): IssuedLink {
    const { stores, owner } = this;
    const fields = { code, name: code, kind: 'business', email: 'pay@wheel.example', country: 'NL', payoutCurrency };
    const partner = createPartner(stores, owner, fields);
    setPartnerState(stores, owner, partner.id, 'active');
    putPayoutDetails(stores, owner, partner.id, { holder: code, account: 'NL55KLEI0300073119' });
    markDetailsChecked(stores, owner, partner.id);
    const channel = createChannel(stores, owner, partner.id, { code: 'MAIN', name: 'Main', kind: 'website' });
    return issueLink(stores, owner, { partnerId: partner.id, channelId: channel.id, offerId });
  }

  /** A click as the edge records it. @returns its click ID */
  click(link: IssuedLink = this.link, hit: Partial<Hit> = {}): string {
    // Through one connection no version moves: the book is made anew when anything was written.
    const changes = this.changes.get();
    if (!this.book || changes !== this.bookedAt) this.book = new RouteBook(this.stores.books);
    this.bookedAt = changes;
    const known = this.book.link(link.code);
    this.sources.lists.refresh(this.book.lists);
    if (!known) throw new Error('The link is not in the books.');
    const full: Hit = {
      method: 'GET',
      query: '',
      cookie: undefined,
      agent: AGENT,
      referrer: undefined,
      language: undefined,
      purpose: '',
      client: '192.0.2.7',
      proxied: false,
      ...hit,
    };
    const { click } = answerClick(full, known, this.sources, this.clock);
    this.traffic.insertClick(click);
    return click.clickId;
  }

  /** A postback as the edge stores it, posted by the worker unless told to wait. @returns its receipt ID */
  report(
    fields: Record<string, string>,
    post = true,
    via: PostbackRow['via'] = 'server',
    about: PostbackRow['about'] = 'conversion',
  ): string {
    const receiptId = this.sources.ids.ulid(this.clock);
    const query = new URLSearchParams({ ...fields, key: this.key }).toString();
    this.traffic.insertPostback({
      receiptId,
      time: this.clock,
      programId: this.programId,
      method: 'GET',
      contentType: null,
      query,
      body: '',
      client: null,
      via,
      about,
    });
    if (post) this.work();
    return receiptId;
  }

  work(): void {
    while (postPostbacks(this.stores) > 0);
    while (rollClicks(this.traffic, this.stores.books, this.rollups) > 0);
    while (rollConversions(this.stores, this.rollups) > 0);
    while (reviewConversions(this.stores) > 0);
  }

  /** The newest clicks of the log, whatever their shelf. */
  log(filters: readonly Filter[] = [], shelf: ClickShelf = 'all') {
    const scope = {
      from: '2000-01-01' as Day,
      to: '2999-12-31' as Day,
      partnerId: null,
      channelId: null,
      offerId: null,
    };
    return listClicks(this.stores, this.owner, scope, { shelf, filters }, { limit: 500, offset: 0 }).rows;
  }

  outcome(receiptId: string) {
    return this.stores.books.conversions.outcome(receiptId);
  }

  balance(
    account: 'partner_pending' | 'partner_approved' | 'partner_in_payout',
    partnerId = this.link.partnerId,
  ): number {
    return this.stores.books.ledger.balance(partnerId, account);
  }

  pass(days: number): void {
    this.clock += days * 86_400_000;
  }

  [Symbol.dispose](): void {
    for (const { db } of [this.stores.books, this.traffic, this.rollups]) db.close();
    rmSync(this.folder, { recursive: true, force: true });
  }
}

/** A world whose commits wait for a disk. */
export class WorldOnDisk extends World {
  protected override place(): Place {
    return 'disk';
  }
}
