import type { MailCopy } from '@/core/mail/merge';
import type { Db } from '../database';

export interface MailCopyRow extends MailCopy {
  id: number;
  programId: number;
  changedAt: number;
}
/** A channel that a mailing goes to: one of each active partner. */
export interface MailChannel {
  partnerId: number;
  partnerName: string;
  partnerCode: string;
  email: string;
  channelId: number;
  channelName: string;
  channelCode: string;
}

export function mailStore(db: Db) {
  const SELECT = `SELECT id, program_id AS programId, name, subject, text, offer_id AS offerId, page AS "to", changed_at AS changedAt FROM mail_copies`;
  const insert = db.prepare<MailCopy & { programId: number; now: number }>(
    `INSERT INTO mail_copies (program_id, name, subject, text, offer_id, page, changed_at)
     VALUES (:programId, :name, :subject, :text, :offerId, :to, :now)`,
  );
  const update = db.prepare<MailCopy & { id: number; now: number }>(
    'UPDATE mail_copies SET name = :name, subject = :subject, text = :text, offer_id = :offerId, page = :to, changed_at = :now WHERE id = :id',
  );
  const remove = db.prepare<[number]>('DELETE FROM mail_copies WHERE id = ?');
  const byId = db.prepare<[number], MailCopyRow>(`${SELECT} WHERE id = ?`);
  const byName = db.prepare<[number, string], MailCopyRow>(`${SELECT} WHERE program_id = ? AND name = ?`);
  const all = db.prepare<[number], MailCopyRow>(`${SELECT} WHERE program_id = ? ORDER BY changed_at DESC`);
  // A newsletter is where mail copy is used; else the partner's first channel.
  const channels = db.prepare<{ programId: number; partnerId: number | null; most: number }, MailChannel>(
    `SELECT p.id AS partnerId, p.name AS partnerName, p.code AS partnerCode, p.email, c.id AS channelId, c.name AS channelName, c.code AS channelCode
     FROM partners p JOIN channels c ON c.id = (SELECT k.id FROM channels k WHERE k.partner_id = p.id ORDER BY k.kind <> 'newsletter', k.id LIMIT 1)
     WHERE p.program_id = :programId AND p.state = 'active' AND (:partnerId IS NULL OR p.id = :partnerId) ORDER BY p.name COLLATE NOCASE LIMIT :most`,
  );
  return {
    insert: (row: Parameters<typeof insert.run>[0]): number => Number(insert.run(row).lastInsertRowid),
    update: (row: Parameters<typeof update.run>[0]): void => void update.run(row),
    remove: (id: number): void => void remove.run(id),
    byId: (id: number) => byId.get(id),
    byName: (programId: number, name: string) => byName.get(programId, name),
    all: (programId: number) => all.all(programId),
    /** @param most how many at most; -1 for all */
    channels: (programId: number, partnerId: number | null, most = -1) => channels.all({ programId, partnerId, most }),
  };
}
