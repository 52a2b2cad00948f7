import { paymentFile } from '@/services/statements';
import { download } from '@/app/download';

export async function GET(_: Request, { params }: { params: Promise<{ run: string }> }): Promise<Response> {
  const { run } = await params;
  return download((stores, actor) => ({
    name: `payments-run-${run}.csv`,
    type: 'text/csv; charset=utf-8',
    content: paymentFile(stores, actor, Number(run)),
  }));
}
