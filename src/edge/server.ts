import { type IncomingMessage, type Server, type ServerResponse, createServer } from 'node:http';
import { RateLimiterMemory } from 'rate-limiter-flexible';
import type { AddressSet } from '@/core/clicks/addresses';
import { isLinkCode } from '@/core/links/code';
import { type LandingReport, landingReportSchema } from '@/core/clicks/hit';
import { isUlid } from '@/core/clicks/ulid';
import { pageFields, readPageReport } from '@/core/conversions/page_report';
import { cleaned } from '@/core/conversions/personal';
import { type Checked, check } from '@/core/schema/problems';
import { checkPostback } from '@/services/postbacks';
import { customerHasher } from '@/services/secrets';
import type { Routes } from '@/store/books';
import type { TrafficReader } from '@/store/traffic';
import { CapBook } from './caps';
import { type ClickSources, type Hit, VISITOR_COOKIE, answerClick, landingClick } from './click';
import { type Client, clientOf } from './client';
import { type Commits, GroupCommit } from './group_commit';
import { NOT_FOUND_PAGE, PIXEL, ROBOTS } from './pages';
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
  readonly limits?: { readonly headersTimeout?: number; readonly connectionsCheckingInterval?: number };
}

const MAX_BODY = 64 * 1024;
const COOKIE_SECONDS = 365 * 86_400;
/** The form of an alias, so that other paths are not looked up. */
const ALIAS = /^[A-Za-z0-9][A-Za-z0-9-]{1,38}[A-Za-z0-9]$/;
/** Landings are reported from the merchant's pages, another origin. */
const OPEN = { 'Access-Control-Allow-Origin': '*', 'Cross-Origin-Resource-Policy': 'cross-origin' };
const PLAIN_HEADERS = {
  'Cache-Control': 'no-store',
  'X-Content-Type-Options': 'nosniff',
  'Referrer-Policy': 'no-referrer-when-downgrade',
};

/** Names and values in turn, which is what node:http writes fastest. A redirect has no body to sniff. */
const REDIRECT_HEADERS = ['Cache-Control', 'no-store', 'Content-Length', '0'];

