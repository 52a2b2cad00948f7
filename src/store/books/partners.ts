import type { Currency } from '@/core/money/currency';
import type { ApplicationFields, ChannelFields, PartnerFields, PartnerState } from '@/core/partners/schema';
import type { DetailsState } from '@/core/payouts/decide';
import type { Db, Page, Paging } from '../database';

export interface PartnerRow {
  id: number;
  programId: number;
  code: string;
  name: string;
  kind: PartnerFields['kind'];
  email: string;
  country: string;
  payoutCurrency: Currency;
  ownMinimum: number | null;
  notes: string;
  state: PartnerState;
  /** Why it was refused or closed. */
  stateReason: string;
  groupId: number | null;
  group: string | null;
  referrerId: number | null;
  referrerCode: string | null;
  referrerName: string | null;
  /** What was told on the public form; null for partners taken in by hand. */
  application: ApplicationFields | null;
  termsVersion: number | null;
  termsAcceptedAt: number | null;
  createdAt: number;
  stateSince: number;
  details: DetailsState;
  detailsMask: string | null;
  onHold: string | null;
}
export interface ChannelRow extends ChannelFields {
  id: number;
  partnerId: number;
}
export interface PartnerFilter {
  programId: number;
  partnerId: number | null;
  state: PartnerState | null;
  groupId: number | null;
  text: string;
}
export interface GroupRow {
  id: number;
  name: string;
  partners: number;
}
export interface ChannelFilter {
  programId: number;
  partnerId: number | null;
  text: string;
}
/** A channel with whose it is, for lists over all partners. */
export interface ChannelListRow extends ChannelRow {
  partnerName: string;
  partnerCode: string;
}
type Stored = Omit<PartnerRow, 'application'> & { application: string | null };
const read = (row: Stored): PartnerRow => ({
  ...row,
  application: row.application === null ? null : JSON.parse(row.application),
});

const SELECT = `SELECT p.id, p.program_id AS programId, p.code, p.name, p.kind, p.email, p.country, p.payout_currency AS payoutCurrency,
    p.own_minimum AS ownMinimum, p.notes, p.state, p.created_at AS createdAt, p.state_since AS stateSince, p.state_reason AS stateReason,
    p.group_id AS groupId, g.name AS "group", p.referrer_id AS referrerId, r.code AS referrerCode, r.name AS referrerName, p.application,
    p.terms_version AS termsVersion, p.terms_accepted_at AS termsAcceptedAt,
    coalesce(d.state, 'missing') AS details, d.mask AS detailsMask, d.on_hold AS onHold
  FROM partners p LEFT JOIN payout_details d ON d.partner_id = p.id LEFT JOIN partner_groups g ON g.id = p.group_id
    LEFT JOIN partners r ON r.id = p.referrer_id`;
const WHERE = `WHERE p.program_id = :programId AND (:partnerId IS NULL OR p.id = :partnerId) AND (:state IS NULL OR p.state = :state)
  AND (:groupId IS NULL OR p.group_id = :groupId) AND (:text = '' OR instr(lower(p.name), lower(:text)) OR instr(lower(p.code), lower(:text)))`;
const CHANNELS = `FROM channels c JOIN partners p ON p.id = c.partner_id
  WHERE p.program_id = :programId AND (:partnerId IS NULL OR p.id = :partnerId)
    AND (:text = '' OR instr(lower(c.name), lower(:text)) OR instr(lower(c.code), lower(:text)))`;
const CHANNEL = 'c.id, c.partner_id AS partnerId, c.code, c.name, c.kind, c.address, c.source_id AS sourceId';

export type NewPartner = Omit<
  PartnerRow,
  'id' | 'stateSince' | 'stateReason' | 'group' | 'referrerCode' | 'referrerName' | 'details' | 'detailsMask' | 'onHold'
>;
type Writable = Omit<NewPartner, 'application'> & { application: string | null };
type Updatable = Pick<
  PartnerRow,
  | 'id'
  | 'code'
  | 'name'
  | 'kind'
  | 'email'
  | 'country'
  | 'payoutCurrency'
  | 'ownMinimum'
  | 'notes'
  | 'groupId'
  | 'referrerId'
>;

