import Joi from 'joi';
import { CALL_OUTCOMES, type CallOutcome, judgeCall } from '@/core/calls/judge';
import { type CallReport, phoneNumber, readCall } from '@/core/calls/report';
import { USUAL_CALL_TERMS } from '@/core/calls/terms';
import type { Outcome } from '@/core/conversions/outcomes';
import { id, oneOf } from '@/core/schema/fields';
import { check } from '@/core/schema/problems';
import type { CallListRow, CallRow, NumberListRow, NumberRow } from '@/store/books/calls';
import type { ProgramRow } from '@/store/books/programs';
import type { Page, Paging } from '@/store/database';
import type { StoredPostback } from '@/store/traffic';
import { type Actor, audit, requireOwn, requireRight } from './actor';
import { readChannel } from './channels';
import { programDay } from './earning';
import { rematch } from './matching';
import { readOffer } from './offers';
import { takeReport } from './posting';
import { postbackFields } from './postbacks';
import { checked } from './programs';
import { conflict, invalidField } from './refusal';
import { type Scope, filterFor } from './scope';
import { type Stores, programOf } from './stores';

const HOUR_MS = 3_600_000;
/** Somebody who was shown a number may still call it so long after the visit ended. */
const AFTER_VISIT_MS = HOUR_MS / 2;

/** Whose a call is: by the number's channel, or by the visit that the number was shown to. */
function ownerOf(
  { books, traffic }: Stores,
  number: NumberRow | undefined,
  time: number,
): Pick<CallRow, 'partnerId' | 'channelId' | 'clickId'> {
  const nobody = { partnerId: null, channelId: null, clickId: null };
  if (!number) return nobody;
  const closed = (partnerId: number | null): boolean =>
    partnerId === null || books.partners.byId(partnerId)?.state === 'closed';
  if (number.use === 'channel')
    return closed(number.partnerId) ? nobody : { ...nobody, partnerId: number.partnerId, channelId: number.channelId };
  const lease = traffic.leasesOf(number.id, time).find(({ uptoTime }) => time <= uptoTime + AFTER_VISIT_MS);
  const click = lease && traffic.clickToMatch(lease.clickId);
  if (!click || click.setAside !== null || closed(click.partnerId)) return nobody;
  return { partnerId: click.partnerId, channelId: click.channelId, clickId: click.clickId };
}

function judge(
  stores: Stores,
  program: ProgramRow,
  report: CallReport,
  owner: Pick<CallRow, 'partnerId' | 'offerId'>,
): { outcome: CallOutcome; detail: string; event?: string } {
  const { calls, offers } = stores.books;
  const { started: time, length, answered, callerHash } = report;
  const { offerId } = owner;
  const event = offerId === null ? undefined : offers.byId(offerId)?.events.find(({ kind }) => kind === 'call');
  if (offerId === null || owner.partnerId === null)
    return {
      outcome: 'nobody',
      detail: 'No open partner’s channel has the number, and no visit was shown it at the time.',
    };
  if (!event) return { outcome: 'no_event', detail: 'Add an event of the kind “call” to the offer.' };
  const terms = event.call ?? USUAL_CALL_TERMS;
  const since = time - terms.repeatHours * HOUR_MS;
  const before =
    callerHash && terms.repeatHours > 0 ? calls.lastCounted(program.id, callerHash, since, time) : undefined;
  const judged = judgeCall(
    {
      ...{ time, length, answered, anonymous: callerHash === undefined },
      ...(before !== undefined && { before }),
      onDay: calls.countedOn(offerId, programDay(stores, program.id, time)),
      goingOn: calls.goingOn(offerId, time),
    },
    terms,
    program.timeZone,
  );
  return { ...judged, event: event.event };
}

/**
 * Books a call that the exchange reported: what became of it, and the conversion that follows. Runs inside the
 * worker's transaction; a call that was reported before changes nothing.
 */
export function postCall(stores: Stores, stored: StoredPostback): Outcome {
  const program = programOf(stores, stored.programId);
  const fields = postbackFields(stored);
  const read = fields.ok ? readCall(fields.value) : fields;
  if (!read.ok) return noteReport(stores, stored, 'refused', read.problems.map(({ reason }) => reason).join(' '));
  const report = read.value;
  const { books } = stores;
  const seen = books.calls.byCallId(program.id, report.call);
  if (seen) return noteReport(stores, stored, 'retry', `Call ${report.call} was reported before.`, seen.conversionId);
  const number = books.calls.byNumber(program.id, report.number);
  const owner = { ...ownerOf(stores, number, report.started), offerId: number?.offerId ?? null };
  const { outcome, detail, event } = judge(stores, program, report, owner);
  const callId = books.calls.insert({
    ...{ programId: program.id, callId: report.call, receiptId: stored.receiptId, number: report.number, ...owner },
    ...{ time: report.started, day: programDay(stores, program.id, report.started), length: report.length },
    ...{ answered: report.answered ? 1 : 0, callerHash: report.callerHash ?? null, callerEnd: report.callerEnd },
    // Its conversion, once it stands, says so itself.
    ...{ place: report.place, outcome: outcome === 'converted' ? 'asked' : outcome, detail, conversionId: null },
  });
  const heard = event === undefined ? undefined : heardBefore(stores, program, callId, report.call, event);
  if (heard) return noteReport(stores, stored, 'recorded', 'The merchant had reported it already.', heard);
  if (outcome !== 'converted' || event === undefined)
    // One that waits for the merchant's word is no early status: it is recorded, as a call.
    return noteReport(
      stores,
      stored,
      outcome === 'asked' ? 'recorded' : 'ignored',
      `${CALL_OUTCOMES[outcome]}. ${detail}`,
    );
  const said = {
    ...{ event, order: report.call, call_length: String(report.length), time: new Date(report.started).toISOString() },
    completed: programDay(stores, program.id, report.started),
    ...(report.place !== '' && { x_place: report.place }),
  };
  return takeReport(stores, program, { ...stored, by: 'server' }, { ok: true, value: said }, stored.seq).outcome;
}

