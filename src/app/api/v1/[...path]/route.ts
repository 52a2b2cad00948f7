import { RateLimiterMemory } from 'rate-limiter-flexible';
import Joi from 'joi';
import { check } from '@/core/schema/problems';
import type { Actor } from '@/services/actor';
import { booksAreFree } from '@/services/jobs';
import { Refusal } from '@/services/refusal';
import { tokenActor } from '@/services/sign_in';
import { programOf } from '@/services/stores';
import { stores } from '@/app/server';
import { OPERATIONS, type Operation } from '../operations';
import { problem, problemOf } from '../problem';

export const dynamic = 'force-dynamic';

const MAX_BODY = 12 * 1024 * 1024;
const wrongTokens = new RateLimiterMemory({ points: 30, duration: 60 });

/** What may stand for a part of the path that an operation leaves open. */
const fits = (part: string, given: string): boolean =>
  part === '{id}' ? /^[1-9]\d{0,14}$/.test(given) : part.startsWith('{') || part === given;

/** The parts of the path that an operation leaves open, or undefined when it is not meant. */
function match(operation: Operation, path: readonly string[]): string[] | undefined {
  const pattern = operation.path.slice(1).split('/');
  if (pattern.length !== path.length || !path.every((given, i) => fits(pattern[i] ?? '', given))) return undefined;
  return path.filter((_, i) => pattern[i]?.startsWith('{'));
}

async function actorOf(request: Request): Promise<Actor | Response> {
  const token = /^Bearer (\S+)$/i.exec(request.headers.get('authorization') ?? '')?.[1];
  const actor = token === undefined ? undefined : tokenActor(stores(), token);
  if (actor) return actor;
  const client = request.headers.get('x-forwarded-for') ?? 'unknown';
  const allowed = await wrongTokens.consume(client).then(
    () => true,
    () => false,
  );
  return allowed
    ? problem(401, 'Send a token as "Authorization: Bearer …". Tokens are made under Setup.')
    : problem(429, 'Too many calls without a valid token. Wait a minute.');
}

async function readBody(request: Request): Promise<{ body: unknown } | Response> {
  const text = await request.text();
  if (text.length > MAX_BODY) return problem(400, 'The body is larger than 12 MiB.');
  try {
    return { body: text === '' ? {} : JSON.parse(text) };
  } catch {
    return problem(400, 'The body is not valid JSON.');
  }
}

async function answer(request: Request, { params }: { params: Promise<{ path: string[] }> }): Promise<Response> {
  const { path } = await params;
  const fitting = OPERATIONS.flatMap((operation) => {
    const open = match(operation, path);
    return open ? [{ operation, open }] : [];
  });
  if (fitting.length === 0)
    return problem(404, `There is nothing at /api/v1/${path.join('/')}. See /api/v1/openapi.json.`);
  const found = fitting.find(({ operation }) => operation.method === request.method);
  if (!found) return problem(405, `Use ${fitting.map(({ operation }) => operation.method).join(' or ')} here.`);
  // Before anything else: that a token was used is written too.
  await booksAreFree();
  const actor = await actorOf(request);
  if (actor instanceof Response) return actor;
  const { operation, open } = found;
  const params_ = Object.fromEntries(new URL(request.url).searchParams);
  const query = check<Record<string, unknown>>(operation.query ?? Joi.object({}), params_);
  if (!query.ok) return problem(422, 'A query parameter is not valid.', query.problems);
  const read = request.method === 'GET' ? { body: undefined } : await readBody(request);
  if (read instanceof Response) return read;
  try {
    const schema = operation.body?.(programOf(stores(), actor.programId).currency);
    const body = schema ? check<unknown>(schema, read.body) : undefined;
    if (body && !body.ok) return problem(422, 'The body is not valid.', body.problems);
    const result = await operation.run({
      stores: stores(),
      actor,
      ids: open.map(Number),
      text: open[0] ?? '',
      query: query.value,
      params: params_,
      body: read.body,
    });
    return Response.json(result, { status: operation.created ? 201 : 200, headers: { 'Cache-Control': 'no-store' } });
  } catch (error) {
    if (error instanceof Refusal) return problemOf(error);
    throw error;
  }
}

export { answer as GET, answer as POST, answer as PUT, answer as DELETE, answer as PATCH };
