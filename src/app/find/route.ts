import { search } from '@/services/search';
import { currentActor, stores } from '../server';

export async function GET(request: Request): Promise<Response> {
  const actor = await currentActor();
  if (!actor) return Response.json([], { status: 401 });
  return Response.json(search(stores(), actor, new URL(request.url).searchParams.get('q') ?? ''));
}
