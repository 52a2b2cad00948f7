import type { ServerResponse } from 'node:http';
import { type LandingReport, landingReportSchema } from '@/core/clicks/hit';
import { isUlid } from '@/core/clicks/ulid';
import { pageFields, readPageReport } from '@/core/conversions/page_report';
import { cleaned } from '@/core/conversions/personal';
import { type Checked, check } from '@/core/schema/problems';
import { customerHasher } from '@/services/secrets';
import { OPEN, PLAIN_HEADERS, hitOf, problem, readBody, readObject, send } from './answering';
import { type ClickSources, type Hit, landingClick } from './click';
import type { Client } from './client';
import type { GroupCommit } from './group_commit';
import type { EdgeRequest } from './headers';
import { NumberBook } from './numbers';
import { PIXEL } from './pages';
import type { RouteBook } from './route_book';
import type { EdgeParts } from './server';
import { keptAddress } from './visitors';

interface Doors {
  landing(request: EdgeRequest, response: ServerResponse): Promise<void>;
  conversion(request: EdgeRequest, response: ServerResponse): Promise<void>;
  pixel(request: EdgeRequest, response: ServerResponse, query: string): void;
  number(response: ServerResponse, query: string): void;
}
interface Inside {
  readonly parts: EdgeParts;
  readonly book: RouteBook;
  readonly commits: GroupCommit;
  readonly sources: ClickSources;
  whose(request: EdgeRequest): Client;
}

/** What the merchant's pages say, through the tag or the pixel, and the telephone numbers they are given to show. */
export function pageDoors({ parts, book, commits, sources, whose }: Inside): Doors {
  const { traffic, key, now, pageOf = (address: string) => address } = parts;
  const { ids } = sources;
  const numbers = new NumberBook(traffic, parts.routes.calls, now());

  /** A landing reported by the page tag: on disk, then 204. What is malformed gets a reason, for whoever looks. */
  async function landing(request: EdgeRequest, response: ServerResponse): Promise<void> {
    if (request.method !== 'POST')
      return send(response, 405, 'text/plain', 'The page tag reports by POST.\n', { Allow: 'POST' });
    const body = readObject((await readBody(request)) ?? '');
    const report = body.ok ? check(landingReportSchema, body.value) : body;
    if (!report.ok) return problem(response, 400, 'The report is malformed.', report.problems, OPEN);
    const settled = (failure?: Error): void =>
      void response.writeHead(failure ? 503 : 204, { ...PLAIN_HEADERS, ...OPEN }).end();
    const { ref } = report.value;
    if (ref !== undefined) recordLanding({ ...report.value, ref }, hitOf(whose(request), 'GET', ''), settled);
    else if (!recordVisit(report.value, settled))
      problem(
        response,
        400,
        'The report is malformed.',
        [{ field: 'id', reason: 'No such click was recorded here.' }],
        OPEN,
      );
  }

  /**
   * A conversion reported by a page, through the tag or the pixel. It has no key: the click it names says whose it is,
   * and the offer whether its pages are listened to. On disk, then settled.
   */
  function recordPageReport(
    said: Record<string, unknown>,
    request: EdgeRequest,
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
        about: 'conversion',
        ...{ contentType: 'application/json', body: JSON.stringify(fields) },
        client: keptAddress(program.privacy, whose(request).address, key),
      },
      settled,
    );
    return report;
  }

  async function conversion(request: EdgeRequest, response: ServerResponse): Promise<void> {
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
  function pixel(request: EdgeRequest, response: ServerResponse, query: string): void {
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
    if (report.ok)
      recordLanding(
        { ...report.value, ref: report.value.ref ?? '' },
        hitOf(whose(request), request.method ?? 'GET', ''),
        image,
      );
    else image();
  }

  /** A reference that does not exist is counted like a code that does not. */
  function recordLanding(report: LandingReport & { ref: string }, hit: Hit, settled: (failure?: Error) => void): void {
    const link = book.link(report.ref);
    if (!link) {
      commits.countUnknownCode();
      return settled();
    }
    const click = landingClick({ ...report, page: pageOf(report.page) }, hit, link, sources, now());
    if (report.visitor !== undefined) commits.visit({ visitor: report.visitor, clickId: report.id, time: now() });
    commits.landing(click, settled);
  }

  /** The tag saw who came with a click of a redirect. @returns false where there is no such click */
  function recordVisit({ id, visitor }: LandingReport, settled: (failure?: Error) => void): boolean {
    if (visitor === undefined || !traffic.clickToMatch(id)) return false;
    commits.visit({ visitor, clickId: id, time: now() }, settled);
    return true;
  }

  /** A number that only this visit is shown, or its channel's own; none where the offer takes no calls. */
  function number(response: ServerResponse, query: string): void {
    const clickId = new URLSearchParams(query).get('click') ?? '';
    const click = isUlid(clickId) ? traffic.click(clickId) : undefined;
    if (!click || click.setAside !== null)
      return problem(response, 404, 'No such click.', [{ field: 'click', reason: 'It was not recorded here.' }], OPEN);
    const { number: shown, lease } = numbers.forClick(click, now(), book.version);
    const answer = (): void => send(response, 200, 'application/json', JSON.stringify({ number: shown ?? null }), OPEN);
    if (!lease) return answer();
    commits.lease(lease, (failure) =>
      failure ? problem(response, 503, 'The number could not be kept for the visit.', [], OPEN) : answer(),
    );
  }

  return { landing, conversion, pixel, number };
}