/** The merchant may have spoken of a call before the exchange did. @returns the conversion that waited for it */
function heardBefore(
  stores: Stores,
  program: ProgramRow,
  callId: number,
  named: string,
  event: string,
): number | undefined {
  const waiting = stores.books.conversions.byOrder(program.id, named, event);
  if (!waiting || waiting.unmatched === null) return undefined;
  if (!rematch(stores, waiting, 'the call was reported')) return undefined;
  stores.books.calls.settle(callId, 'converted', 'The merchant had reported it already.', waiting.id);
  return waiting.id;
}

function noteReport(
  stores: Stores,
  { receiptId, seq, programId, time }: StoredPostback,
  outcome: Outcome,
  detail: string,
  conversionId: number | null = null,
): Outcome {
  stores.books.conversions.insertOutcome({
    ...{ receiptId, seq, programId, time, outcome, detail, conversionId, matchKey: null, fingerprint: '' },
  });
  return outcome;
}

export const CALL_SHELVES = Object.keys(CALL_OUTCOMES) as CallOutcome[];

export const listCalls = (
  stores: Stores,
  actor: Actor,
  scope: Scope,
  outcome: string | null,
  paging: Paging,
): Page<CallListRow> => stores.books.calls.list(filterFor(actor, scope), outcome, paging);

export const callCounts = (stores: Stores, actor: Actor, scope: Scope): { outcome: string; count: number }[] =>
  stores.books.calls.counts(filterFor(actor, scope));

export const readCallById = (stores: Stores, actor: Actor, callId: number): CallListRow =>
  requireOwn(stores, actor, stores.books.calls.byId(callId), `call ${callId}`);

const MOST_NUMBERS = 1000;
interface NumberFields {
  numbers: string[];
  offerId: number;
  use: NumberRow['use'];
  channelId?: number;
}
/** Numbers one a line, or several parted by commas. */
const numbersField = Joi.array()
  .items(phoneNumber.label('Number'))
  .min(1)
  .max(MOST_NUMBERS)
  .unique()
  .required()
  .label('Numbers');
export const numbersSchema: Joi.ObjectSchema<NumberFields> = Joi.object<NumberFields>({
  numbers: numbersField,
  offerId: id('Offer').required(),
  use: oneOf('Use', 'channel', 'visits').required(),
  channelId: id('Channel').when('use', { is: 'channel', then: Joi.required(), otherwise: Joi.forbidden() }),
});

export function listNumbers(stores: Stores, actor: Actor): NumberListRow[] {
  requireRight(stores, actor, 'manage_setup', 'telephone numbers');
  return stores.books.calls.numbers(actor.programId);
}

/** Adds numbers to the pool, all or none. @returns how many */
export function addNumbers(stores: Stores, actor: Actor, input: unknown): number {
  requireRight(stores, actor, 'manage_setup', 'telephone numbers');
  const { numbers, offerId, use, channelId } = checked(check(numbersSchema, input));
  const { books } = stores;
  const offer = readOffer(stores, actor, offerId);
  const channel = channelId === undefined ? undefined : readChannel(stores, actor, channelId);
  const own = { partnerId: channel?.partnerId ?? null, channelId: channel?.id ?? null };
  return books.inTransaction(() => {
    for (const number of numbers) {
      if (books.calls.byNumber(actor.programId, number))
        throw invalidField('numbers', `${number} is in the pool already. Remove it there first.`);
      books.calls.insertNumber({ programId: actor.programId, number, offerId, use, ...own }, stores.now());
    }
    audit(stores, actor, 'added', `${numbers.length} telephone numbers`, `${offer.name}: ${numbers.join(' ')}`);
    return numbers.length;
  });
}

/** Takes a number out of the pool; calls that were counted by it stay. */
export function removeNumber(stores: Stores, actor: Actor, numberId: number): void {
  requireRight(stores, actor, 'manage_setup', `telephone number ${numberId}`);
  const number = requireOwn(
    stores,
    { ...actor, partnerId: null },
    stores.books.calls.numberById(numberId),
    `telephone number ${numberId}`,
  );
  if (!listNumbers(stores, actor).some((each) => each.id === number.id))
    throw conflict('This number was removed already.');
  stores.books.inTransaction(() => {
    stores.books.calls.removeNumber(number.id, stores.now());
    audit(stores, actor, 'removed', `telephone number ${number.number}`, '');
  });
}
