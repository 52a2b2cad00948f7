import { wholeNumber } from '@/services/scope';
import { exportSource } from '@/services/sources';
import { download } from '../../../../../download';

/** A preset as a file that another installation can read. */
export async function GET(request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> {
  const id = wholeNumber((await params).id) ?? 0;
  return download((stores, actor) => {
    const file = exportSource(stores, actor, id);
    const schema = new URL('/schemas/source-preset', request.url).pathname;
    return {
      name: `${file.name.toLowerCase().replace(/[^a-z0-9]+/g, '-')}.source.json`,
      type: 'application/json; charset=utf-8',
      content: `${JSON.stringify({ $schema: schema, ...file }, null, 2)}\n`,
    };
  });
}
