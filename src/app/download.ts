import { Refusal } from '@/services/refusal';
import type { Actor } from '@/services/actor';
import type { Stores } from '@/services/stores';
import { requireActor, stores } from './server';

interface File {
  name: string;
  type: string;
  content: string | Uint8Array<ArrayBuffer>;
}

/** A file for the person who is signed in; what they may not have is answered as such. */
export async function download(make: (stores: Stores, actor: Actor) => File | Promise<File>): Promise<Response> {
  const actor = await requireActor();
  try {
    const { name, type, content } = await make(stores(), actor);
    return new Response(content, {
      headers: {
        'Content-Type': type,
        'Content-Disposition': `attachment; filename="${name}"`,
        'Cache-Control': 'private, no-store',
        'X-Content-Type-Options': 'nosniff',
      },
    });
  } catch (error) {
    if (!(error instanceof Refusal)) throw error;
    const status = { invalid: 400, unauthenticated: 401, forbidden: 403, not_found: 404, conflict: 409, too_many: 429 }[
      error.kind
    ];
    return new Response(error.message, { status, headers: { 'Content-Type': 'text/plain; charset=utf-8' } });
  }
}
