import Papa from 'papaparse';
import { money } from '@/core/money/money';
import { amountText } from '@/core/money/text';
import type { StatementLine } from '@/store/books/ledger';
import type { PartnerRow } from '@/store/books/partners';
import type { ItemRow, RunRow } from '@/store/books/payouts';
import type { ProgramRow } from '@/store/books/programs';
import { type Actor, audit, requireOwn, requireRight } from './actor';
import { readPartner, revealPayoutDetails } from './partners';
import { exportRun, listItems, readItem } from './payouts';
import { Refusal, conflict } from './refusal';
import { type Stores, programOf } from './stores';

/** What a partner is paid in a run, line by line; the lines sum to the amount. */
export interface Statement {
  program: ProgramRow;
  partner: PartnerRow;
  run: RunRow;
  item: ItemRow;
  lines: StatementLine[];
}

export function readStatement(stores: Stores, actor: Actor, runId: number, partnerId: number): Statement {
  const item = readItem(stores, actor, runId, partnerId);
  const run = requireOwn(stores, { ...actor, partnerId: null }, stores.books.payouts.run(runId), `payout run ${runId}`);
  if (item.state === 'out' || item.state === 'abandoned')
    throw new Refusal('not_found', `${item.partnerName} was not paid in run ${run.number}, so there is no statement.`);
  return {
    program: programOf(stores, actor.programId),
    partner: readPartner(stores, actor, partnerId),
    run,
    item,
    lines: stores.books.ledger.statementLines(partnerId, item.fromEntry, run.uptoEntry),
  };
}

/** Text that a spreadsheet would take for a formula gets an apostrophe in front. */
export const defused = (text: string): string => (/^[=+\-@\t\r]/.test(text) ? `'${text}` : text);

export const LINE_WORDS: Record<string, string> = {
  approved: 'Commission',
  reversed: 'Taken back',
  adjusted: 'Adjusted',
  returned: 'Payment returned',
  correction: 'Correction',
  fee: 'Fee of a chargeback',
};

export function statementCsv({ item, lines, run, partner }: Statement): string {
  const rows = lines.map((line) => ({
    statement: `${run.number}-${partner.code}`,
    what: LINE_WORDS[line.kind] ?? line.kind,
    day: line.day ?? '',
    offer: defused(line.offerName ?? ''),
    channel: defused(line.channelName ?? ''),
    event: line.event ?? '',
    order: defused(line.orderRef ?? ''),
    conversion: line.conversionId ?? '',
    amount: amountText(money(line.amount, item.currency)),
    currency: item.currency,
    reason: defused(line.reason),
  }));
  return `${Papa.unparse(rows, { newline: '\r\n' })}\r\n`;
}

/** The payment file of a run as CSV with full account numbers. Taking it marks the run as exported. */
export function paymentFile(stores: Stores, actor: Actor, runId: number): string {
  requireRight(stores, actor, 'draft_payouts', `payout run ${runId}`);
  requireRight(stores, actor, 'manage_payout_details', `payout run ${runId}`);
  const run = requireOwn(stores, actor, stores.books.payouts.run(runId), `payout run ${runId}`);
  if (run.state === 'drafted' || run.state === 'abandoned')
    throw conflict(`Run ${run.number} is ${run.state}; a payment file exists once it is approved.`);
  const rows = listItems(stores, actor, runId)
    .filter(({ state }) => state !== 'out' && state !== 'abandoned')
    .map((item) => {
      const { holder, account } = revealPayoutDetails(stores, actor, item.partnerId);
      const amount = amountText(money(item.payoutAmount ?? 0, item.payoutCurrency));
      return {
        reference: `${run.number}-${item.partnerCode}`,
        holder: defused(holder),
        account,
        amount,
        currency: item.payoutCurrency,
      };
    });
  exportRun(stores, actor, runId);
  audit(stores, actor, 'took', `payment file of run ${runId}`, `${rows.length} payments`);
  return `${Papa.unparse(rows, { newline: '\r\n' })}\r\n`;
}
