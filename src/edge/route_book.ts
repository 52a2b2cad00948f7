import { isLinkCode } from '@/core/links/code';
import { type ReadNames, readNames } from '@/core/links/parts';
import { type Route, compileRoute } from '@/core/routing/route';
import { routeSettings } from '@/services/routes';
import type { ProgramRow } from '@/store/books/programs';
import type { Routes } from '@/store/books';
import type { RouteRow } from '@/store/books/links';
import type { PlanVersion } from '@/store/books/routing';
import { sha256 } from '@/services/secrets';

/** The form of an alias, so that other paths are not looked up. */
const ALIAS = /^[A-Za-z0-9][A-Za-z0-9-]{1,38}[A-Za-z0-9]$/;

export interface KnownLink {
  readonly row: RouteRow;
  readonly route: Route;
  /** What the link's source calls its values, where it has names of its own. */
  readonly names: ReadNames | undefined;
  readonly codes: Readonly<Record<string, string>>;
  /** A landing address is filled with them, so they must be known before the visitor is sent on. */
  readonly asksCountry: boolean;
  readonly asksDevice: boolean;
  /** Names and values of headers that never change for this link. */
  readonly headers: readonly string[];
}

/** What the edge knows of links and keys: read on demand, kept until somebody commits to the books. */
export class RouteBook {
  private readonly links = new Map<string, KnownLink | null>();
  /** By the hash of the key, and by ID. */
  private readonly programs = new Map<string, ProgramRow | null>();
  private seen: number;
  /** Moves whenever something the edge keeps may have changed. */
  version = 0;
  private marks: { routes: number; lists: number };

  constructor(private readonly books: Routes) {
    this.seen = books.version();
    this.marks = books.routing.marks();
  }

  /** Which version the lists of addresses have. */
  get lists(): number {
    return this.marks.lists;
  }

  /** Called once a turn, before its requests are looked at. */
  refresh(): void {
    const version = this.books.version();
    if (version === this.seen) return;
    this.seen = version;
    // Most commits are conversions and money: they change no route.
    const marks = this.books.routing.marks();
    const moved = marks.routes !== this.marks.routes;
    this.marks = marks;
    if (!moved) return;
    this.version += 1;
    this.links.clear();
    this.programs.clear();
  }

  /** @param code the code of a link, or an alias */
  link(code: string): KnownLink | null {
    const known = this.links.get(code);
    if (known !== undefined) return known;
    const { links } = this.books;
    const row = isLinkCode(code)
      ? links.route(code)
      : ALIAS.test(code)
        ? links.routeByAlias(code.toLowerCase())
        : undefined;
    const link = row ? knownLink(row, this.books.routing.planOf(row.offerId)) : null;
    // Unknown codes come from outside in any number: they are looked up each time rather than kept.
    if (link) this.links.set(code, link);
    return link;
  }

  program(id: number): ProgramRow | null {
    const known = this.programs.get(`${id}`);
    if (known !== undefined) return known;
    const program = this.books.programs.byId(id) ?? null;
    if (program) this.programs.set(`${id}`, program);
    return program;
  }

  programByKey(key: string): ProgramRow | null {
    const hash = sha256(key);
    const known = this.programs.get(hash);
    if (known !== undefined) return known;
    const program = this.books.programs.byPostbackKeyHash(hash) ?? null;
    if (program) this.programs.set(hash, program);
    return program;
  }
}

function knownLink(row: RouteRow, plan: PlanVersion | undefined): KnownLink {
  const settings = routeSettings(row, plan);
  const texts = [settings.appended, ...row.landingPages.map(({ address }) => address)];
  const asks = (name: string): boolean => texts.some((text) => new RegExp(`\\{[^}]*\\b${name}\\b`).test(text));
  return {
    row,
    route: compileRoute(settings),
    asksCountry: asks('country'),
    asksDevice: asks('device'),
    headers: row.hideReferrer === 1 ? ['Referrer-Policy', 'no-referrer'] : [],
    names: readNames(row.parts.names),
    codes: {
      link_code: row.code,
      partner_code: row.partnerCode,
      channel_code: row.channelCode,
      offer_code: row.offerCode,
    },
  };
}
