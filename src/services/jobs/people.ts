import { type ChannelFields, type PartnerFields, CHANNEL_KINDS } from '@/core/partners/schema';
import type { Problem } from '@/core/schema/problems';
import { type Actor, requireRight } from '../actor';
import { createChannel, updateChannel } from '../channels';
import { createCoupon, setCouponDates } from '../coupons';
import { createPartner, partnerFields, setPartnerState, updatePartner } from '../partners';
import { Refusal } from '../refusal';
import type { Stores } from '../stores';
import Joi from 'joi';
import { check } from '@/core/schema/problems';
import { checked } from '../programs';
import type { JobLine, JobWork } from './job';
import { readTable } from './table';

export const PARTNER_COLUMNS = [
  'code',
  'name',
  'kind',
  'email',
  'country',
  'payoutCurrency',
  'ownMinimum',
  'group',
  'referrer',
  'notes',
  'state',
] as const;
export const COUPON_COLUMNS = ['code', 'partner', 'channel', 'offer', 'first_day', 'last_day'] as const;
export const CHANNEL_COLUMNS = ['partner', 'code', 'name', 'kind', 'address', 'source'] as const;

interface FileInput {
  text: string;
  /** Partners: whether new ones are active at once, or wait as applicants. */
  active: boolean;
}
export const fileInputSchema = Joi.object<FileInput>({
  text: Joi.string().max(10_000_000).allow('').required().label('Lines'),
  active: Joi.boolean().default(false).label('Active at once'),
});

/** Thrown to take back what a preview wrote: it runs the real use cases, so it says exactly what would happen. */
class Preview extends Error {
  constructor(readonly lines: JobLine[]) {
    super('preview');
  }
}

/** Runs the lines through the use cases in one transaction; a preview takes all of it back. */
function inOneGo(stores: Stores, write: boolean, work: () => JobLine[]): JobLine[] {
  try {
    return stores.books.inTransaction(() => {
      const lines = work();
      if (!write) throw new Preview(lines);
      return lines;
    });
  } catch (error) {
    if (error instanceof Preview) return error.lines;
    throw error;
  }
}

const problemsOf = (error: unknown): readonly Problem[] => {
  if (!(error instanceof Refusal)) throw error;
  return error.problems.length > 0 ? error.problems : [{ field: '', reason: error.message }];
};

/** What is empty in a line keeps what is on file. */
const given = <T extends object>(record: T): Partial<T> =>
  Object.fromEntries(
    Object.entries(record).filter(([, value]) => typeof value === 'string' && value.trim() !== ''),
  ) as Partial<T>;

/** New partners by code, changes to those that are here. */
export const partnersJob: JobWork = (stores, actor, raw, write, tick) => {
  requireRight(stores, actor, 'manage_partners', 'partners');
  const { text, active } = checked(check(fileInputSchema, raw));
  const lines = readTable(text, PARTNER_COLUMNS);
  return inOneGo(stores, write, () =>
    lines.map(({ line, record }, i): JobLine => {
      tick(i, lines.length);
      const code = record.code?.trim().toUpperCase() ?? '';
      const what = record.name?.trim() || code;
      try {
        return { line, what, code, problems: [], outcome: putPartner(stores, actor, code, given(record), active) };
      } catch (error) {
        return { line, what, code, problems: problemsOf(error), outcome: 'refused' };
      }
    }),
  );
};

function putPartner(
  stores: Stores,
  actor: Actor,
  code: string,
  { state: _, ...record }: Partial<Record<keyof PartnerFields | 'state', string>>,
  active: boolean,
): JobLine['outcome'] {
  const standing = stores.books.partners.byCode(actor.programId, code);
  if (!standing) {
    const partner = createPartner(stores, actor, {
      kind: 'business',
      payoutCurrency: stores.books.programs.byId(actor.programId)?.currency,
      ...record,
    });
    if (active) setPartnerState(stores, actor, partner.id, 'active');
    return 'new';
  }
  const before = partnerFields(stores, standing);
  const after = { ...before, ...record, code: before.code };
  if (JSON.stringify(after) === JSON.stringify(before)) return 'same';
  updatePartner(stores, actor, standing.id, after);
  return 'changed';
}

/** New channels by partner and code, changes to those that are here. */
export const channelsJob: JobWork = (stores, actor, raw, write, tick) => {
  requireRight(stores, actor, 'manage_partners', 'channels');
  const { text } = checked(check(fileInputSchema, raw));
  const lines = readTable(text, CHANNEL_COLUMNS);
  return inOneGo(stores, write, () =>
    lines.map(({ line, record }, i): JobLine => {
      tick(i, lines.length);
      const code = record.code?.trim().toUpperCase() ?? '';
      const what = `${record.partner?.trim() ?? ''} ${record.name?.trim() || code}`.trim();
      try {
        return { line, what, code, problems: [], outcome: putChannel(stores, actor, code, record) };
      } catch (error) {
        return { line, what, code, problems: problemsOf(error), outcome: 'refused' };
      }
    }),
  );
};

