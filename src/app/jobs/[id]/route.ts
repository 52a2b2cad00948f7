import type { Actor } from '@/services/actor';
import { cancelJob, jobLines, readJob } from '@/services/jobs';
import { Refusal } from '@/services/refusal';
import { wholeNumber } from '@/services/scope';
import { fromOurs } from '../../same_origin';
import { currentActor } from '../../server';

const SHOWN = 100;
type Context = { params: Promise<{ id: string }> };

async function answer(context: Context, work: (actor: Actor, id: string) => unknown): Promise<Response> {
  const actor = await currentActor();
  if (!actor) return Response.json({ reason: 'Sign in first.' }, { status: 401 });
  try {
    return Response.json(work(actor, (await context.params).id), { headers: { 'Cache-Control': 'no-store' } });
  } catch (error) {
    if (error instanceof Refusal) return Response.json({ reason: error.message }, { status: 404 });
    throw error;
  }
}

/** How far a job is, with a page of its lines once it is done. */
export function GET(request: Request, context: Context): Promise<Response> {
  const query = new URL(request.url).searchParams;
  const offset = ((wholeNumber(query.get('page') ?? undefined) ?? 1) - 1) * SHOWN;
  const outcome = query.get('outcome') ?? undefined;
  return answer(context, (actor, id) => ({
    ...readJob(actor, id),
    lines: jobLines(actor, id, { limit: SHOWN, offset, ...(outcome && { outcome }) }),
  }));
}

/** Asks it to stop. */
export function DELETE(request: Request, context: Context): Promise<Response> {
  if (!fromOurs(request)) return Promise.resolve(Response.json({ reason: 'Not sent from Brivet.' }, { status: 403 }));
  return answer(context, cancelJob);
}
