import { type Problem, check } from '@/core/schema/problems';
import { SOURCE_FORMAT, type SourceFile, sourceFileSchema, sourceSchema } from '@/core/sources/schema';
import type { SourceRow } from '@/store/books/sources';
import { type Actor, audit, requireOwn, requireRight } from './actor';
import { changes, checked } from './programs';
import { invalid, invalidField } from './refusal';
import type { Stores } from './stores';

/** Sources belong to the program; its partners choose among them, too. */
export const readSource = (stores: Stores, actor: Actor, id: number): SourceRow =>
  requireOwn(stores, { ...actor, partnerId: null }, stores.books.sources.byId(id), `source ${id}`);

export const listSources = (stores: Stores, actor: Actor): SourceRow[] =>
  stores.books.sources.ofProgram(actor.programId);

/** What was taken out of use, the newest first: it can be taken back. */
export const removedSources = (stores: Stores, actor: Actor): SourceRow[] =>
  stores.books.sources.removed(actor.programId);

function refuseTakenName(stores: Stores, actor: Actor, name: string, own?: number): void {
  const standing = stores.books.sources.byName(actor.programId, name);
  if (standing !== undefined && standing !== own)
    throw invalidField('name', `There is a source named ${name} already. Choose another name.`);
}

export function createSource(stores: Stores, actor: Actor, input: unknown): SourceRow {
  requireRight(stores, actor, 'manage_setup', 'source');
  const preset = checked(check(sourceSchema, input));
  refuseTakenName(stores, actor, preset.name);
  const id = stores.books.inTransaction(() => {
    const created = stores.books.sources.insert(actor.programId, preset, stores.now());
    audit(stores, actor, 'created', `source ${created}`, preset.name);
    return created;
  });
  return readSource(stores, actor, id);
}

/** Changes a preset. Links already out keep what they were issued with. */
export function updateSource(stores: Stores, actor: Actor, id: number, input: unknown): SourceRow {
  requireRight(stores, actor, 'manage_setup', `source ${id}`);
  const before = readSource(stores, actor, id);
  const preset = checked(check(sourceSchema, input));
  refuseTakenName(stores, actor, preset.name, id);
  stores.books.inTransaction(() => {
    stores.books.sources.update(id, preset, stores.now());
    audit(stores, actor, 'changed', `source ${id}`, changes(before.preset, preset));
  });
  return readSource(stores, actor, id);
}

/** A name that is free: "Quillsearch 2". */
function freeName(stores: Stores, actor: Actor, name: string): string {
  let n = 2;
  while (stores.books.sources.byName(actor.programId, `${name.slice(0, 55)} ${n}`) !== undefined) n += 1;
  return `${name.slice(0, 55)} ${n}`;
}

export function duplicateSource(stores: Stores, actor: Actor, id: number): SourceRow {
  const { preset } = readSource(stores, actor, id);
  return createSource(stores, actor, { ...preset, name: freeName(stores, actor, preset.name) });
}

/** Takes a source out of use; links and channels that have it keep it. Can be taken back. */
export function setSourceRemoved(stores: Stores, actor: Actor, id: number, removed: boolean): SourceRow {
  requireRight(stores, actor, 'manage_setup', `source ${id}`);
  const { preset } = readSource(stores, actor, id);
  if (!removed) refuseTakenName(stores, actor, preset.name, id);
  stores.books.inTransaction(() => {
    stores.books.sources.setRemoved(id, removed ? stores.now() : null);
    audit(stores, actor, removed ? 'removed' : 'restored', `source ${id}`, preset.name);
  });
  return readSource(stores, actor, id);
}

/** A preset as a file, for another program or another installation. */
export function exportSource(stores: Stores, actor: Actor, id: number): SourceFile {
  return { format: SOURCE_FORMAT, version: 1, ...readSource(stores, actor, id).preset };
}

/** Reads a preset from a file's text. What is wrong is named by its path: "values.sub1.parameter". */
export function importSource(stores: Stores, actor: Actor, text: string): SourceRow {
  requireRight(stores, actor, 'manage_setup', 'source');
  const { $schema: _, format: __, version: ___, ...preset } = parseFile(text);
  const taken = stores.books.sources.byName(actor.programId, preset.name) !== undefined;
  return createSource(stores, actor, taken ? { ...preset, name: freeName(stores, actor, preset.name) } : preset);
}

function parseFile(text: string): SourceFile {
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch (error) {
    throw invalidField('file', `The file is not JSON: ${error instanceof Error ? error.message : String(error)}`);
  }
  const result = check(sourceFileSchema, value);
  if (result.ok) return result.value;
  throw invalid(
    result.problems.map(({ field, reason }): Problem => ({ field, reason: `At ${field || 'the top'}: ${reason}` })),
  );
}
