import { stores } from '../server';

export const dynamic = 'force-dynamic';

export function GET(): Response {
  const programs = stores().books.programs.all().length;
  return Response.json({ ok: true, service: 'web', programs });
}
