import Joi from 'joi';
import { cleaned } from '@/core/conversions/personal';
import { type FileReading, fileReadingSchema, fileRows, lineFields } from '@/core/conversions/file';
import { type Postback, readPostback } from '@/core/conversions/postback';
import { type Finding, type TheirLine, differencesOf } from '@/core/conversions/reconcile';
import { amountText, parseAmount } from '@/core/money/text';
import { money } from '@/core/money/money';
import { dayField, id, line } from '@/core/schema/fields';
import { check } from '@/core/schema/problems';
import { isoTime, zonedIso } from '@/core/time/days';
import type { ConversionListRow } from '@/store/books/conversions';
import type { ProgramRow } from '@/store/books/programs';
import type { ReconciliationLine, ReconciliationListRow } from '@/store/books/reconciliations';
import type { Page, Paging } from '@/store/database';
import { type Actor, audit, requireOwn, requireRight } from './actor';
import type { JobLine, JobWork } from './jobs/job';
import { checked } from './programs';
import { invalid, invalidField } from './refusal';
import { MOST_FILE_LINES, fileHasher } from './recording';
import { type Stores, programOf } from './stores';

/** A report of a merchant or a network, how it is read, and which conversions here it should hold. */
interface ReportOrder {
  readonly text: string;
  readonly source: string;
  readonly reading: FileReading;
  readonly from: string;
  readonly to: string;
  readonly offerId: number | null;
}
export const reportOrder: Joi.ObjectSchema<ReportOrder> = Joi.object<ReportOrder>({
  text: Joi.string().max(30_000_000).required().label('File'),
  source: line('Source', 60).required(),
  reading: fileReadingSchema.required(),
  from: dayField('From').required(),
  to: dayField('To').required(),
  offerId: id('Offer').allow(null).default(null),
});

const OUTCOMES: Record<Finding, JobLine['outcome']> = {
  ...{ equal: 'same', differs: 'changed', only_there: 'new', only_here: 'refused' },
};

/** Compares a report with what is recorded and keeps what was found; nothing else changes. */
export const reconcileJob: JobWork = (stores, actor, raw, _write, tick) => {
  requireRight(stores, actor, 'decide_commissions', 'reconciliations');
  const order = checked(check(reportOrder, raw));
  const { text, reading, from, to } = order;
  if (to < from) throw invalidField('to', `The last day, ${to}, lies before the first.`);
  if (!reading.columns.includes('order') && !reading.columns.includes('click_id'))
    throw invalidField('columns', 'A line is found by its order or its click ID: say which column holds one of them.');
  const [, ...rows] = fileRows(text, reading.delimiter);
  if (rows.length === 0) throw invalidField('text', 'There is no line below the head of the file.');
  if (rows.length > MOST_FILE_LINES)
    throw invalidField('text', `The file has ${rows.length} lines; at most ${MOST_FILE_LINES} are read at once.`);
  return stores.books.inTransaction(() => compare(stores, actor, order, rows, tick));
};

