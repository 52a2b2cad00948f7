import type { Db, Page, Paging } from '../database';

export interface CouponRow {
  id: number;
  programId: number;
  code: string;
  partnerId: number;
  channelId: number;
  offerId: number;
  startsOn: string;
  endsOn: string;
  createdBy: string;
  createdAt: number;
}
export interface CouponListRow extends CouponRow {
  partnerName: string;
  partnerCode: string;
  channelName: string;
  channelCode: string;
  offerName: string;
  offerCode: string;
  /** Conversions that found their partner by it. */
  conversions: number;
}
type New = Omit<CouponRow, 'id'>;

const COLUMNS = `k.id, k.program_id AS programId, k.code, k.partner_id AS partnerId, k.channel_id AS channelId, k.offer_id AS offerId,
  k.starts_on AS startsOn, k.ends_on AS endsOn, k.created_by AS createdBy, k.created_at AS createdAt`;
const WHERE = `k.program_id = :programId AND (:partnerId IS NULL OR k.partner_id = :partnerId)
  AND (:text = '' OR instr(lower(k.code || ' ' || p.name), :text))`;

export function couponStore(db: Db) {
  const insert = db.prepare<New>(
    `INSERT INTO coupons (program_id, code, partner_id, channel_id, offer_id, starts_on, ends_on, created_by, created_at)
     VALUES (:programId, :code, :partnerId, :channelId, :offerId, :startsOn, :endsOn, :createdBy, :createdAt)`,
  );
  const update = db.prepare<Pick<CouponRow, 'id' | 'startsOn' | 'endsOn'>>(
    'UPDATE coupons SET starts_on = :startsOn, ends_on = :endsOn WHERE id = :id',
  );
  const byId = db.prepare<[number], CouponRow>(`SELECT ${COLUMNS} FROM coupons k WHERE k.id = ?`);
  const byCode = db.prepare<[number, string], CouponRow>(
    `SELECT ${COLUMNS} FROM coupons k WHERE k.program_id = ? AND k.code = ?`,
  );
  type Asked = { programId: number; partnerId: number | null; text: string };
  const list = db.prepare<Asked & Paging, CouponListRow>(
    `SELECT ${COLUMNS}, p.name AS partnerName, p.code AS partnerCode, h.name AS channelName, h.code AS channelCode, o.name AS offerName,
       o.code AS offerCode,
       (SELECT count(*) FROM conversions c WHERE c.program_id = k.program_id AND c.coupon = k.code COLLATE NOCASE AND c.matched_by = 'coupon') AS conversions
     FROM coupons k JOIN partners p ON p.id = k.partner_id JOIN channels h ON h.id = k.channel_id JOIN offers o ON o.id = k.offer_id
     WHERE ${WHERE} ORDER BY k.code LIMIT :limit OFFSET :offset`,
  );
  const count = db
    .prepare<Asked, number>(`SELECT count(*) FROM coupons k JOIN partners p ON p.id = k.partner_id WHERE ${WHERE}`)
    .pluck();
  return {
    insert: (row: New): number => Number(insert.run(row).lastInsertRowid),
    update: (row: Pick<CouponRow, 'id' | 'startsOn' | 'endsOn'>): void => void update.run(row),
    byId: (id: number) => byId.get(id),
    byCode: (programId: number, code: string) => byCode.get(programId, code),
    list: (asked: Asked, paging: Paging): Page<CouponListRow> => {
      const named = { ...asked, text: asked.text.toLowerCase() };
      return { rows: list.all({ ...named, ...paging }), total: count.get(named) ?? 0 };
    },
  };
}
