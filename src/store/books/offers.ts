import type { OfferFields } from '@/core/offers/schema';
import type { Db } from '../database';

export interface OfferRow extends OfferFields {
  id: number;
  programId: number;
}
type Stored = Omit<
  OfferRow,
  'landingPages' | 'landingHosts' | 'hold' | 'events' | 'autoApprove' | 'hideReferrer' | 'couponFirst'
> & {
  landingPages: string;
  landingHosts: string;
  hold: string;
  events: string;
  autoApprove: number;
  hideReferrer: number;
  couponFirst: number;
};

const COLUMNS = `id, program_id AS programId, code, name, state, starts_on AS startsOn, ends_on AS endsOn,
  landing_pages AS landingPages, landing_hosts AS landingHosts, appended,
  click_window_days AS clickWindowDays, hold, auto_approve AS autoApprove, fallback, events,
  hide_referrer AS hideReferrer, coupon_first AS couponFirst, credited_click AS creditedClick`;

const read = (row: Stored): OfferRow => ({
  ...row,
  landingPages: JSON.parse(row.landingPages),
  landingHosts: JSON.parse(row.landingHosts),
  hold: JSON.parse(row.hold),
  events: JSON.parse(row.events),
  autoApprove: row.autoApprove === 1,
  hideReferrer: row.hideReferrer === 1,
  couponFirst: row.couponFirst === 1,
});
const stored = (fields: OfferFields) => ({
  ...fields,
  landingPages: JSON.stringify(fields.landingPages),
  landingHosts: JSON.stringify(fields.landingHosts),
  hold: JSON.stringify(fields.hold),
  events: JSON.stringify(fields.events),
  autoApprove: fields.autoApprove ? 1 : 0,
  hideReferrer: fields.hideReferrer ? 1 : 0,
  couponFirst: fields.couponFirst ? 1 : 0,
});

export function offerStore(db: Db) {
  const insert = db.prepare(
    `INSERT INTO offers (program_id, code, name, state, starts_on, ends_on, landing_pages, landing_hosts, appended, click_window_days, hold, auto_approve, fallback, events, hide_referrer, coupon_first, credited_click, created_at)
     VALUES (:programId, :code, :name, :state, :startsOn, :endsOn, :landingPages, :landingHosts, :appended, :clickWindowDays, :hold, :autoApprove, :fallback, :events, :hideReferrer, :couponFirst, :creditedClick, :now)`,
  );
  const update = db.prepare(
    `UPDATE offers SET name = :name, state = :state, starts_on = :startsOn, ends_on = :endsOn, landing_pages = :landingPages, landing_hosts = :landingHosts, appended = :appended,
       click_window_days = :clickWindowDays, hold = :hold, auto_approve = :autoApprove, fallback = :fallback, events = :events,
       hide_referrer = :hideReferrer, coupon_first = :couponFirst, credited_click = :creditedClick WHERE id = :id`,
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
