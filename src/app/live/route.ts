import { liveMark } from '@/services/line';
import { currentActor, stores } from '../server';

export const dynamic = 'force-dynamic';

/** A mark that changes when anything on screen may have changed. */
export async function GET(): Promise<Response> {
  if (!(await currentActor())) return new Response('', { status: 401 });
  return new Response(liveMark(stores()), { headers: { 'Cache-Control': 'no-store' } });
}
