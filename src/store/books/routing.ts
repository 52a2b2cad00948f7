import type { RoutingPlan } from '@/core/routing/plan';
import type { Db } from '../database';

export interface PlanVersion {
  offerId: number;
  version: number;
  plan: RoutingPlan;
  actor: string;
  reason: string;
  time: number;
}
type StoredPlan = Omit<PlanVersion, 'plan'> & { plan: string };
export interface AddressListRow {
  id: number;
  programId: number;
  name: string;
  effect: 'set_aside' | 'proxy';
  isOn: number;
  /** How many ranges were read into it. */
  ranges: number;
  changedBy: string;
  changedAt: number;
}
export interface AddressRanges {
  four: Buffer;
  six: Buffer;
}
export interface OfferDay {
  day: string;
  conversions: number;
  /** Minor units. */
  spend: number;
}

const PLAN = 'SELECT offer_id AS offerId, version, plan, actor, reason, time FROM routing_plans';
const LIST = `SELECT id, program_id AS programId, name, effect, is_on AS isOn, ranges, changed_by AS changedBy, changed_at AS changedAt FROM address_lists`;

/** Routing plans with their versions, lists of addresses, and what caps count. */
export function routingStore(db: Db) {
  const newest = db.prepare<[number], StoredPlan>(`${PLAN} WHERE offer_id = ? ORDER BY version DESC LIMIT 1`);
  const versions = db.prepare<[number], StoredPlan>(`${PLAN} WHERE offer_id = ? ORDER BY version DESC`);
  const insertPlan = db.prepare<StoredPlan>(
    'INSERT INTO routing_plans (offer_id, version, plan, actor, reason, time) VALUES (:offerId, :version, :plan, :actor, :reason, :time)',
  );
  const marks = db.prepare<[], { routes: number; lists: number }>(
    `SELECT max(version) FILTER (WHERE name = 'routes') AS routes, max(version) FILTER (WHERE name = 'lists') AS lists FROM edge_marks`,
  );
  const days = db.prepare<[number], OfferDay>('SELECT day, conversions, spend FROM offer_days WHERE offer_id = ?');

  const COUNTED = `SELECT offer_id, day, sum(conversions) AS conversions, sum(spend) AS spend FROM (
      SELECT offer_id, day, 1 AS conversions, 0 AS spend FROM conversions WHERE partner_id IS NOT NULL AND state NOT IN ('rejected', 'reversed')
      UNION ALL SELECT offer_id, day, 0, amount - reversed FROM commissions WHERE state <> 'rejected') GROUP BY 1, 2`;
  const wrongDays = db.prepare<[], { offerId: number; day: string }>(
    `SELECT offer_id AS offerId, day FROM (
       SELECT offer_id, day, conversions, spend FROM offer_days WHERE conversions <> 0 OR spend <> 0 EXCEPT SELECT * FROM (${COUNTED}))
     UNION SELECT offer_id, day FROM (
       SELECT * FROM (${COUNTED}) WHERE conversions <> 0 OR spend <> 0 EXCEPT SELECT offer_id, day, conversions, spend FROM offer_days)`,
  );
  const countDays = db.prepare<[], number>('SELECT count(*) FROM offer_days').pluck();

  const lists = db.prepare<[number], AddressListRow>(`${LIST} WHERE program_id = ? ORDER BY name`);
  const listById = db.prepare<[number], AddressListRow>(`${LIST} WHERE id = ?`);
  const listByName = db.prepare<[number, string], AddressListRow>(`${LIST} WHERE program_id = ? AND name = ?`);
  const rangesOf = db.prepare<[number], AddressRanges>('SELECT four, six FROM address_lists WHERE id = ?');
  const inForce = db.prepare<[], AddressRanges & Pick<AddressListRow, 'programId' | 'effect'>>(
    'SELECT program_id AS programId, effect, four, six FROM address_lists WHERE is_on = 1',
  );
  const insertList = db.prepare<Omit<AddressListRow, 'id'> & AddressRanges>(
    `INSERT INTO address_lists (program_id, name, effect, is_on, ranges, four, six, changed_by, changed_at)
     VALUES (:programId, :name, :effect, :isOn, :ranges, :four, :six, :changedBy, :changedAt)`,
  );
  const updateList = db.prepare<AddressListRow & AddressRanges>(
    `UPDATE address_lists SET name = :name, effect = :effect, is_on = :isOn, ranges = :ranges, four = :four, six = :six,
       changed_by = :changedBy, changed_at = :changedAt WHERE id = :id`,
  );
  const removeList = db.prepare<[number]>('DELETE FROM address_lists WHERE id = ?');
  const read = (row: StoredPlan): PlanVersion => ({ ...row, plan: JSON.parse(row.plan) });
  return {
    planOf: (offerId: number): PlanVersion | undefined => {
      const row = newest.get(offerId);
      return row && read(row);
    },
    versions: (offerId: number): PlanVersion[] => versions.all(offerId).map(read),
    insertPlan: (row: PlanVersion): void => void insertPlan.run({ ...row, plan: JSON.stringify(row.plan) }),
    marks: () => marks.get() ?? { routes: 0, lists: 0 },
    offerDays: (offerId: number) => days.all(offerId),
    /** Days whose counts are not those of conversions and commissions. */
    wrongOfferDays: () => wrongDays.all(),
    countOfferDays: () => countDays.get() ?? 0,
    lists: (programId: number) => lists.all(programId),
    list: (id: number) => listById.get(id),
    listByName: (programId: number, name: string) => listByName.get(programId, name),
    rangesOf: (id: number) => rangesOf.get(id),
    listsInForce: () => inForce.all(),
    insertList: (row: Omit<AddressListRow, 'id'> & AddressRanges): number =>
      Number(insertList.run(row).lastInsertRowid),
    updateList: (row: AddressListRow & AddressRanges): void => void updateList.run(row),
    removeList: (id: number): void => void removeList.run(id),
  };
}
