import type { Difference, Finding } from '@/core/conversions/reconcile';
import type { Db, Page, Paging } from '../database';

export interface ReconciliationRow {
  id: number;
  programId: number;
  source: string;
  time: number;
  actor: string;
  fromDay: string;
  toDay: string;
  offerId: number | null;
}
export interface ReconciliationListRow extends ReconciliationRow {
  offerName: string | null;
  equal: number;
  differs: number;
  onlyThere: number;
  onlyHere: number;
  undecided: number;
}
/** A line of the report with what was found, or a conversion that no line is about. */
export interface ReconciliationLine {
  id: number;
  reconciliationId: number;
  /** Line of the file; null for what is only here. */
  line: number | null;
  finding: Finding;
  conversionId: number | null;
  /** The line as fields of a postback; of what is only here, what is recorded. */
  fields: Record<string, string>;
  differences: Difference[];
  decision: string | null;
  decidedBy: string | null;
  decidedAt: number | null;
}
type Stored = Omit<ReconciliationLine, 'fields' | 'differences'> & { fields: string; differences: string };
const read = (row: Stored): ReconciliationLine => ({
  ...row,
  fields: JSON.parse(row.fields) as Record<string, string>,
  differences: JSON.parse(row.differences) as Difference[],
});

const ROW = `r.id, r.program_id AS programId, r.source, r.time, r.actor, r.from_day AS fromDay, r.to_day AS toDay, r.offer_id AS offerId`;
const counted = (finding: Finding): string =>
  `(SELECT count(*) FROM reconciliation_lines l WHERE l.reconciliation_id = r.id AND l.finding = '${finding}')`;
const LIST = `SELECT ${ROW}, o.name AS offerName, ${counted('equal')} AS equal, ${counted('differs')} AS differs, ${counted('only_there')} AS onlyThere,
    ${counted('only_here')} AS onlyHere,
    (SELECT count(*) FROM reconciliation_lines l WHERE l.reconciliation_id = r.id AND l.finding <> 'equal' AND l.decision IS NULL) AS undecided
  FROM reconciliations r LEFT JOIN offers o ON o.id = r.offer_id`;
const LINE = `l.id, l.reconciliation_id AS reconciliationId, l.line, l.finding, l.conversion_id AS conversionId, l.fields, l.differences, l.decision,
  l.decided_by AS decidedBy, l.decided_at AS decidedAt FROM reconciliation_lines l`;

export function reconciliationStore(db: Db) {
  const insert = db.prepare<Omit<ReconciliationRow, 'id'>>(
    `INSERT INTO reconciliations (program_id, source, time, actor, from_day, to_day, offer_id) VALUES (:programId, :source, :time, :actor, :fromDay, :toDay, :offerId)`,
  );
  const insertLine = db.prepare(
    `INSERT INTO reconciliation_lines (reconciliation_id, line, finding, conversion_id, fields, differences)
     VALUES (:reconciliationId, :line, :finding, :conversionId, :fields, :differences)`,
  );
  const byId = db.prepare<[number], ReconciliationListRow>(`${LIST} WHERE r.id = ?`);
  const newest = db.prepare<[number, number], ReconciliationListRow>(
    `${LIST} WHERE r.program_id = ? ORDER BY r.id DESC LIMIT ?`,
  );
  const WANTED = 'WHERE l.reconciliation_id = :id AND (:finding IS NULL OR l.finding = :finding)';
  const lines = db.prepare<{ id: number; finding: string | null } & Paging, Stored>(
    `SELECT ${LINE} ${WANTED} ORDER BY l.decision IS NOT NULL, l.id LIMIT :limit OFFSET :offset`,
  );
  const count = db
    .prepare<{ id: number; finding: string | null }, number>(`SELECT count(*) FROM reconciliation_lines l ${WANTED}`)
    .pluck();
  const undecided = db
    .prepare<[number, string], number>(
      'SELECT id FROM reconciliation_lines WHERE reconciliation_id = ? AND finding = ? AND decision IS NULL ORDER BY id',
    )
    .pluck();
  const lineById = db.prepare<[number], Stored>(`SELECT ${LINE} WHERE l.id = ?`);
  const decide = db.prepare(
    'UPDATE reconciliation_lines SET decision = :decision, decided_by = :actor, decided_at = :time, conversion_id = coalesce(:conversionId, conversion_id) WHERE id = :id',
  );
  return {
    insert: (row: Omit<ReconciliationRow, 'id'>): number => Number(insert.run(row).lastInsertRowid),
    insertLine: (
      row: Pick<
        ReconciliationLine,
        'reconciliationId' | 'line' | 'finding' | 'conversionId' | 'fields' | 'differences'
      >,
    ): void =>
      void insertLine.run({
        ...row,
        fields: JSON.stringify(row.fields),
        differences: JSON.stringify(row.differences),
      }),
    byId: (id: number) => byId.get(id),
    newest: (programId: number, limit: number) => newest.all(programId, limit),
    /** What is undecided comes first. */
    lines: (id: number, finding: Finding | null, paging: Paging): Page<ReconciliationLine> => ({
      rows: lines.all({ id, finding, ...paging }).map(read),
      total: count.get({ id, finding }) ?? 0,
    }),
    undecided: (id: number, finding: Finding) => undecided.all(id, finding),
    line: (id: number): ReconciliationLine | undefined => {
      const row = lineById.get(id);
      return row && read(row);
    },
    decide: (id: number, decision: string, actor: string, time: number, conversionId: number | null = null): void =>
      void decide.run({ id, decision, actor, time, conversionId }),
  };
}
