import { signedText, signedTimeProblem } from '@/core/conversions/signature';
import type { Problem } from '@/core/schema/problems';
import type { Instant } from '@/core/time/days';
import type { RawPostback } from '@/services/postbacks';
import { hmac, sameText, signingSecret } from '@/services/secrets';
import type { ProgramRow } from '@/store/books/programs';
import type { EdgeRequest } from './headers';
import type { RouteBook } from './route_book';

/** Whose postback it is, or why it is nobody's. */
type Sender = { readonly program: ProgramRow } | { readonly program?: undefined; readonly problem: Problem };

/**
 * Whose postback it is: by its key, or by a signature made with the program's secret.
 * @param signatures the installation's key, from which the programs' secrets follow
 */
export function senderOf(
  request: EdgeRequest,
  { query, body, contentType }: RawPostback,
  book: Pick<RouteBook, 'program' | 'programByKey'>,
  signatures: Buffer,
  now: Instant,
): Sender {
  const named = new URLSearchParams(query);
  const form = contentType?.includes('json') ? new URLSearchParams() : new URLSearchParams(body);
  const value = (name: string): string | undefined => named.get(name) ?? form.get(name) ?? undefined;
  const sig = value('sig');
  if (sig === undefined) {
    const program = book.programByKey(postbackKey(request, query, body, contentType) ?? '');
    const reason = 'The key is missing, wrong or was renewed. It stands under Setup, Postback.';
    return program ? { program } : { problem: { field: 'key', reason } };
  }
  const program = /^\d{1,9}$/.test(value('program') ?? '') ? book.program(Number(value('program'))) : null;
  if (!program)
    return {
      problem: { field: 'program', reason: 'A signed postback needs program, the number under Setup, Postback.' },
    };
  const late = signedTimeProblem(value('ts'), now);
  if (late) return { problem: { field: 'ts', reason: late } };
  const secret = signingSecret(signatures, program.id, program.signingVersion);
  if (sameText(sig.toLowerCase(), hmac(secret, signedText(query, body, contentType)))) return { program };
  const reason = 'The signature does not fit what was sent: HMAC-SHA256 over the sorted parameters, in hexadecimal.';
  return { problem: { field: 'sig', reason } };
}

/** The key may stand in the query, in a form body or in a JSON body, or come as a bearer token. */
function postbackKey(
  { headers }: EdgeRequest,
  query: string,
  body: string,
  contentType: string | null,
): string | undefined {
  const bearer = /^Bearer (.+)$/i.exec(headers.authorization ?? '')?.[1];
  if (bearer) return bearer;
  const named = new URLSearchParams(query).get('key');
  if (named !== null || body === '') return named ?? undefined;
  if (!contentType?.includes('json')) return new URLSearchParams(body).get('key') ?? undefined;
  return /"key"\s*:\s*"([\w-]+)"/.exec(body)?.[1];
}
