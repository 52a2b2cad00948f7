import { type Day, addDays } from '@/core/time/days';
import { composeLink } from '@/core/links/parts';
import { encodeValue } from '@/core/placeholders/encode';
import { IdSource } from '@/edge/ids';
import { CapBook } from '@/edge/caps';
import { type ClickSources, type Hit, answerClick } from '@/edge/click';
import { ListBook } from '@/edge/list_book';
import { RouteBook } from '@/edge/route_book';
import { FloodWatch, RecentVisitors } from '@/edge/visitors';
import { countryOf } from '@/services/countries';
import { customerHasher, deriveKey } from '@/services/secrets';
import type { ClickRow, PostbackRow } from '@/store/traffic';
import type { DemoStores } from './build';
import { type DemoNumbers, Exchange } from './calls';
import type { CastLink } from './cast';
import type { Chance } from './chance';
import { type Sale, Merchant } from './merchant';
import { AGENTS, BOT_AGENTS, FILLED, KEYWORDS, REFERRERS } from './scenario/audience';
import { PAGE_QUALITY } from './scenario/offers';

/** Placeholders as the demo's sources write them. */
const TOKEN = /\{\{\w+\}\}|\[[A-Z]+\]|%%[A-Z]+%%/g;
const CLICKS_A_DAY = 480;
/** Monday first: makers shop at weekends. */
const WEEK = [1.15, 0.9, 0.88, 0.9, 0.95, 1.02, 1.2];
const CAMPAIGN = { from: 0.78, to: 0.86, factor: 1.7 };
/** Share of clicks that convert for an offer, before link and keyword. */
const CONVERTS: Record<CastLink['offer'], number> = { KILNS: 0.011, GLAZE: 0.02, CLASSES: 0.026, PLANNER: 0.06 };

type Arrival = { time: number; click: ClickRow } | { time: number; postback: PostbackRow };

/** The people who click, and what the merchant's server reports of them. */
export class Visitors {
  private book: RouteBook;
  private readonly ids: IdSource;
  private readonly sources: ClickSources;
  private readonly merchant: Merchant;
  private readonly exchange: Exchange;
  private readonly known: string[] = [];

  constructor(
    private readonly stores: DemoStores,
    private readonly cast: readonly CastLink[],
    private readonly chance: Chance,
    postbackKey: string,
    numbers: DemoNumbers,
  ) {
    this.book = new RouteBook(stores.books);
    this.ids = new IdSource((block) => chance.fill(block));
    this.sources = {
      ...{ recent: new RecentVisitors(), floods: new FloodWatch(), ids: this.ids, countryOf },
      caps: new CapBook(stores.traffic, stores.books),
      lists: new ListBook(stores.books.routing),
      key: deriveKey('the visitors of the demonstration', 'visitors'),
    };
    const hash = customerHasher(deriveKey(stores.secret, 'customers'), 1);
    const newId = (time: number): string => this.ids.ulid(time);
    this.exchange = new Exchange(chance, numbers, newId, hash);
    this.merchant = new Merchant(chance, postbackKey, newId, hash, this.exchange);
  }

  /** Brings one day into the traffic. @returns the times of its postbacks, in order */
  liveThrough(day: Day, start: number, end: number, progress: number): number[] {
    // What was changed through the same connection moves no version: a new book every day reads it.
    this.book = new RouteBook(this.stores.books);
    this.sources.lists.refresh(this.book.lists);
    const arrivals: Arrival[] = this.clicks(day, start, end, progress).map((click) => ({ time: click.time, click }));
    this.exchange.directoryCalls(start);
    for (const postback of [...this.merchant.reports(start, end), ...this.exchange.reports(end)])
      arrivals.push({ time: postback.time, postback });
    arrivals.sort((a, b) => a.time - b.time);
    this.stores.traffic.commitTogether(() => {
      for (const arrival of arrivals)
        if ('click' in arrival) this.stores.traffic.insertClick(arrival.click);
        else this.stores.traffic.insertPostback(arrival.postback);
      for (const lease of this.exchange.leases()) this.stores.traffic.insertLease(lease);
    });
    return arrivals.flatMap((arrival) => ('postback' in arrival ? [arrival.time] : []));
  }

