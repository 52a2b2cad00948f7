import type { Db } from '../database';

export const ROLES = ['owner', 'manager', 'finance', 'viewer', 'partner'] as const;
export type Role = (typeof ROLES)[number];

export interface UserRow {
  id: number;
  programId: number;
  email: string;
  name: string;
  role: Role;
  partnerId: number | null;
  sessionVersion: number;
}
export interface TokenRow {
  id: number;
  name: string;
  userName: string;
  createdAt: number;
  lastUsedAt: number | null;
  revokedAt: number | null;
}

const COLUMNS = `id, program_id AS programId, email, name, role, partner_id AS partnerId, session_version AS sessionVersion`;

export function userStore(db: Db) {
  const insert = db.prepare<Omit<UserRow, 'id' | 'sessionVersion'> & { password: string; now: number }>(
    `INSERT INTO users (program_id, email, name, role, partner_id, password, created_at)
     VALUES (:programId, :email, :name, :role, :partnerId, :password, :now)`,
  );
  const byId = db.prepare<[number], UserRow>(`SELECT ${COLUMNS} FROM users WHERE id = ?`);
  const byEmail = db.prepare<[string], UserRow & { password: string }>(
    `SELECT ${COLUMNS}, password FROM users WHERE email = ?`,
  );
  const ofProgram = db.prepare<[number], UserRow>(`SELECT ${COLUMNS} FROM users WHERE program_id = ? ORDER BY name`);
  const endSessions = db.prepare<[number]>('UPDATE users SET session_version = session_version + 1 WHERE id = ?');

  const insertToken = db.prepare<[number, string, string, number]>(
    'INSERT INTO tokens (user_id, name, hash, created_at) VALUES (?, ?, ?, ?)',
  );
  const byToken = db.prepare<[string], UserRow & { tokenId: number }>(
    `SELECT u.id, u.program_id AS programId, u.email, u.name, u.role, u.partner_id AS partnerId, u.session_version AS sessionVersion, t.id AS tokenId
     FROM tokens t JOIN users u ON u.id = t.user_id WHERE t.hash = ? AND t.revoked_at IS NULL`,
  );
  const touchToken = db.prepare<[number, number, number]>(
    'UPDATE tokens SET last_used_at = ? WHERE id = ? AND coalesce(last_used_at, 0) < ?',
  );
  const revokeToken = db.prepare<[number, number, number]>(
    'UPDATE tokens SET revoked_at = ? WHERE id = ? AND revoked_at IS NULL AND user_id IN (SELECT id FROM users WHERE program_id = ?)',
  );
  const tokens = db.prepare<[number], TokenRow>(
    `SELECT t.id, t.name, u.name AS userName, t.created_at AS createdAt, t.last_used_at AS lastUsedAt, t.revoked_at AS revokedAt
     FROM tokens t JOIN users u ON u.id = t.user_id WHERE u.program_id = ? ORDER BY t.id DESC`,
  );
  return {
    insert: (row: Omit<UserRow, 'id' | 'sessionVersion'> & { password: string; now: number }): number =>
      Number(insert.run(row).lastInsertRowid),
    byId: (id: number) => byId.get(id),
    byEmail: (email: string) => byEmail.get(email),
    ofProgram: (programId: number) => ofProgram.all(programId),
    endSessions: (id: number): void => void endSessions.run(id),
    insertToken: (userId: number, name: string, hash: string, now: number): number =>
      Number(insertToken.run(userId, name, hash, now).lastInsertRowid),
    byTokenHash: (hash: string) => byToken.get(hash),
    /** Kept to the minute, so that a busy token does not write on every call. */
    touchToken: (tokenId: number, now: number): void => void touchToken.run(now, tokenId, now - 60_000),
    revokeToken: (programId: number, tokenId: number, now: number): boolean =>
      revokeToken.run(now, tokenId, programId).changes > 0,
    tokens: (programId: number) => tokens.all(programId),
  };
}
