import Joi from 'joi';
import { type FileReading, detectReading, fileReadingSchema, fileRows } from '@/core/conversions/file';
import { conversionKey } from '@/core/conversions/repeat';
import { outcomeReason } from '@/core/conversions/outcomes';
import { cleaned } from '@/core/conversions/personal';
import { makeUlid } from '@/core/clicks/ulid';
import { line } from '@/core/schema/fields';
import { type Problem, check } from '@/core/schema/problems';
import type { ImportRow } from '@/store/books/imports';
import type { ProgramRow } from '@/store/books/programs';
import { type Actor, audit, requireOwn, requireRight } from './actor';
import { withdraw } from './earning';
import { giveTo } from './matching';
import type { JobLine, JobWork, Tick } from './jobs/job';
import { type FileLine, type OwnerCodes } from './file_lines';
import { linesOf } from './file_reader';
import { type Result, bookReport, takeReport } from './posting';
import { checked } from './programs';
import { conflict, invalid, invalidField } from './refusal';
import { customerHasher, deriveKey } from './secrets';
import { remembering } from './remembering';
import { settle } from './settling';
import { type Stores, programOf } from './stores';

export const MOST_FILE_LINES = 120_000;

/** Receipts of one file sort as its lines do: of equal times the later line is the newer. */
export function fileReceipt(stores: Stores, time: number, line = 0): string {
  const bytes = Buffer.from(stores.randomBytes(10));
  bytes.writeUInt32BE(line, 0);
  return makeUlid(time, bytes);
}
export const fileHasher = (stores: Stores, programId: number): ((customer: string) => string) =>
  customerHasher(deriveKey(stores.secret, 'customers'), programId);

/** Records one conversion that somebody knows of, or gives a recorded one a status. @throws when it is refused */
export function recordByHand(stores: Stores, actor: Actor, input: unknown): Result {
  requireRight(stores, actor, 'manage_partners', 'conversions');
  const fields = checked(check(byHandSchema, input));
  const given = Object.fromEntries(Object.entries(fields).filter(([, value]) => value !== ''));
  const program = programOf(stores, actor.programId);
  const { fields: clean } = cleaned(given, fileHasher(stores, program.id));
  return stores.books.inTransaction(() => {
    const now = stores.now();
    const told = { receiptId: fileReceipt(stores, now), time: now, by: 'hand' as const };
    const result = takeReport(stores, program, told, { ok: true, value: clean });
    if (result.outcome === 'refused') throw invalidField('', result.detail ?? 'It is refused.');
    if (result.outcome === 'retry') throw conflict(`This is recorded already. ${result.detail ?? ''}`);
    const object = result.conversionId === undefined ? 'conversion' : `conversion ${result.conversionId}`;
    audit(stores, actor, 'recorded by hand', object, JSON.stringify(clean));
    return result;
  });
}
export const byHandSchema = Joi.object<Record<string, string>>()
  .pattern(/^(x_)?[a-z0-9_]{1,40}$/, Joi.string().trim().allow('').max(2000))
  .label('Fields');

/** A file, whose it is, and how it is read. */
export interface FileOrder {
  readonly text: string;
  readonly source: string;
  readonly reading: FileReading;
  /** Refused lines are left out, rather than the whole file. */
  readonly leaveOut: boolean;
}
const fileOrder = Joi.object<FileOrder>({
  text: Joi.string().max(30_000_000).required().label('File'),
  source: line('Source', 60).required(),
  reading: fileReadingSchema.required(),
  leaveOut: Joi.boolean().default(false),
});

/** How a file seems to be read: as the source's last one was, where its columns are as many; else by its looks. */
export function proposeReading(
  stores: Stores,
  actor: Actor,
  { text, source }: { text: string; source: string },
): ReturnType<typeof detectReading> & { remembered: boolean } {
  requireRight(stores, actor, 'decide_commissions', 'files');
  const seems = detectReading(text);
  const known = fileSources(stores, actor).find((each) => each.source.toLowerCase() === source.trim().toLowerCase());
  const fits = known && fileRows(text, known.reading.delimiter, 1)[0]?.length === known.reading.columns.length;
  if (!known || !fits) return { ...seems, remembered: false };
  const [head = [], ...sample] = fileRows(text, known.reading.delimiter, 4);
  return { reading: known.reading, head, sample, remembered: true };
}

