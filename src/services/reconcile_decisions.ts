import Joi from 'joi';
import { MASKED } from '@/core/conversions/personal';
import { readPostback } from '@/core/conversions/postback';
import { type Finding, whyNotTaken } from '@/core/conversions/reconcile';
import { oneOf, reasonWhere } from '@/core/schema/fields';
import { check } from '@/core/schema/problems';
import type { ReconciliationLine } from '@/store/books/reconciliations';
import { type Actor, audit } from './actor';
import { decide, takeBack } from './earning';
import { takeReport } from './posting';
import { checked } from './programs';
import { readReconciliation } from './reconciling';
import { MOST_FILE_LINES, fileReceipt } from './recording';
import { invalidField } from './refusal';
import { settle } from './settling';
import { type Stores, programOf } from './stores';

/** What can be decided on each finding, with the word that is kept. */
export const DECISIONS = {
  take_theirs: { for: 'differs', word: 'taken as the report says' },
  keep_ours: { for: 'differs', word: 'kept as recorded' },
  record: { for: 'only_there', word: 'recorded' },
  leave: { for: 'only_there', word: 'left out' },
  reject: { for: 'only_here', word: 'taken back' },
  keep: { for: 'only_here', word: 'kept' },
} as const satisfies Record<string, { for: Finding; word: string }>;
export type DecisionName = keyof typeof DECISIONS;

interface LineDecision {
  /** Lines; none means all of the finding that are undecided. */
  ids: number[];
  decision: DecisionName;
  reason: string;
}
export const lineDecisionSchema: Joi.ObjectSchema<LineDecision> = Joi.object<LineDecision>({
  ids: Joi.array().items(Joi.number().integer().min(1)).max(MOST_FILE_LINES).default([]).label('Lines'),
  decision: oneOf('Decision', ...(Object.keys(DECISIONS) as DecisionName[])).required(),
  reason: reasonWhere('decision', ['reject']),
});

/** How many lines were decided on, and which could not be, with the reason. */
export interface Decided {
  readonly count: number;
  readonly left: { readonly what: string; readonly reason: string }[];
}

/** Decides on lines of a report in one go. A line that cannot be decided so is left as it is and named. */
export function decideLines(stores: Stores, actor: Actor, reconciliationId: number, input: unknown): Decided {
  const { source } = readReconciliation(stores, actor, reconciliationId);
  const { ids, decision, reason } = checked(check(lineDecisionSchema, input));
  const { books } = stores;
  return books.inTransaction(() => {
    const { for: finding, word } = DECISIONS[decision];
    const chosen = ids.length > 0 ? ids : books.reconciliations.undecided(reconciliationId, finding);
    const left: { what: string; reason: string }[] = [];
    let count = 0;
    for (const lineId of chosen) {
      const row = books.reconciliations.line(lineId);
      if (row?.reconciliationId !== reconciliationId)
        throw invalidField('ids', `Line ${lineId} is not of this report.`);
      const what = `${row.fields.event ?? ''} ${row.fields.order ?? row.fields.click_id ?? ''}`.trim();
      const refused =
        row.finding !== finding
          ? 'This decision is for lines of another kind.'
          : row.decision !== null
            ? `It was decided on already: ${row.decision}.`
            : carryOut(stores, actor, row, decision, { source, reason });
      if (typeof refused === 'string') left.push({ what, reason: refused });
      else {
        const note = reason === '' ? word : `${word}: ${reason}`;
        books.reconciliations.decide(lineId, note, actor.name, stores.now(), refused ?? null);
        count += 1;
      }
    }
    audit(stores, actor, 'decided on', `${count} lines of ${source}`, `${word}${reason === '' ? '' : `: ${reason}`}`);
    return { count, left };
  });
}

/** @returns why it cannot be, the conversion that came of it, or nothing */
function carryOut(
  stores: Stores,
  actor: Actor,
  row: ReconciliationLine,
  decision: DecisionName,
  { source, reason }: { source: string; reason: string },
): string | number | undefined {
  if (decision === 'take_theirs') return takeTheirs(stores, actor, row, source);
  if (decision === 'record') return recordLine(stores, actor, row);
  if (decision === 'reject') return lose(stores, actor, row, `${source} has no such line. ${reason}`.trim());
  return undefined;
}