function compare(
  stores: Stores,
  actor: Actor,
  { source, reading, from, to, offerId }: ReportOrder,
  rows: string[][],
  tick: (done: number, total: number) => void,
): JobLine[] {
  const { reconciliations, imports } = stores.books;
  const program = programOf(stores, actor.programId);
  const reconciliationId = reconciliations.insert({
    ...{ programId: program.id, source, time: stores.now(), actor: actor.name, fromDay: from, toDay: to, offerId },
  });
  imports.keepReading(program.id, source, JSON.stringify(reading));
  const hash = fileHasher(stores, program.id);
  const seen = new Set<number>();
  const problems: { field: string; reason: string }[] = [];
  const keep = (
    line: number | null,
    finding: Finding,
    conversionId: number | null,
    fields: Record<string, string>,
    differences: ReconciliationLine['differences'] = [],
  ): JobLine => {
    reconciliations.insertLine({ reconciliationId, line, finding, conversionId, fields, differences });
    const what = [fields.event, fields.order ?? fields.click_id].filter(Boolean).join(' ');
    return { line: line ?? 0, outcome: OUTCOMES[finding], what, problems: [], code: String(reconciliationId) };
  };
  const lines = rows.map((cells, i): JobLine | undefined => {
    if (i % 200 === 0) tick(i, rows.length);
    const at = i + 2;
    const said = lineFields(cells, reading, (local) => zonedIso(local, program.timeZone));
    const { commission, ...fields } = said.fields;
    const clean = cleaned(fields, hash).fields as Record<string, string>;
    // A report of a network may have lines that could not be booked: only what is compared has to be readable.
    const read = readPostback({ ...clean, event: clean.event ?? 'unknown' }, program.currency);
    const earned = commission === undefined ? undefined : parseAmount(commission, program.currency);
    const wrong = [
      ...said.problems,
      ...(read.ok ? [] : read.problems),
      ...(earned && !earned.ok ? [{ field: 'commission', reason: earned.reason }] : []),
    ];
    if (wrong.length > 0 || !read.ok) {
      problems.push(...wrong.map((each) => ({ ...each, reason: `Line ${at}: ${each.reason}` })));
      return undefined;
    }
    const ours = recorded(stores, program, read.value, clean.event !== undefined);
    if (!ours) return keep(at, 'only_there', null, { ...clean, ...(commission !== undefined && { commission }) });
    seen.add(ours.id);
    const named = (['amount', 'tax', 'shipping', 'discount'] as const).filter((field) => clean[field] !== undefined);
    const theirs: TheirLine = {
      named,
      ...(named.length > 0 && { figures: read.value.figures }),
      ...(read.value.status && { status: read.value.status }),
      ...(read.value.completed && { completed: read.value.completed }),
      ...(read.value.coupon && { coupon: read.value.coupon }),
      ...(read.value.clickId && { clickId: read.value.clickId }),
      ...(earned?.ok && { commission: earned.value.minor }),
    };
    const net = ours.commission === null ? null : ours.commission - (ours.commissionReversed ?? 0);
    const differences = differencesOf(theirs, { ...ours, commission: net, program: program.currency });
    return keep(at, differences.length > 0 ? 'differs' : 'equal', ours.id, clean, differences);
  });
  if (problems.length > 0) throw invalid(problems.slice(0, 20));
  const here = onlyHere(stores, program, { from, to, offerId }, seen).map((ours) =>
    keep(null, 'only_here', ours.id, {
      event: ours.event,
      ...(ours.orderRef !== null && { order: ours.orderRef }),
      ...(ours.clickId !== null && { click_id: ours.clickId }),
      amount: amountText(money(ours.amount, ours.currency)),
      currency: ours.currency,
      time: isoTime(ours.time, program.timeZone),
    }),
  );
  audit(stores, actor, 'reconciled', source, `${rows.length} lines, ${from} to ${to}`);
  return [...lines.flatMap((each) => each ?? []), ...here];
}

/** The conversion that a line is about: by its order, else by its click. */
function recorded(
  { books }: Stores,
  program: ProgramRow,
  { order, clickId, event }: Postback,
  eventNamed: boolean,
): ConversionListRow | undefined {
  const found = books.conversions.byReference(program.id, {
    ...{ order: order ?? null, clickId: clickId ?? null, event: eventNamed ? event : null },
  });
  return found === undefined ? undefined : books.conversions.byId(found);
}

const CHUNK = 1000;

/** What is recorded for the days, stands, and is in no line. */
function onlyHere(
  { books }: Stores,
  program: ProgramRow,
  { from, to, offerId }: { from: string; to: string; offerId: number | null },
  seen: ReadonlySet<number>,
): ConversionListRow[] {
  const scope = { programId: program.id, from, to, offerId, partnerId: null, channelId: null };
  const found: ConversionListRow[] = [];
  for (let offset = 0; ; offset += CHUNK) {
    const { rows } = books.conversions.list(scope, 'all', { limit: CHUNK, offset });
    found.push(
      ...rows.filter(({ id: each, state }) => !seen.has(each) && (state === 'pending' || state === 'approved')),
    );
    if (rows.length < CHUNK) return found;
  }
}

/** Compares a report at once, for a caller who waits. @returns what was found, in numbers */
export function reconcileFile(stores: Stores, actor: Actor, input: unknown): ReconciliationListRow {
  const [line] = reconcileJob(stores, actor, input, true, () => undefined);
  return readReconciliation(stores, actor, Number(line?.code));
}

export function newestReconciliations(stores: Stores, actor: Actor, limit: number): ReconciliationListRow[] {
  requireRight(stores, actor, 'decide_commissions', 'reconciliations');
  return stores.books.reconciliations.newest(actor.programId, limit);
}
export function readReconciliation(stores: Stores, actor: Actor, reconciliationId: number): ReconciliationListRow {
  requireRight(stores, actor, 'decide_commissions', `reconciliation ${reconciliationId}`);
  const row = stores.books.reconciliations.byId(reconciliationId);
  return requireOwn(stores, { ...actor, partnerId: null }, row, `reconciliation ${reconciliationId}`);
}
export const reconciliationLines = (
  stores: Stores,
  actor: Actor,
  reconciliationId: number,
  finding: Finding | null,
  paging: Paging,
): Page<ReconciliationLine> =>
  stores.books.reconciliations.lines(readReconciliation(stores, actor, reconciliationId).id, finding, paging);