/** The tracking host: redirects, postbacks and its own health; everything is on disk before it is answered. */
export function createEdge(parts: EdgeParts): { server: Server; drain(): Promise<void> } {
  const same = (address: string): string => address;
  const { traffic, key, now, locationOf = same, pageOf = same } = parts;
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
  const whose = (request: IncomingMessage): Client => clientOf(request, parts.proxies);
  const commits = new GroupCommit(parts.commits, () => new Date(now()).toISOString().slice(0, 10), parts.report);
  const wrongKeys = new RateLimiterMemory({ points: 30, duration: 60 });
  let turn = false;

  const server = createServer(
    {
      ...{ maxHeaderSize: 16 * 1024, requestTimeout: 15_000, headersTimeout: 10_000, keepAliveTimeout: 60_000 },
      // How often clients that are too slow are looked for and sent away.
      connectionsCheckingInterval: 2000,
      ...parts.limits,
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
      if (path === '/postback') return void takePostback(request, response, query);
      if (path === '/hit') return void takeLanding(request, response);
      if (path === '/conversion') return void takePageReport(request, response);
      if (method !== 'GET' && method !== 'HEAD')
        return send(response, 405, 'text/plain', 'Only GET and HEAD are answered here.\n', { Allow: 'GET, HEAD' });
      if (path === '/healthz') return health(response);
      if (path === '/tag.js') return sendTag(response, parts.tag);
      if (path === '/pixel.gif') return takePixel(request, response, query);
      if (path === '/robots.txt') return send(response, 200, 'text/plain', ROBOTS);
      if (path === '/favicon.ico') return send(response, 204, 'text/plain', '');
      const code = path.slice(1);
      const link = isLinkCode(code) || ALIAS.test(code) ? book.link(code) : null;
      if (!link) {
        commits.countUnknownCode();
        return send(response, 404, 'text/html; charset=utf-8', NOT_FOUND_PAGE);
      }
      const client = whose(request);
      const answer = answerClick(hitOf(request, client, method, query), link, sources, now());
      const headers = ['Location', locationOf(answer.location), ...REDIRECT_HEADERS, ...link.headers];
      if (answer.newVisitor) headers.push('Set-Cookie', visitorCookie(answer.newVisitor, client.https));
      commits.click(answer.click, answer.through, (failure) => {
        if (failure) commits.health.lost += 1;
        response.writeHead(302, headers).end();
      });
    },
  );

  async function takePostback(request: IncomingMessage, response: ServerResponse, query: string): Promise<void> {
    const { method = 'GET' } = request;
    if (method !== 'GET' && method !== 'POST')
      return send(response, 405, 'text/plain', 'A postback is sent by GET or POST.\n', { Allow: 'GET, POST' });
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
    const checked = checkPostback(raw, program.currency, customerHasher(parts.keys.customers, program.id));
    if (!checked.ok) return problem(response, 400, 'The postback is malformed and was not taken.', checked.problems);
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

  /** A landing reported by the page tag: on disk, then 204. What is malformed gets a reason, for whoever looks. */
  async function takeLanding(request: IncomingMessage, response: ServerResponse): Promise<void> {
    if (request.method !== 'POST')
      return send(response, 405, 'text/plain', 'The page tag reports by POST.\n', { Allow: 'POST' });
    const body = readObject((await readBody(request)) ?? '');
    const report = body.ok ? check(landingReportSchema, body.value) : body;
    if (!report.ok) return problem(response, 400, 'The report is malformed.', report.problems, OPEN);
    recordLanding(report.value, hitOf(request, whose(request), 'GET', ''), (failure) =>
      response.writeHead(failure ? 503 : 204, { ...PLAIN_HEADERS, ...OPEN }).end(),
    );
  }

  /**
   * A conversion reported by a page, through the tag or the pixel. It has no key: the click it names says whose it is,
   * and the offer whether its pages are listened to. On disk, then settled.
   */
  function recordPageReport(
    said: Record<string, unknown>,
    request: IncomingMessage,
    via: 'tag' | 'pixel',
    settled: (failure?: Error) => void,
  ): Checked<unknown> {
    const clickId = typeof said.click_id === 'string' ? said.click_id : '';
    const click = isUlid(clickId) ? traffic.click(clickId) : undefined;
    const program = click && book.program(click.programId);
    if (!program) return { ok: false, problems: [{ field: 'click_id', reason: 'No such click was recorded here.' }] };
    const { fields } = cleaned(pageFields(said), customerHasher(parts.keys.customers, program.id));
    const report = readPageReport(fields, program.currency);
    if (!report.ok) return report;
    const time = now();
    commits.postback(
      {
        ...{ receiptId: ids.ulid(time), time, programId: program.id, method: request.method ?? 'GET', query: '', via },
        ...{ contentType: 'application/json', body: JSON.stringify(fields) },
        client: keptAddress(program.privacy, whose(request).address, key),
      },
      settled,
    );
    return report;
  }

  async function takePageReport(request: IncomingMessage, response: ServerResponse): Promise<void> {
    if (request.method !== 'POST')
      return send(response, 405, 'text/plain', 'The page tag reports by POST.\n', { Allow: 'POST' });
    const body = readObject((await readBody(request)) ?? '');
    const report = body.ok
      ? recordPageReport(body.value, request, 'tag', (failure) =>
          response.writeHead(failure ? 503 : 204, { ...PLAIN_HEADERS, ...OPEN }).end(),
        )
      : body;
    if (!report.ok) problem(response, 400, 'The report is malformed.', report.problems, OPEN);
  }

  /** For pages without script: an image whose address carries ref, the page and its values. */
  function takePixel(request: IncomingMessage, response: ServerResponse, query: string): void {
    const told = new URLSearchParams(query);
    const image = (): void =>
      void response
        .writeHead(200, { ...PLAIN_HEADERS, 'Content-Type': 'image/gif', 'Content-Length': String(PIXEL.length) })
        .end(PIXEL);
    // With an event it reports a conversion of the click it names.
    if (told.has('event')) {
      if (!recordPageReport(Object.fromEntries(told), request, 'pixel', image).ok) image();
      return;
    }
    const report = check(landingReportSchema, {
      id: ids.ulid(now()),
      ref: told.get('ref') ?? '',
      page: told.get('page') ?? request.headers.referer ?? '',
    });
    if (report.ok) recordLanding(report.value, hitOf(request, whose(request), request.method ?? 'GET', ''), image);
    else image();
  }

  /** A reference that does not exist is counted like a code that does not. */
  function recordLanding(report: LandingReport, hit: Hit, settled: (failure?: Error) => void): void {
    const link = book.link(report.ref);
    if (!link) {
      commits.countUnknownCode();
      return settled();
    }
    const click = landingClick({ ...report, page: pageOf(report.page) }, hit, link, sources, now());
    commits.landing(click, settled);
  }

  function health(response: ServerResponse): void {
    const { writable, failure, lost } = commits.health;
    const body = { ok: writable, service: 'edge', writable, ...(failure && { failure }), lost, ...traffic.ends() };
    send(response, writable ? 200 : 503, 'application/json', JSON.stringify(body));
  }

  return { server, drain: () => commits.drain() };
}

function readObject(body: string): Checked<Record<string, unknown>> {
  try {
    const value: unknown = JSON.parse(body);
    if (typeof value === 'object' && value !== null && !Array.isArray(value)) return { ok: true, value: { ...value } };
  } catch {
    // Said below, as of any other body that is no object.
  }
  return { ok: false, problems: [{ field: 'body', reason: 'The body is not a JSON object.' }] };
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

const single = (value: string | string[] | undefined): string =>
  Array.isArray(value) ? value.join(' ') : (value ?? '');

function hitOf({ headers }: IncomingMessage, { address, proxied }: Client, method: string, query: string): Hit {
  return {
    method,
    query,
    cookie: headers.cookie,
    agent: headers['user-agent'] ?? '',
    referrer: headers.referer,
    language: headers['accept-language'],
    purpose: `${single(headers['sec-purpose'])}${single(headers.purpose)}${single(headers['x-moz'])}`,
    client: address,
    proxied,
  };
}

/** First-party on the tracking host; behind a proxy that ends TLS, for https only. */
const visitorCookie = (visitor: string, https: boolean): string =>
  `${VISITOR_COOKIE}=${visitor}; Path=/; Max-Age=${COOKIE_SECONDS}; HttpOnly; SameSite=Lax${https ? '; Secure' : ''}`;

/** @returns undefined when the body is too large */
function readBody(request: IncomingMessage): Promise<string | undefined> {
  return new Promise((resolve) => {
    const chunks: Buffer[] = [];
    let size = 0;
    request.on('data', (chunk: Buffer) => {
      size += chunk.length;
      if (size <= MAX_BODY) chunks.push(chunk);
    });
    request.on('end', () => resolve(size > MAX_BODY ? undefined : Buffer.concat(chunks).toString('utf8')));
    request.on('error', () => resolve(''));
  });
}

function send(
  response: ServerResponse,
  status: number,
  type: string,
  body: string,
  headers: Record<string, string> = {},
): void {
  response
    .writeHead(status, {
      ...PLAIN_HEADERS,
      ...headers,
      'Content-Type': type,
      'Content-Length': String(Buffer.byteLength(body)),
    })
    .end(body);
}

function problem(
  response: ServerResponse,
  status: number,
  title: string,
  errors: readonly { field: string; reason: string }[],
  headers: Record<string, string> = {},
): void {
  send(response, status, 'application/problem+json', JSON.stringify({ title, status, errors }), headers);
}
