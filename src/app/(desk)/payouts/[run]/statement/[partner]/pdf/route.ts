import { statementPdf } from '@/services/statement_pdf';
import { readStatement } from '@/services/statements';
import { download } from '@/app/download';

export async function GET(
  _: Request,
  { params }: { params: Promise<{ run: string; partner: string }> },
): Promise<Response> {
  const { run, partner } = await params;
  return download(async (stores, actor) => {
    const statement = readStatement(stores, actor, Number(run), Number(partner));
    const content = new Uint8Array(await statementPdf(statement));
    return {
      name: `statement-${statement.run.number}-${statement.partner.code}.pdf`,
      type: 'application/pdf',
      content,
    };
  });
}
