import { exportMail } from '@/services/mail_copy';
import { wholeNumber } from '@/services/scope';
import { CSV, download } from '../../../../../download';

/** Every partner's copy, for a mail program. */
export async function GET(_: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> {
  const id = wholeNumber((await params).id) ?? 0;
  return download((stores, actor) => ({ ...exportMail(stores, actor, id), type: CSV }));
}
