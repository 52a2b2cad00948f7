import { EXPORTS, exportCsv } from '@/services/exports';
import { readScope } from '@/services/scope';
import { currentActor, stores } from '../../server';

const SHELVES: Record<string, readonly string[]> = {
  links: ['all'],
  partners: ['all'],
  channels: ['all'],
  clicks: ['counted', 'set_aside'],
  conversions: ['all', 'unmatched'],
  commissions: ['all', 'due', 'waiting', 'needs_rate', 'approved', 'in_payout', 'paid', 'rejected', 'reversed'],
};

/** What is in view, whole, as a file. */
export async function GET(request: Request, { params }: { params: Promise<{ what: string }> }): Promise<Response> {
  const actor = await currentActor();
  if (!actor) return new Response('Sign in first.', { status: 401 });
  const { what } = await params;
  const name = EXPORTS.find((each) => each === what);
  if (!name) return new Response('There is no such export.', { status: 404 });
  const query = Object.fromEntries(new URL(request.url).searchParams);
  const scope = readScope(stores(), actor, query);
  const shelf = SHELVES[name]?.find((each) => each === query.shelf) ?? SHELVES[name]?.[0] ?? 'all';
  const chunks = exportCsv(stores(), actor, name, scope, shelf);
  const encoder = new TextEncoder();
  const body = new ReadableStream({
    pull(controller) {
      const { value, done } = chunks.next();
      if (done) controller.close();
      else controller.enqueue(encoder.encode(value));
    },
  });
  return new Response(body, {
    headers: {
      'Content-Type': 'text/csv; charset=utf-8',
      'Content-Disposition': `attachment; filename="${name}-${scope.from}-to-${scope.to}.csv"`,
      'Cache-Control': 'private, no-store',
    },
  });
}