function putChannel(
  stores: Stores,
  actor: Actor,
  code: string,
  record: Partial<Record<(typeof CHANNEL_COLUMNS)[number], string>>,
): JobLine['outcome'] {
  const partner = stores.books.partners.byCode(actor.programId, record.partner?.trim().toUpperCase() ?? '');
  if (!partner) throw refused('partner', `"${record.partner ?? ''}" is not the code of a partner.`);
  const source = record.source?.trim() ?? '';
  const sourceId = source === '' ? undefined : stores.books.sources.byName(actor.programId, source);
  if (source !== '' && sourceId === undefined)
    throw refused('source', `"${source}" is not a source that is set up here.`);
  const kind = record.kind?.trim().toLowerCase() || undefined;
  if (kind && !CHANNEL_KINDS.some((each) => each === kind))
    throw refused('kind', `"${kind}" is not a kind of channel: ${CHANNEL_KINDS.join(', ')}.`);
  const told = {
    ...given({ name: record.name, address: record.address }),
    ...(kind && { kind }),
    ...(sourceId !== undefined && { sourceId }),
  };
  const standing = stores.books.partners.channelByCode(partner.id, code);
  if (!standing) {
    createChannel(stores, actor, partner.id, { kind: 'website', ...told, code });
    return 'new';
  }
  const { id, partnerId: _, ...before } = standing;
  const after: ChannelFields = { ...before, ...(told as Partial<ChannelFields>) };
  if (JSON.stringify(after) === JSON.stringify(before)) return 'same';
  updateChannel(stores, actor, id, after);
  return 'changed';
}

/** What an export of coupons says beside. */
const COUPON_EXPORT_ONLY = ['conversions'];

/** New coupons by code, and other days for those that are here. For whom a code stands never changes. */
export const couponsJob: JobWork = (stores, actor, raw, write, tick) => {
  requireRight(stores, actor, 'manage_partners', 'coupons');
  const { text } = checked(check(fileInputSchema, raw));
  const lines = readTable(text, COUPON_COLUMNS, { ignored: COUPON_EXPORT_ONLY });
  return inOneGo(stores, write, () =>
    lines.map(({ line, record }, i): JobLine => {
      tick(i, lines.length);
      const code = record.code?.trim() ?? '';
      try {
        return { line, what: code, code, problems: [], outcome: putCoupon(stores, actor, code, record) };
      } catch (error) {
        return { line, what: code, code, problems: problemsOf(error), outcome: 'refused' };
      }
    }),
  );
};

function putCoupon(
  stores: Stores,
  actor: Actor,
  code: string,
  record: Partial<Record<(typeof COUPON_COLUMNS)[number], string>>,
): JobLine['outcome'] {
  const { books } = stores;
  const told = (column: (typeof COUPON_COLUMNS)[number]): string => record[column]?.trim() ?? '';
  const partner = books.partners.byCode(actor.programId, told('partner').toUpperCase());
  if (!partner) throw refused('partner', `"${told('partner')}" is not the code of a partner.`);
  const channel = books.partners.channelByCode(partner.id, told('channel').toUpperCase());
  if (!channel) throw refused('channel', `"${told('channel')}" is not the code of a channel of ${partner.name}.`);
  const offer = books.offers.byCode(actor.programId, told('offer').toUpperCase());
  if (!offer) throw refused('offer', `"${told('offer')}" is not the code of an offer.`);
  const dates = { startsOn: told('first_day'), endsOn: told('last_day') };
  const standing = books.coupons.byCode(actor.programId, code);
  if (!standing) {
    createCoupon(stores, actor, { code, partnerId: partner.id, channelId: channel.id, offerId: offer.id, ...dates });
    return 'new';
  }
  if (standing.partnerId !== partner.id || standing.channelId !== channel.id || standing.offerId !== offer.id)
    throw refused(
      'code',
      `${standing.code} stands for another channel or offer, and a code never changes for whom it stands.`,
    );
  if (standing.startsOn === dates.startsOn && standing.endsOn === dates.endsOn) return 'same';
  setCouponDates(stores, actor, standing.id, dates);
  return 'changed';
}

const refused = (field: string, reason: string): Refusal => new Refusal('invalid', reason, [{ field, reason }]);
