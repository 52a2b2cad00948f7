import type { Currency } from '@/core/money/currency';
import type { ChannelFields, PartnerFields, PartnerState } from '@/core/partners/schema';
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
  text: string;
}

const SELECT = `SELECT p.id, p.program_id AS programId, p.code, p.name, p.kind, p.email, p.country, p.payout_currency AS payoutCurrency,
    p.own_minimum AS ownMinimum, p.notes, p.state, p.created_at AS createdAt, p.state_since AS stateSince,
    coalesce(d.state, 'missing') AS details, d.mask AS detailsMask, d.on_hold AS onHold
  FROM partners p LEFT JOIN payout_details d ON d.partner_id = p.id`;
const WHERE = `WHERE p.program_id = :programId AND (:partnerId IS NULL OR p.id = :partnerId) AND (:state IS NULL OR p.state = :state)
  AND (:text = '' OR instr(lower(p.name), lower(:text)) OR instr(lower(p.code), lower(:text)))`;

export function partnerStore(db: Db) {
  type Writable = Omit<PartnerRow, 'id' | 'stateSince' | 'details' | 'detailsMask' | 'onHold'>;
  const insert = db.prepare<Writable>(
    `INSERT INTO partners (program_id, code, name, kind, email, country, payout_currency, own_minimum, notes, state, created_at, state_since)
     VALUES (:programId, :code, :name, :kind, :email, :country, :payoutCurrency, :ownMinimum, :notes, :state, :createdAt, :createdAt)`,
  );
  const update = db.prepare<
    Pick<PartnerRow, 'id' | 'name' | 'kind' | 'email' | 'country' | 'payoutCurrency' | 'ownMinimum' | 'notes'>
  >(
    `UPDATE partners SET name = :name, kind = :kind, email = :email, country = :country, payout_currency = :payoutCurrency,
       own_minimum = :ownMinimum, notes = :notes WHERE id = :id`,
  );
  const setState = db.prepare<[PartnerState, number, number]>(
    'UPDATE partners SET state = ?, state_since = ? WHERE id = ?',
  );
  const byId = db.prepare<[number], PartnerRow>(`${SELECT} WHERE p.id = ?`);
  const byCode = db.prepare<[number, string], PartnerRow>(`${SELECT} WHERE p.program_id = ? AND p.code = ?`);
  const list = db.prepare<PartnerFilter & Paging, PartnerRow>(
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
    'INSERT INTO channels (partner_id, code, name, kind, address, created_at) VALUES (:partnerId, :code, :name, :kind, :address, :now)',
  );
  const updateChannel = db.prepare<ChannelFields & { id: number }>(
    'UPDATE channels SET name = :name, kind = :kind, address = :address WHERE id = :id',
  );
  const channel = db.prepare<[number], ChannelRow>(
    'SELECT id, partner_id AS partnerId, code, name, kind, address FROM channels WHERE id = ?',
  );
  const channels = db.prepare<[number], ChannelRow>(
    'SELECT id, partner_id AS partnerId, code, name, kind, address FROM channels WHERE partner_id = ? ORDER BY name',
  );
  const allChannels = db.prepare<[number, number | null, number | null], ChannelRow>(
    `SELECT c.id, c.partner_id AS partnerId, c.code, c.name, c.kind, c.address FROM channels c JOIN partners p ON p.id = c.partner_id
     WHERE p.program_id = ? AND (? IS NULL OR p.id = ?) ORDER BY c.name LIMIT 500`,
  );
  return {
    insert: (row: Writable): number => Number(insert.run(row).lastInsertRowid),
    update: (row: Parameters<typeof update.run>[0]): void => void update.run(row),
    setState: (id: number, state: PartnerState, now: number): void => void setState.run(state, now, id),
    byId: (id: number) => byId.get(id),
    byCode: (programId: number, code: string) => byCode.get(programId, code),
    list: (filter: PartnerFilter, paging: Paging): Page<PartnerRow> => ({
      rows: list.all({ ...filter, ...paging }),
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
    channelsOfProgram: (programId: number, partnerId: number | null) =>
      allChannels.all(programId, partnerId, partnerId),
  };
}
