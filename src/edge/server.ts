import { type Server, type ServerResponse, createServer } from 'node:http';
import { RateLimiterMemory } from 'rate-limiter-flexible';
import type { AddressSet } from '@/core/clicks/addresses';
import { checkCall } from '@/services/call_reports';
import { checkPostback } from '@/services/postbacks';
import { customerHasher } from '@/services/secrets';
import type { Routes } from '@/store/books';
import type { TrafficReader } from '@/store/traffic';
import { CapBook } from './caps';
import { OPEN, hitOf, problem, readBody, send } from './answering';
import { type ClickSources, VISITOR_COOKIE, answerClick } from './click';
import { type Client, clientOf } from './client';
import { type Commits, GroupCommit } from './group_commit';
import { EdgeRequest } from './headers';
import { pageDoors } from './page_doors';
import { NOT_FOUND_PAGE, ROBOTS } from './pages';
import { IdSource } from './ids';
import { ListBook } from './list_book';
import { RouteBook } from './route_book';
import { senderOf } from './sender';
import { FloodWatch, LONGEST_WINDOW_MS, RecentVisitors, keptAddress } from './visitors';

export interface EdgeParts {
  readonly routes: Routes;
  readonly traffic: TrafficReader;
  /** Make what arrived durable. */
  readonly commits: Commits;
  /** Key for visitor hashes. */
  readonly key: Buffer;
  /** Keys for the merchants' signatures, and for hashes of customers. */
  readonly keys: { readonly signatures: Buffer; readonly customers: Buffer };
  now(): number;
  /** The page tag, minified. */
  readonly tag?: string;
  /** Where the visitor's browser really goes: the address itself, or in the demo the stand-in for its host. */
  readonly locationOf?: (address: string) => string;
  /** The page a landing was reported from: itself, or in the demo the made-up address of the stand-in's page. */
  readonly pageOf?: (address: string) => string;
  countryOf(address: string): string;
  /** Whose X-Forwarded-For is believed. */
  readonly proxies?: AddressSet;
  report(error: Error): void;
  /** Time-outs in place of the usual, in milliseconds. */
  readonly limits?: Partial<typeof LIMITS>;
}

/** Milliseconds. */
const LIMITS = {
  headersTimeout: 10_000,
  requestTimeout: 15_000,
  /** How often clients that are too slow are looked for and sent away. */
  connectionsCheckingInterval: 2000,
  /** A connection on which nobody says anything is closed. */
  silence: 60_000,
};
const COOKIE_SECONDS = 365 * 86_400;
/** Names and values in turn, which is what node:http writes fastest. A redirect has no body to sniff. */
const REDIRECT_HEADERS = ['Cache-Control', 'no-store', 'Content-Length', '0'];