  private clicks(day: Day, start: number, end: number, progress: number): ClickRow[] {
    const weekday = new Date(`${addDays(day, 0)}T12:00:00Z`).getUTCDay();
    const growth = 0.72 + 0.5 * progress;
    const peak = progress >= CAMPAIGN.from && progress <= CAMPAIGN.to ? CAMPAIGN.factor : 1;
    const count = Math.round(
      CLICKS_A_DAY * growth * peak * (WEEK[(weekday + 6) % 7] ?? 1) * (0.94 + 0.12 * this.chance.next()),
    );
    const times = Array.from({ length: count }, () => this.timeOfDay(start)).sort((a, b) => a - b);
    const clicks = times.filter((time) => time < end).map((time) => this.click(time));
    if (this.chance.happens(0.35)) this.merchant.spoken(Math.floor(start + (10 + this.chance.next() * 12) * 3_600_000));
    if (this.chance.happens(0.05)) clicks.push(...this.burst(start + 11 * 3_600_000));
    return clicks.filter((click) => click.time < end);
  }

  /** Two humps, noon and evening. */
  private timeOfDay(start: number): number {
    const hump = this.chance.happens(0.4) ? 12.5 : 20;
    const hour = hump + (this.chance.next() + this.chance.next() + this.chance.next() - 1.5) * 5.5;
    return Math.floor(start + ((hour + 24) % 24) * 3_600_000);
  }

  private click(time: number): ClickRow {
    const { chance } = this;
    const link = chance.weighted(this.cast);
    const bot = chance.happens(0.014);
    const again = !bot && this.known.length > 50 && chance.happens(0.16);
    const keyword = chance.weighted(KEYWORDS);
    const hit: Hit = {
      method: chance.happens(0.003) ? 'HEAD' : 'GET',
      query: this.query(link, keyword.word),
      cookie: again ? `bv=${chance.pick(this.known.slice(-3000))}` : undefined,
      agent: bot ? chance.pick(BOT_AGENTS) : chance.pick(AGENTS),
      referrer: chance.happens(0.6) ? chance.pick(REFERRERS) : undefined,
      language: chance.pick(['nl-NL,nl;q=0.9', 'en-GB,en;q=0.8', 'de-DE,de;q=0.9', 'fr-FR']),
      purpose: chance.happens(0.004) ? 'prefetch' : '',
      client: `${chance.pick(['192.0.2', '198.51.100', '203.0.113'])}.${chance.below(254) + 1}`,
      proxied: false,
    };
    const click = this.answer(hit, link, time);
    const liking = (link.search ? keyword.quality : 1) * (PAGE_QUALITY[click.page ?? ''] ?? 1);
    if (click.setAside === null) this.maybeBuys(click, link, liking);
    return click;
  }

  private answer(hit: Hit, { code }: CastLink, time: number): ClickRow {
    const known = this.book.link(code);
    if (!known) throw new Error(`The demo's link ${code} is not in the books.`);
    const { click, newVisitor } = answerClick(hit, known, this.sources, time);
    if (newVisitor && click.setAside === null) this.known.push(newVisitor);
    return click;
  }

  private query(link: CastLink, keyword: string): string {
    const query = composeLink(link.parts).split('?')[1] ?? '';
    if (link.unfilled && this.chance.happens(0.5)) return query;
    return query.replace(TOKEN, (token) => encodeValue(this.fill(token, keyword)));
  }

  /** What the source puts where its placeholder stood. */
  private fill(token: string, keyword: string): string {
    if (token === '{{keyword}}') return keyword;
    const texts = FILLED[token];
    return texts ? this.chance.pick(texts) : `q${this.chance.below(1e9).toString(36)}`;
  }

  private maybeBuys(click: ClickRow, link: CastLink, quality: number): void {
    if (!this.chance.happens(CONVERTS[link.offer] * link.quality * quality)) return;
    const sale: Sale = { clickId: click.clickId, clickTime: click.time, offer: link.offer, partner: link.partner };
    this.merchant.sells(sale);
  }

  /** Somebody's script that presses one link again and again, and passes for a browser. */
  private burst(at: number): ClickRow[] {
    const link = this.chance.pick(this.cast);
    const hit = {
      method: 'GET',
      query: '',
      cookie: undefined,
      agent: this.chance.pick(AGENTS),
      referrer: undefined,
      language: undefined,
      purpose: '',
      client: '203.0.113.66',
      proxied: false,
    };
    return Array.from({ length: 60 }, (_, i) => this.answer(hit, link, at + i * 700));
  }
}
