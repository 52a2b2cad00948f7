import Joi from 'joi';
import { oneOf } from '@/core/schema/fields';
import { check } from '@/core/schema/problems';
import { beginJob, runningJobs } from '@/services/jobs';
import { JOB_KINDS, type JobKind } from '@/services/jobs/job';
import { Refusal } from '@/services/refusal';
import { fromOurs } from '../same_origin';
import { currentActor, stores } from '../server';

const MOST_BYTES = 32 * 1024 * 1024;
const orderSchema = Joi.object<{ kind: JobKind; write: boolean; input: unknown }>({
  kind: oneOf('Kind', ...JOB_KINDS).required(),
  write: Joi.boolean().required(),
  input: Joi.object().unknown().required(),
});

const refuse = (status: number, reason: string): Response => Response.json({ reason }, { status });

/** What this person has running, the newest first. */
export async function GET(): Promise<Response> {
  const actor = await currentActor();
  if (!actor) return refuse(401, 'Sign in first.');
  return Response.json({ jobs: runningJobs(actor) }, { headers: { 'Cache-Control': 'no-store' } });
}

/** Begins work on many lines; its progress is asked for at /jobs/ID. */
export async function POST(request: Request): Promise<Response> {
  const actor = await currentActor();
  if (!actor) return refuse(401, 'Sign in first.');
  if (!fromOurs(request)) return refuse(403, 'This was not sent from Brivet.');
  if (Number(request.headers.get('content-length') ?? 0) > MOST_BYTES)
    return refuse(413, 'The file is larger than 30 MB. Split it.');
  const text = await request.text();
  if (text.length > MOST_BYTES) return refuse(413, 'The file is larger than 30 MB. Split it.');
  try {
    const order = check(orderSchema, JSON.parse(text));
    if (!order.ok)
      return Response.json({ reason: order.problems[0]?.reason, problems: order.problems }, { status: 422 });
    const { kind, input, write } = order.value;
    return Response.json(beginJob(stores(), actor, kind, input, write), { status: 201 });
  } catch (error) {
    if (error instanceof SyntaxError) return refuse(400, 'The order is not JSON.');
    if (error instanceof Refusal) return refuse(409, error.message);
    throw error;
  }
}