/** The tracking host: redirects, postbacks and its own health; everything is on disk before it is answered. */
export function createEdge(parts: EdgeParts): { server: Server; drain(): Promise<void> } {
  const same = (address: string): string => address;
  const { traffic, key, now, locationOf = same } = parts;
  const { silence, ...limits } = { ...LIMITS, ...parts.limits };
  const book = new RouteBook(parts.routes);
  const ids = new IdSource();
  const lists = new ListBook(parts.routes.routing);
  lists.refresh(book.lists);
  const sources: ClickSources = {
    recent: recentVisitors(parts, now()),
    floods: new FloodWatch(),
    caps: new CapBook(traffic, parts.routes),
    ...{ lists, ids, key, countryOf: parts.countryOf },
  };
  const whose = (request: EdgeRequest): Client => clientOf(request, parts.proxies);
  const commits = new GroupCommit(parts.commits, () => new Date(now()).toISOString().slice(0, 10), parts.report);
  const wrongKeys = new RateLimiterMemory({ points: 30, duration: 60 });
  const pages = pageDoors({ parts, book, commits, sources, whose });
  let turn = false;

  const server = createServer(
    {
      ...{ IncomingMessage: EdgeRequest, maxHeaderSize: 16 * 1024, ...limits },
      // Between requests the limit for silence holds. A timer of its own would be set and cleared with each of them.
      keepAliveTimeout: 0,
    },
    (request, response) => {
      // The books are asked for changes once a turn of the event loop, not once a request.
      if (!turn) {
        turn = true;
        book.refresh();
        lists.refresh(book.lists);
        setImmediate(() => (turn = false));
      }
      const url = request.url ?? '/';
      const question = url.indexOf('?');
      const path = question < 0 ? url : url.slice(0, question);
      const query = question < 0 ? '' : url.slice(question + 1);
      const method = request.method ?? 'GET';
      if (path === '/postback' || path === '/call') return void takeReport(request, response, query, path);
      if (path === '/hit') return void pages.landing(request, response);
      if (path === '/conversion') return void pages.conversion(request, response);
      if (method !== 'GET' && method !== 'HEAD')
        return send(response, 405, 'text/plain', 'Only GET and HEAD are answered here.\n', { Allow: 'GET, HEAD' });
      if (path === '/healthz') return health(response);
      if (path === '/tag.js') return sendTag(response, parts.tag);
      if (path === '/pixel.gif') return pages.pixel(request, response, query);
      if (path === '/number') return pages.number(response, query);
      if (path === '/robots.txt') return send(response, 200, 'text/plain', ROBOTS);
      if (path === '/favicon.ico') return send(response, 204, 'text/plain', '');
      const link = book.link(path.slice(1));
      if (!link) {
        commits.countUnknownCode();
        return send(response, 404, 'text/html; charset=utf-8', NOT_FOUND_PAGE);
      }
      const client = whose(request);
      const answer = answerClick(hitOf(client, method, query), link, sources, now());
      const headers = ['Location', locationOf(answer.location), ...REDIRECT_HEADERS, ...link.headers];
      if (answer.newVisitor) headers.push('Set-Cookie', visitorCookie(answer.newVisitor, client.https));
      commits.click(answer.click, answer.through, (failure) => {
        if (failure) commits.health.lost += 1;
        response.writeHead(302, headers).end();
      });
    },
  );

  server.setTimeout(silence);

  /** A postback of the merchant, or a call that the exchange put through: on disk, then 202. */
  async function takeReport(
    request: EdgeRequest,
    response: ServerResponse,
    query: string,
    path: '/postback' | '/call',
  ): Promise<void> {
    const { method = 'GET' } = request;
    if (method !== 'GET' && method !== 'POST')
      return send(response, 405, 'text/plain', 'A report is sent by GET or POST.\n', { Allow: 'GET, POST' });
    const body = method === 'POST' ? await readBody(request) : '';
    if (body === undefined)
      return problem(response, 413, 'The postback is larger than 64 KiB.', [
        { field: 'body', reason: 'Send at most 64 KiB.' },
      ]);
    const contentType = request.headers['content-type'] ?? null;
    const client = whose(request).address;
    const raw = { query, body, contentType };
    const whoever = senderOf(request, raw, book, parts.keys.signatures, now());
    const program = whoever.program;
    if (!program) {
      const allowed = await wrongKeys.consume(client).then(
        () => true,
        () => false,
      );
      if (!allowed) return problem(response, 429, 'Too many postbacks with a wrong key. Wait a minute.', []);
      return problem(response, 401, 'The postback is not accepted as the merchant’s.', [whoever.problem]);
    }
    const hash = customerHasher(parts.keys.customers, program.id);
    const about = path === '/call' ? ('call' as const) : ('conversion' as const);
    const checked = about === 'call' ? checkCall(raw, hash) : checkPostback(raw, program.currency, hash);
    if (!checked.ok) return problem(response, 400, 'The report is malformed and was not taken.', checked.problems);
    const time = now();
    const receiptId = ids.ulid(time);
    const row = {
      receiptId,
      time,
      programId: program.id,
      method,
      contentType: checked.value.contentType,
      query: checked.value.query,
      body: checked.value.body,
      client: keptAddress(program.privacy, client, key),
      via: 'server' as const,
      about,
    };
    commits.postback(row, (failure) => {
      if (failure)
        return problem(response, 503, 'The postback could not be stored. Send it again.', [], {
          'Retry-After': '30',
        });
      send(
        response,
        202,
        'application/json',
        JSON.stringify({
          receipt: receiptId,
          received: new Date(time).toISOString(),
          ...(checked.value.warnings.length > 0 && { warnings: checked.value.warnings }),
        }),
      );
    });
  }

  function health(response: ServerResponse): void {
    const { writable, failure, lost } = commits.health;
    const body = { ok: writable, service: 'edge', writable, ...(failure && { failure }), lost, ...traffic.ends() };
    send(response, writable ? 200 : 503, 'application/json', JSON.stringify(body));
  }

  return { server, drain: () => commits.drain() };
}

/** An hour in caches: a new one is everywhere within the hour. */
function sendTag(response: ServerResponse, tag: string | undefined): void {
  if (tag === undefined) return send(response, 404, 'text/plain', 'The page tag was not built.\n');
  send(response, 200, 'text/javascript; charset=utf-8', tag, { ...OPEN, 'Cache-Control': 'public, max-age=3600' });
}

/** Who clicked in the last day, so that a restart makes nobody new. */
function recentVisitors({ traffic, routes }: EdgeParts, now: number): RecentVisitors {
  const recent = new RecentVisitors();
  const limited = new Map<number, boolean>();
  const limits = (offerId: number): boolean => {
    const known = limited.get(offerId) ?? (routes.routing.planOf(offerId)?.plan.visitorMost ?? 0) > 0;
    limited.set(offerId, known);
    return known;
  };
  const clicks: { visitor: string; offerId: number; time: number; via: string }[] = [];
  for (const click of traffic.newestClicks()) {
    if (now - click.time > LONGEST_WINDOW_MS) break;
    if (click.setAside === null) clicks.push(click);
  }
  for (const { visitor, offerId, time, via } of clicks.reverse()) {
    recent.note([visitor], offerId, time);
    if (via !== 'overflow' && limits(offerId)) recent.notePress([visitor], offerId, time);
  }
  return recent;
}

/** First-party on the tracking host; behind a proxy that ends TLS, for https only. */
const visitorCookie = (visitor: string, https: boolean): string =>
  `${VISITOR_COOKIE}=${visitor}; Path=/; Max-Age=${COOKIE_SECONDS}; HttpOnly; SameSite=Lax${https ? '; Secure' : ''}`;
