import { jobCsv } from '@/services/jobs';
import { CSV, download } from '../../../download';

/** All lines of a job with what became of them. */
export async function GET(_: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> {
  const { id } = await params;
  return download((_stores, actor) => ({ ...jobCsv(actor, id), type: CSV }));
}