export function partnerStore(db: Db) {
  const one = (row: Stored | undefined): PartnerRow | undefined => row && read(row);
  const insert = db.prepare<Writable>(
    `INSERT INTO partners (program_id, code, name, kind, email, country, payout_currency, own_minimum, notes, state, group_id, referrer_id,
       application, terms_version, terms_accepted_at, created_at, state_since)
     VALUES (:programId, :code, :name, :kind, :email, :country, :payoutCurrency, :ownMinimum, :notes, :state, :groupId, :referrerId,
       :application, :termsVersion, :termsAcceptedAt, :createdAt, :createdAt)`,
  );
  const update = db.prepare<Updatable>(
    `UPDATE partners SET code = :code, name = :name, kind = :kind, email = :email, country = :country, payout_currency = :payoutCurrency,
       own_minimum = :ownMinimum, notes = :notes, group_id = :groupId, referrer_id = :referrerId WHERE id = :id`,
  );
  const setState = db.prepare<[PartnerState, string, number, number]>(
    'UPDATE partners SET state = ?, state_reason = ?, state_since = ? WHERE id = ?',
  );
  const byId = db.prepare<[number], Stored>(`${SELECT} WHERE p.id = ?`);
  const byCode = db.prepare<[number, string], Stored>(`${SELECT} WHERE p.program_id = ? AND p.code = ?`);
  const applied = db.prepare<[number, string], Stored>(
    `${SELECT} WHERE p.program_id = ? AND p.email = ? COLLATE NOCASE AND p.state = 'applied'`,
  );
  const groups = db.prepare<[number], GroupRow>(
    `SELECT g.id, g.name, count(p.id) AS partners FROM partner_groups g LEFT JOIN partners p ON p.group_id = g.id
     WHERE g.program_id = ? GROUP BY g.id ORDER BY g.name`,
  );
  const addGroup = db.prepare<[number, string]>(
    'INSERT INTO partner_groups (program_id, name) VALUES (?, ?) ON CONFLICT DO NOTHING',
  );
  const groupId = db.prepare<[number, string], { id: number }>(
    'SELECT id FROM partner_groups WHERE program_id = ? AND name = ?',
  );
  const list = db.prepare<PartnerFilter & Paging, Stored>(
    `${SELECT} ${WHERE} ORDER BY p.name COLLATE NOCASE LIMIT :limit OFFSET :offset`,
  );
  const count = db.prepare<PartnerFilter, { total: number }>(`SELECT count(*) AS total FROM partners p ${WHERE}`);

  const putDetails = db.prepare<{ partnerId: number; sealed: Buffer; mask: string; now: number }>(
    `INSERT INTO payout_details (partner_id, sealed, mask, state, changed_at) VALUES (:partnerId, :sealed, :mask, 'unchecked', :now)
     ON CONFLICT (partner_id) DO UPDATE SET sealed = :sealed, mask = :mask, state = 'unchecked', on_hold = NULL, changed_at = :now`,
  );
  const sealed = db.prepare<[number], { sealed: Buffer }>('SELECT sealed FROM payout_details WHERE partner_id = ?');
  const markChecked = db.prepare<[number]>("UPDATE payout_details SET state = 'checked' WHERE partner_id = ?");
  const setHold = db.prepare<[string | null, number]>('UPDATE payout_details SET on_hold = ? WHERE partner_id = ?');

  const insertChannel = db.prepare<ChannelFields & { partnerId: number; now: number }>(
    `INSERT INTO channels (partner_id, code, name, kind, address, source_id, created_at)
     VALUES (:partnerId, :code, :name, :kind, :address, :sourceId, :now)`,
  );
  const updateChannel = db.prepare<ChannelFields & { id: number }>(
    'UPDATE channels SET name = :name, kind = :kind, address = :address, source_id = :sourceId WHERE id = :id',
  );
  const channel = db.prepare<[number], ChannelRow>(`SELECT ${CHANNEL} FROM channels c WHERE c.id = ?`);
  const channelByCode = db.prepare<[number, string], ChannelRow>(
    `SELECT ${CHANNEL} FROM channels c WHERE c.partner_id = ? AND c.code = ?`,
  );
  const channels = db.prepare<[number], ChannelRow>(
    `SELECT ${CHANNEL} FROM channels c WHERE c.partner_id = ? ORDER BY c.name`,
  );
  const findChannels = db.prepare<ChannelFilter & Paging, ChannelListRow>(
    `SELECT ${CHANNEL}, p.name AS partnerName, p.code AS partnerCode ${CHANNELS} ORDER BY c.name COLLATE NOCASE, c.id LIMIT :limit OFFSET :offset`,
  );
  const countChannels = db.prepare<ChannelFilter, { total: number }>(`SELECT count(*) AS total ${CHANNELS}`);
  return {
    insert: (row: NewPartner): number =>
      Number(
        insert.run({ ...row, application: row.application === null ? null : JSON.stringify(row.application) })
          .lastInsertRowid,
      ),
    update: (row: Updatable): void => void update.run(row),
    setState: (id: number, state: PartnerState, reason: string, now: number): void =>
      void setState.run(state, reason, now, id),
    byId: (id: number) => one(byId.get(id)),
    byCode: (programId: number, code: string) => one(byCode.get(programId, code)),
    /** An application that waits for its answer. */
    applied: (programId: number, email: string) => one(applied.get(programId, email)),
    groups: (programId: number) => groups.all(programId),
    /** The group of a name, made when it is new. */
    groupNamed(programId: number, name: string): number | null {
      addGroup.run(programId, name);
      return groupId.get(programId, name)?.id ?? null;
    },
    list: (filter: PartnerFilter, paging: Paging): Page<PartnerRow> => ({
      rows: list.all({ ...filter, ...paging }).map(read),
      total: count.get(filter)?.total ?? 0,
    }),
    putDetails: (row: { partnerId: number; sealed: Buffer; mask: string; now: number }): void =>
      void putDetails.run(row),
    sealedDetails: (partnerId: number) => sealed.get(partnerId)?.sealed,
    markDetailsChecked: (partnerId: number): void => void markChecked.run(partnerId),
    setHold: (partnerId: number, reason: string | null): void => void setHold.run(reason, partnerId),
    insertChannel: (row: ChannelFields & { partnerId: number; now: number }): number =>
      Number(insertChannel.run(row).lastInsertRowid),
    updateChannel: (row: ChannelFields & { id: number }): void => void updateChannel.run(row),
    channel: (id: number) => channel.get(id),
    channels: (partnerId: number) => channels.all(partnerId),
    channelByCode: (partnerId: number, code: string) => channelByCode.get(partnerId, code),
    findChannels: (filter: ChannelFilter, paging: Paging): Page<ChannelListRow> => ({
      rows: findChannels.all({ ...filter, ...paging }),
      total: countChannels.get(filter)?.total ?? 0,
    }),
  };
}
