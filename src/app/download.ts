import { booksAreFree } from '@/services/jobs';
import { Refusal } from '@/services/refusal';
import type { Actor } from '@/services/actor';
import type { Stores } from '@/services/stores';
import { STATUS } from './api/v1/problem';
import { requireActor, stores } from './server';

type Chunks = Generator<string, void> | AsyncGenerator<string, void>;
interface File {
  name: string;
  type: string;
  content: string | Uint8Array<ArrayBuffer> | Chunks;
}
export const CSV = 'text/csv; charset=utf-8';

/** A file for the person who is signed in; what they may not have is answered as such. */
export const download = async (make: (stores: Stores, actor: Actor) => File | Promise<File>): Promise<Response> =>
  fileFor(await requireActor(), make);

export async function fileFor(
  actor: Actor,
  make: (stores: Stores, actor: Actor) => File | Promise<File>,
): Promise<Response> {
  try {
    // What is handed out may be noted in the books.
    await booksAreFree();
    const { name, type, content } = await make(stores(), actor);
    return new Response(typeof content === 'string' || content instanceof Uint8Array ? content : await body(content), {
      headers: {
        'Content-Type': type,
        'Content-Disposition': `attachment; filename="${name}"`,
        'Cache-Control': 'private, no-store',
        'X-Content-Type-Options': 'nosniff',
      },
    });
  } catch (error) {
    if (!(error instanceof Refusal)) throw error;
    return new Response(`${error.message}\n`, {
      status: STATUS[error.kind],
      headers: { 'Content-Type': 'text/plain; charset=utf-8' },
    });
  }
}

/**
 * Piece by piece as it is taken; what is no longer wanted is no longer read. The first piece is made before the answer
 * begins: who may not see it is told so, instead of a file that breaks off.
 */
async function body(chunks: Chunks): Promise<ReadableStream> {
  const encoder = new TextEncoder();
  let next = await chunks.next();
  return new ReadableStream({
    async pull(controller) {
      if (next.done) return controller.close();
      controller.enqueue(encoder.encode(next.value));
      next = await chunks.next();
    },
    async cancel() {
      await chunks.return();
    },
  });
}
