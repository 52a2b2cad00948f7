import { type Route, compileRoute, isLive } from '@/core/routing/route';
import type { ProgramRow } from '@/store/books/programs';
import type { Routes } from '@/store/books';
import type { RouteRow } from '@/store/books/links';
import { sha256 } from '@/services/secrets';

export interface KnownLink {
  readonly row: RouteRow;
  readonly route: Route;
  readonly live: boolean;
  readonly codes: Readonly<Record<string, string>>;
}

/** What the edge knows of links and keys: read on demand, kept until somebody commits to the books. */
export class RouteBook {
  private readonly links = new Map<string, KnownLink | null>();
  private readonly programs = new Map<string, ProgramRow | null>();
  private version: number;

  constructor(private readonly books: Routes) {
    this.version = books.version();
  }

  /** Called once a turn, before its requests are looked at. */
  refresh(): void {
    const version = this.books.version();
    if (version === this.version) return;
    this.version = version;
    this.links.clear();
    this.programs.clear();
  }

  link(code: string): KnownLink | null {
    const known = this.links.get(code);
    if (known !== undefined) return known;
    const row = this.books.links.route(code);
    const link = row ? knownLink(code, row) : null;
    // Unknown codes come from outside in any number: they are looked up each time rather than kept.
    if (link) this.links.set(code, link);
    return link;
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

function knownLink(code: string, row: RouteRow): KnownLink {
  const settings = {
    linkLive: row.linkState === 'live',
    partnerLive: row.partnerState === 'active',
    offerLive: row.offerState === 'live',
    landingPage: row.landingPage,
    landingHosts: JSON.parse(row.landingHosts) as string[],
    appended: row.appended,
    fallback: new URL(row.offerFallback || row.programFallback).href,
  };
  return {
    row,
    route: compileRoute(settings),
    live: isLive(settings),
    codes: { link_code: code, partner_code: row.partnerCode, channel_code: row.channelCode, offer_code: row.offerCode },
  };
}