/** Says here what the report says, as one more report of the conversion. */
function takeTheirs(stores: Stores, actor: Actor, row: ReconciliationLine, source: string): string | undefined {
  const { conversions } = stores.books;
  const known = row.conversionId === null ? undefined : conversions.plain(row.conversionId);
  const program = programOf(stores, actor.programId);
  const read = readPostback({ ...row.fields, event: row.fields.event ?? known?.event ?? '' }, program.currency);
  if (!known || !read.ok) return 'The conversion or the line cannot be read any more.';
  const no = row.differences.map(whyNotTaken).find((why) => why !== undefined);
  if (no) return no;
  if (row.differences.some(({ field }) => field === 'currency')) return 'A report does not change the currency.';
  const differs = (field: string): boolean => row.differences.some((each) => each.field === field);
  const { figures: theirs, status, completed } = read.value;
  const now = stores.now();
  const time = Math.max(now, ...conversions.reports(known.id).map((report) => report.time + 1));
  const base = { time, by: 'file' as const, facts: {}, custom: {} };
  const nothing = { ...known.figures, amount: 0, tax: 0, shipping: 0, discount: 0, items: [] };
  const money = row.differences.filter(({ field }) => field in theirs && field !== 'currency');
  if (money.length > 0) {
    const changed = Object.fromEntries(money.map(({ field }) => [field, theirs[field as 'amount']]));
    // Items that no longer add up to the amount would be rated in its place.
    const figures = { ...known.figures, ...changed, items: [] };
    conversions.addReport(known.id, { ...base, receiptId: fileReceipt(stores, now), policy: 'replace', figures });
  }
  if (differs('status') && (status === 'rejected' || status === 'reversed'))
    conversions.addReport(known.id, {
      ...{ ...base, receiptId: fileReceipt(stores, now, 1), policy: 'ignore', figures: nothing, status },
    });
  if (differs('completed') && completed)
    conversions.addReport(known.id, {
      ...{
        ...base,
        receiptId: fileReceipt(stores, now, 2),
        policy: 'ignore',
        figures: nothing,
        status: 'approved',
        completed,
      },
    });
  settle(stores, known.id, actor.name, `as the report of ${source} says`);
  return undefined;
}

/** Books a line that nothing is recorded for. */
function recordLine(stores: Stores, actor: Actor, row: ReconciliationLine): string | number | undefined {
  const program = programOf(stores, actor.programId);
  const { commission: _, ...fields } = row.fields;
  if (Object.values(fields).includes(MASKED)) return 'A part of the line was not kept.';
  const time = stores.now();
  const told = { receiptId: fileReceipt(stores, time), time, by: 'file' as const };
  const { outcome, detail, conversionId } = takeReport(stores, program, told, { ok: true, value: fields });
  if (outcome === 'recorded' || outcome === 'unmatched' || outcome === 'changed') return conversionId;
  return detail ?? `It would be ${outcome}.`;
}

/** What is recorded here is nobody's sale by the report: what it earned is rejected, or taken back. */
function lose(stores: Stores, actor: Actor, row: ReconciliationLine, why: string): string | undefined {
  const { commissions, conversions } = stores.books;
  const commission = row.conversionId === null ? undefined : commissions.byConversion(row.conversionId);
  if (row.conversionId === null) return 'There is no conversion any more.';
  if (!commission) {
    conversions.setState(row.conversionId, 'rejected');
    conversions.addHistory(row.conversionId, { time: stores.now(), actor: actor.name, what: 'rejected', detail: why });
    return undefined;
  }
  if (commission.state === 'rejected' || commission.state === 'reversed') return `It is ${commission.state} already.`;
  if (commission.state === 'pending' || commission.state === 'needs_rate')
    decide(stores, commission, 'rejected', actor.name, why);
  else takeBack(stores, commission, undefined, actor.name, why);
  return undefined;
}