export function fileSources(stores: Stores, actor: Actor): { source: string; reading: FileReading }[] {
  requireRight(stores, actor, 'decide_commissions', 'files');
  return stores.books.imports
    .readings(actor.programId)
    .map(({ source, reading }) => ({ source, reading: JSON.parse(reading) as FileReading }));
}

class TakenBack extends Error {
  constructor(readonly lines: JobLine[]) {
    super('taken back');
  }
}

/**
 * Books the lines of a file, all or none. A preview does the same and takes it back, so it says exactly what would
 * happen.
 */
export const conversionsJob: JobWork = (stores, actor, raw, write, tick) => {
  requireRight(stores, actor, 'manage_partners', 'imports');
  const order = checked(check(fileOrder, raw));
  const { text, reading, source, leaveOut } = order;
  const repeated = reading.columns.find((field, i) => field !== '' && reading.columns.indexOf(field) !== i);
  if (repeated) throw invalidField('columns', `Two columns are read as ${repeated}. Leave one.`);
  const [, ...rows] = fileRows(text, reading.delimiter);
  if (rows.length === 0) throw invalidField('text', 'There is no line below the head of the file.');
  if (rows.length > MOST_FILE_LINES)
    throw invalidField(
      'text',
      `The file has ${rows.length} lines; at most ${MOST_FILE_LINES} are read at once. Split it.`,
    );
  try {
    return stores.books.inTransaction(() => {
      const lines = bookRows(stores, actor, order, rows, tick);
      if (!write) throw new TakenBack(lines);
      const refused = lines.filter(({ outcome }) => outcome === 'refused');
      if (refused.length > 0 && !leaveOut)
        throw invalid(
          refused
            .slice(0, 20)
            .flatMap(({ line: at, problems }) =>
              problems.map((each) => ({ ...each, reason: `Line ${at}: ${each.reason}` })),
            ),
        );
      audit(stores, actor, 'imported', source, `${rows.length} lines`);
      return lines;
    });
  } catch (error) {
    if (error instanceof TakenBack) return error.lines;
    throw error;
  }
};

function bookRows(all: Stores, actor: Actor, { source, reading }: FileOrder, rows: string[][], tick: Tick): JobLine[] {
  const stores = remembering(all);
  const { imports } = stores.books;
  const program = programOf(stores, actor.programId);
  const now = stores.now();
  const importId = imports.insert({ programId: program.id, source, time: now, actor: actor.name, lines: rows.length });
  imports.keepReading(program.id, source, JSON.stringify(reading));
  const key = deriveKey(stores.secret, 'customers');
  const how = { reading, zone: program.timeZone, currency: program.currency };
  return Array.from(linesOf({ rows, key, programId: program.id, ...how }), (read, i) => {
    if (i % 100 === 0) tick(i, rows.length);
    return bookLine(stores, program, read, { importId, now, line: i + 2 });
  });
}

const OUTCOMES = { recorded: 'new', unmatched: 'new', changed: 'changed', status: 'changed' } as const;

function bookLine(
  stores: Stores,
  program: ProgramRow,
  { what, problems, warnings, owner, report }: FileLine,
  { importId, now, line }: { importId: number; now: number; line: number },
): JobLine {
  const lineOf = (outcome: JobLine['outcome'], said: readonly Problem[]): JobLine => ({
    ...{ line, outcome, what, problems: said },
  });
  if (problems.length > 0 || !report) return lineOf('refused', problems);
  const to = owner && ownerOf(stores, program, owner);
  if (to && 'field' in to) return lineOf('refused', [to]);
  const told = { receiptId: fileReceipt(stores, now, line), time: now, by: 'file' as const };
  const result = bookReport(stores, program, told, report);
  if (result.outcome === 'refused') return lineOf('refused', [{ field: '', reason: result.detail ?? '' }]);
  stores.books.imports.addReceipt(told.receiptId, importId);
  if (to && result.outcome === 'unmatched' && result.conversionId !== undefined) {
    const conversion = stores.books.conversions.plain(result.conversionId);
    const [order, click] = [conversion?.orderRef ?? undefined, conversion?.clickId ?? undefined];
    const matchKey = conversionKey(to.offerId, owner?.event ?? '', order, click) ?? null;
    const given = { ...to, linkId: null, clickId: click ?? null, matchKey, matchedBy: 'hand' as const };
    if (giveTo(stores, result.conversionId, given, 'file', 'The line names its partner.'))
      return lineOf('new', warnings);
  }
  const outcome = result.outcome in OUTCOMES ? OUTCOMES[result.outcome as keyof typeof OUTCOMES] : 'same';
  const note =
    result.outcome === 'unmatched'
      ? [{ field: '', reason: `Not matched yet. ${outcomeReason('unmatched', result.detail ?? '')}` }]
      : [];
  return lineOf(outcome, [...warnings, ...note]);
}

