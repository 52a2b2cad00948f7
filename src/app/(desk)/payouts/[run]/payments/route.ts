import { paymentFile } from '@/services/statements';
import { CSV, download } from '@/app/download';

export async function GET(_: Request, { params }: { params: Promise<{ run: string }> }): Promise<Response> {
  const { run } = await params;
  return download((stores, actor) => ({
    name: `payments-run-${run}.csv`,
    type: CSV,
    content: paymentFile(stores, actor, Number(run)),
  }));
}
