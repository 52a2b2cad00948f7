import type { Db } from '../database';

export interface PartnerTerms {
  version: number;
  text: string;
  publishedAt: number;
  publishedBy: string;
  /** Partners who accepted this version. */
  accepted: number;
}

/** The texts partners accept when they apply; a version once published stands. */
export function partnerTermStore(db: Db) {
  const insert = db.prepare<[number, string, number, number, number]>(
    `INSERT INTO terms_versions (program_id, version, text, published_by, published_at)
     SELECT ?, coalesce(max(version), 0) + 1, ?, ?, ? FROM terms_versions WHERE program_id = ?`,
  );
  const SELECT = `SELECT t.version, t.text, t.published_at AS publishedAt, u.name AS publishedBy,
      (SELECT count(*) FROM partners p WHERE p.program_id = t.program_id AND p.terms_version = t.version) AS accepted
    FROM terms_versions t JOIN users u ON u.id = t.published_by WHERE t.program_id = ?`;
  const latest = db.prepare<[number], PartnerTerms>(`${SELECT} ORDER BY t.version DESC LIMIT 1`);
  const all = db.prepare<[number], PartnerTerms>(`${SELECT} ORDER BY t.version DESC`);
  return {
    publish(programId: number, text: string, userId: number, now: number): void {
      insert.run(programId, text, userId, now, programId);
    },
    latest: (programId: number) => latest.get(programId),
    all: (programId: number) => all.all(programId),
  };
}
