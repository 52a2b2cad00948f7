import type { OfferFields } from '@/core/offers/schema';
import type { Db } from '../database';

export interface OfferRow extends OfferFields {
  id: number;
  programId: number;
}
type Stored = Omit<OfferRow, 'landingHosts' | 'hold' | 'events' | 'autoApprove'> & {
  landingHosts: string;
  hold: string;
  events: string;
  autoApprove: number;
};

const COLUMNS = `id, program_id AS programId, code, name, state, landing_page AS landingPage, landing_hosts AS landingHosts, appended,
  click_window_days AS clickWindowDays, hold, auto_approve AS autoApprove, fallback, events`;

const read = (row: Stored): OfferRow => ({
  ...row,
  landingHosts: JSON.parse(row.landingHosts),
  hold: JSON.parse(row.hold),
  events: JSON.parse(row.events),
  autoApprove: row.autoApprove === 1,
});
const stored = (fields: OfferFields) => ({
  ...fields,
  landingHosts: JSON.stringify(fields.landingHosts),
  hold: JSON.stringify(fields.hold),
  events: JSON.stringify(fields.events),
  autoApprove: fields.autoApprove ? 1 : 0,
});

export function offerStore(db: Db) {
  const insert = db.prepare(
    `INSERT INTO offers (program_id, code, name, state, landing_page, landing_hosts, appended, click_window_days, hold, auto_approve, fallback, events, created_at)
     VALUES (:programId, :code, :name, :state, :landingPage, :landingHosts, :appended, :clickWindowDays, :hold, :autoApprove, :fallback, :events, :now)`,
  );
  const update = db.prepare(
    `UPDATE offers SET name = :name, state = :state, landing_page = :landingPage, landing_hosts = :landingHosts, appended = :appended,
       click_window_days = :clickWindowDays, hold = :hold, auto_approve = :autoApprove, fallback = :fallback, events = :events WHERE id = :id`,
  );
  const byId = db.prepare<[number], Stored>(`SELECT ${COLUMNS} FROM offers WHERE id = ?`);
  const byCode = db.prepare<[number, string], Stored>(
    `SELECT ${COLUMNS} FROM offers WHERE program_id = ? AND code = ?`,
  );
  const ofProgram = db.prepare<[number], Stored>(`SELECT ${COLUMNS} FROM offers WHERE program_id = ? ORDER BY name`);
  const one = (row: Stored | undefined): OfferRow | undefined => row && read(row);
  return {
    insert: (programId: number, fields: OfferFields, now: number): number =>
      Number(insert.run({ ...stored(fields), programId, now }).lastInsertRowid),
    update: (id: number, fields: OfferFields): void => void update.run({ ...stored(fields), id }),
    byId: (id: number) => one(byId.get(id)),
    byCode: (programId: number, code: string) => one(byCode.get(programId, code)),
    ofProgram: (programId: number) => ofProgram.all(programId).map(read),
  };
}
