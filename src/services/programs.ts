import { type Currency, currency } from '@/core/money/currency';
import { amountText, parseAmount } from '@/core/money/text';
import { money } from '@/core/money/money';
import { type ProgramFields, programSchema } from '@/core/programs/schema';
import { type Problem, check } from '@/core/schema/problems';
import { SHIPPED_SOURCES } from '@/core/sources/shipped';
import type { ProgramRow } from '@/store/books/programs';
import { type Actor, audit, requireOwn, requireRight } from './actor';
import { invalid, invalidField } from './refusal';
import { deriveKey, drawToken, sha256, signingSecret } from './secrets';
import { type Stores, programOf } from './stores';

/** Minor units of a decimal that a schema has let through; empty is undefined. */
export function minorOf(text: string, code: Currency, field: string): number {
  const parsed = parseAmount(text, code);
  if (!parsed.ok) throw invalidField(field, parsed.reason);
  return parsed.value.minor;
}

/** Checks with a schema or refuses with every problem. */
export function checked<T>(result: { ok: true; value: T } | { ok: false; problems: Problem[] }): T {
  if (!result.ok) throw invalid(result.problems);
  return result.value;
}

const row = (fields: ProgramFields, code: Currency) => ({
  ...fields,
  minimumPayout: minorOf(fields.minimumPayout, code, 'minimumPayout'),
});

/** Founds a program; only the command line and the demo do this. @returns the program and its postback key, shown once */
export function createProgram(stores: Stores, input: unknown, code: string): { id: number; postbackKey: string } {
  const own = currency(code);
  const fields = checked(check(programSchema(own), input));
  const postbackKey = drawToken('bvk');
  const id = stores.books.programs.insert({
    ...row(fields, own),
    currency: own,
    postbackKeyHash: sha256(postbackKey),
    now: stores.now(),
  });
  for (const preset of SHIPPED_SOURCES) stores.books.sources.insert(id, preset, stores.now());
  return { id, postbackKey };
}

export function readProgram(stores: Stores, actor: Actor, id = actor.programId): ProgramRow {
  const program = stores.books.programs.byId(id);
  requireOwn(stores, { ...actor, partnerId: null }, program && { programId: program.id }, `program ${id}`);
  return programOf(stores, id);
}

export function updateProgram(stores: Stores, actor: Actor, input: unknown): ProgramRow {
  requireRight(stores, actor, 'manage_setup', 'program');
  const before = programOf(stores, actor.programId);
  const fields = checked(check(programSchema(before.currency), input));
  stores.books.inTransaction(() => {
    stores.books.programs.update({ ...row(fields, before.currency), id: before.id });
    audit(stores, actor, 'changed', 'program', changes(programFields(before), fields));
  });
  return programOf(stores, before.id);
}

/** A new postback key; the old one stops working at once. */
export function renewPostbackKey(stores: Stores, actor: Actor): string {
  requireRight(stores, actor, 'manage_setup', 'postback key');
  const key = drawToken('bvk');
  stores.books.inTransaction(() => {
    stores.books.programs.setPostbackKeyHash(actor.programId, sha256(key));
    audit(stores, actor, 'renewed', 'postback key');
  });
  return key;
}

/** The secret with which the merchant's server signs postbacks; every look at it is in the audit. */
export function readSigningSecret(stores: Stores, actor: Actor): string {
  requireRight(stores, actor, 'manage_setup', 'signing secret');
  audit(stores, actor, 'looked at', 'signing secret');
  return secretOf(stores, actor.programId);
}

/** A new signing secret; what the old one signed is refused at once. */
export function renewSigningSecret(stores: Stores, actor: Actor): string {
  requireRight(stores, actor, 'manage_setup', 'signing secret');
  return stores.books.inTransaction(() => {
    stores.books.programs.renewSigning(actor.programId);
    audit(stores, actor, 'renewed', 'signing secret');
    return secretOf(stores, actor.programId);
  });
}

const secretOf = (stores: Stores, programId: number): string =>
  signingSecret(
    deriveKey(stores.secret, 'postback signatures'),
    programId,
    programOf(stores, programId).signingVersion,
  );

export const programFields = (program: ProgramRow): ProgramFields => {
  const {
    name,
    timeZone,
    country,
    trackingOrigin,
    fallback,
    payoutDay,
    privacy,
    takesApplications,
    minimumPayout,
    currency: code,
    otherOrigins,
    uniqueHours,
    floodMost,
  } = program;
  return {
    name,
    timeZone,
    country,
    trackingOrigin,
    fallback,
    payoutDay,
    privacy,
    takesApplications,
    otherOrigins,
    uniqueHours,
    floodMost,
    minimumPayout: amountText(money(minimumPayout, code)),
  };
};

/** "name: Old → New" for every field that differs, for the audit. */
export function changes(before: object, after: object): string {
  const old = new Map(Object.entries(before));
  return Object.entries(after)
    .filter(([field, value]) => JSON.stringify(old.get(field)) !== JSON.stringify(value))
    .map(([field, value]) => `${field}: ${JSON.stringify(old.get(field))} → ${JSON.stringify(value)}`)
    .join('; ');
}