/** Whose a line is by the codes it carries; where it names no channel or offer, the only one that it can be. */
function ownerOf(
  { books }: Stores,
  program: ProgramRow,
  codes: OwnerCodes,
): { partnerId: number; channelId: number; offerId: number } | Problem {
  const same = (a: string, b: string): boolean => a.toUpperCase() === b.trim().toUpperCase();
  const partner = books.partners.byCode(program.id, codes.partner.trim().toUpperCase());
  if (!partner) return { field: 'partner', reason: `There is no partner with the code “${codes.partner}”.` };
  if (partner.state === 'closed') return { field: 'partner', reason: `${partner.name} is closed.` };
  const channels = books.partners.channels(partner.id);
  const { channel: named } = codes;
  const fitting = named === undefined ? channels : channels.filter(({ code }) => same(code, named));
  const [channel] = fitting;
  if (!channel || fitting.length > 1)
    return {
      field: 'channel',
      reason: named
        ? `${partner.name} has no channel with the code “${named}”.`
        : `${partner.name} has ${channels.length} channels: say which by its code.`,
    };
  const { offer: wanted } = codes;
  const offers = books.offers
    .ofProgram(program.id)
    .filter(
      (each) =>
        (wanted === undefined || same(each.code, wanted)) && each.events.some(({ event }) => event === codes.event),
    );
  const [offer] = offers;
  if (!offer || offers.length > 1)
    return {
      field: 'offer',
      reason: wanted
        ? `“${codes.event ?? ''}” is no event of an offer with the code “${wanted}”.`
        : `${offers.length === 0 ? 'No offer has' : `${offers.length} offers have`} the event “${codes.event ?? ''}”: say which by its code.`,
    };
  return { partnerId: partner.id, channelId: channel.id, offerId: offer.id };
}

export function newestImports(stores: Stores, actor: Actor, limit: number): ImportRow[] {
  requireRight(stores, actor, 'manage_partners', 'imports');
  return stores.books.imports.newest(actor.programId, limit);
}

/**
 * Takes a whole import back: what only it had said is withdrawn, what it had changed is as it was. Only while nothing
 * of it was decided.
 * @returns how many conversions it concerns
 */
export function undoImport(stores: Stores, actor: Actor, importId: number): number {
  requireRight(stores, actor, 'manage_partners', `import ${importId}`);
  const { books } = stores;
  const { undoneAt, source } = requireOwn(
    stores,
    { ...actor, partnerId: null },
    books.imports.byId(importId),
    `import ${importId}`,
  );
  if (undoneAt !== null) throw conflict('This import was taken back already.');
  const why = `The import of ${source} was taken back.`;
  return books.inTransaction(() => {
    const concerned = new Set<number>();
    for (const receiptId of books.imports.receipts(importId)) {
      const conversionId = books.conversions.ofReceipt(receiptId);
      if (conversionId !== undefined) concerned.add(conversionId);
      books.conversions.withdrawReceipt(receiptId, why);
    }
    for (const conversionId of concerned) takeBackReports(stores, conversionId, actor, why);
    books.imports.undo(importId, stores.now());
    audit(stores, actor, 'took back', `import ${importId}`, source);
    return concerned.size;
  });
}

function takeBackReports(stores: Stores, conversionId: number, actor: Actor, why: string): void {
  const { calls, commissions, conversions } = stores.books;
  const commission = commissions.byConversion(conversionId);
  if (conversions.reports(conversionId).length > 0) {
    settle(stores, conversionId, actor.name, why);
    return;
  }
  if (commission && !['pending', 'needs_rate', 'rejected'].includes(commission.state))
    throw conflict(
      `The commission of conversion ${conversionId} is ${commission.state.replace('_', ' ')} by now: reverse it, then take the import back.`,
    );
  if (commission) withdraw(stores, commission, actor.name, why);
  conversions.withdraw(conversionId);
  calls.waitAgain(conversionId, why);
  conversions.addHistory(conversionId, { time: stores.now(), actor: actor.name, what: 'withdrawn', detail: why });
}
