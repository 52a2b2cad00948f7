import { readStatement, statementCsv } from '@/services/statements';
import { CSV, download } from '@/app/download';

export async function GET(
  _: Request,
  { params }: { params: Promise<{ run: string; partner: string }> },
): Promise<Response> {
  const { run, partner } = await params;
  return download((stores, actor) => {
    const statement = readStatement(stores, actor, Number(run), Number(partner));
    return {
      name: `statement-${statement.run.number}-${statement.partner.code}.csv`,
      type: CSV,
      content: statementCsv(statement),
    };
  });
}
