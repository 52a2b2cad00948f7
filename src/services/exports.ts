import Papa from 'papaparse';
import { costText } from '@/core/clicks/cost';
import { shownValue } from '@/core/links/bulk';
import { UTM_FIELDS, utmAtRedirect } from '@/core/links/compose';
import type { SlotValue } from '@/core/links/values';
import { type Currency, isCurrency } from '@/core/money/currency';
import { money } from '@/core/money/money';
import { amountText } from '@/core/money/text';
import { CARRIED } from '@/core/placeholders/names';
import { compareNames } from '@/core/reports/order';
import { type Group, NO_SUMS } from '@/core/reports/sums';
import { isoTime } from '@/core/time/days';
import type { CommissionShelf } from '@/store/books/commissions';
import type { ConversionFilter } from '@/store/books/conversion_filters';
import type { Shelf } from '@/store/books/conversions';
import type { ReviewRow } from '@/store/books/reviews';
import type { Page, Paging } from '@/store/database';
import type { Actor } from './actor';
import { type ClickListRow, type ClickQuery, eachClick } from './clicks';
import type { ExploreRequest, Explored } from './explore';
import { type LogColumn, clickCell } from './click_log';
import { listCalls } from './calls';
import { findChannels } from './channels';
import { listCoupons } from './coupons';
import { listCommissions } from './commissions';
import { customFields } from './conversion_log';
import { listConversions } from './conversions';
import { listLinks } from './links';
import { listPartners, partnerFields } from './partners';
import { listReviews } from './reviews';
import { reconciliationLines } from './reconciling';
import type { Scope } from './scope';
import { listSources } from './sources';
import { defused } from './statements';
import { type Stores, programOf } from './stores';

export const EXPORTS = [
  'links',
  'conversions',
  'commissions',
  'partners',
  'channels',
  'coupons',
  'calls',
  'reviews',
  'reconciliation',
] as const;
export type ExportName = (typeof EXPORTS)[number] | 'clicks';
type Row = Record<string, string | number | null>;

const CHUNK = 1000;
const text = (minor: number | null, currency: Currency): string =>
  minor === null ? '' : amountText(money(minor, currency));
const safe = (row: Row): Row =>
  Object.fromEntries(
    Object.entries(row).map(([name, value]) => [
      name,
      typeof value === 'string' && !/^-?\d+(\.\d+)?$/.test(value) ? defused(value) : value,
    ]),
  );

const cellOf = (value: SlotValue | undefined): string => (value ? shownValue(value) : '');

/** A page of one list as rows for a file. */
function rowsOf(
  stores: Stores,
  actor: Actor,
  what: (typeof EXPORTS)[number],
  scope: Scope,
  shelf: string,
  paging: Paging,
  filters: readonly ConversionFilter[],
): Page<Row> {
  const { currency, timeZone } = programOf(stores, actor.programId);
  const time = (instant: number): string => isoTime(instant, timeZone);
  const each = <T>({ rows, total }: Page<T>, row: (from: T) => Row): Page<Row> => ({
    rows: rows.map((from) => safe(row(from))),
    total,
  });
  const names = new Map(listSources(stores, actor).map(({ id, preset }) => [id, preset.name]));
  // Links, partners and channels carry the columns by which they are read in again.
  if (what === 'links')
    return each(listLinks(stores, actor, scope, paging), (l) => ({
      code: l.code,
      address: l.address,
      state: l.state,
      partner: l.partnerCode,
      partner_name: l.partnerName,
      channel: l.channelCode,
      channel_name: l.channelName,
      offer: l.offerCode,
      offer_name: l.offerName,
      kind: l.kind,
      alias: l.alias,
      destination: l.destination,
      landing: l.destination === '' ? l.landing : '',
      source: l.sourceId === null ? '' : (names.get(l.sourceId) ?? ''),
      ...Object.fromEntries(CARRIED.map((slot) => [slot, cellOf(l.parts.values[slot])])),
      ...Object.fromEntries(UTM_FIELDS.map((field) => [`utm_${field}`, (utmAtRedirect(l) && l.utm[field]) || ''])),
      campaign: l.labels.campaign ?? '',
      ad: l.labels.ad ?? '',
      product: l.labels.product ?? '',
      tags: l.labels.tags?.join(';') ?? '',
      clicks: l.clicks,
      unique_clicks: l.uniques,
      conversions: l.conversions,
      commission: text(l.commission, currency),
      currency,
    }));
  if (what === 'conversions') {
    const own = customFields(stores, actor);
    return each(listConversions(stores, actor, scope, shelf as Shelf, paging, filters), (c) => ({
      time: time(c.time),
      conversion: c.id,
      event: c.event,
      order: c.orderRef,
      click_id: c.clickId,
      partner: c.partnerName,
      channel: c.channelName,
      offer: c.offerName,
      amount: text(c.amount, c.currency),
      currency: c.currency,
      commission: text(c.commission === null ? null : c.commission - (c.commissionReversed ?? 0), currency),
      commission_currency: currency,
      state: c.commissionState ?? c.state,
      unmatched: c.unmatched,
      payable_on: c.payableOn,
      completed: c.completed,
      coupon: c.coupon,
      matched_by: c.matchedBy,
      reported_by: c.reportedBy,
      ...Object.fromEntries(own.map(({ name }) => [name, c.custom[name] ?? ''])),
    }));
  }
  if (what === 'partners')
    return each(listPartners(stores, actor, paging), (p) => ({ ...partnerFields(stores, p), state: p.state }));
  if (what === 'coupons')
    return each(listCoupons(stores, actor, { partnerId: scope.partnerId, ...paging }), (k) => ({
      code: k.code,
      partner: k.partnerCode,
      channel: k.channelCode,
      offer: k.offerCode,
      first_day: k.startsOn,
      last_day: k.endsOn,
      conversions: k.conversions,
    }));
  if (what === 'calls')
    return each(listCalls(stores, actor, scope, shelf === 'all' ? null : shelf, paging), (x) => ({
      ...{ time: time(x.time), call: x.callId, number: x.number, caller_end: x.callerEnd, place: x.place },
      ...{ partner: x.partnerName, channel: x.channelName, offer: x.offerName, click_id: x.clickId },
      ...{ answered: x.answered, seconds: x.length, outcome: x.outcome, why: x.detail },
      commission: text(x.commission, currency),
      currency,
    }));
  if (what === 'reviews')
    return each(listReviews(stores, actor, scope, shelf as ReviewRow['state'], paging), (v) => ({
      ...{ time: time(v.happened), conversion: v.conversionId, event: v.event, order: v.orderRef },
      ...{ partner: v.partnerName, channel: v.channelName },
      amount: isCurrency(v.currency) ? text(v.amount, v.currency) : '',
      currency: v.currency,
      commission: text(v.commission, currency),
      commission_currency: currency,
      score: v.score,
      seen: v.signals.map(({ why }) => why).join('; '),
      state: v.state,
      ...{ decided_by: v.decidedBy, decided_at: v.decidedAt === null ? '' : time(v.decidedAt), reason: v.reason },
    }));
  if (what === 'reconciliation')
    return each(reconciliationLines(stores, actor, Number(shelf), null, paging), (l) => ({
      ...{ line: l.line, finding: l.finding, event: l.fields.event ?? '', order: l.fields.order ?? '' },
      ...{ click_id: l.fields.click_id ?? '', conversion: l.conversionId },
      differences: l.differences.map(({ field, theirs, ours }) => `${field}: ${theirs} there, ${ours} here`).join('; '),
      ...{ decision: l.decision, decided_by: l.decidedBy },
      decided_at: l.decidedAt === null ? '' : time(l.decidedAt),
    }));
  if (what === 'channels') {
    return each(findChannels(stores, actor, { partnerId: scope.partnerId }, paging), (c) => ({
      partner: c.partnerCode,
      code: c.code,
      name: c.name,
      kind: c.kind,
      address: c.address,
      source: c.sourceId === null ? '' : (names.get(c.sourceId) ?? ''),
    }));
  }
  return each(listCommissions(stores, actor, scope, shelf as CommissionShelf, paging), (m) => ({
    day: m.day,
    commission: m.id,
    partner: m.partnerName,
    channel: m.channelName,
    offer: m.offerName,
    event: m.event,
    order: m.orderRef,
    sale: text(m.saleAmount, m.saleCurrency),
    sale_currency: m.saleCurrency,
    amount: text(m.amount - m.reversed, currency),
    currency,
    state: m.state,
    payable_on: m.payableOn,
  }));
}

/** A list of a scope as CSV (RFC 4180), in chunks, so that its size does not matter. Formulas are defused. */
export function* exportCsv(
  stores: Stores,
  actor: Actor,
  what: (typeof EXPORTS)[number],
  scope: Scope,
  shelf: string,
  filters: readonly ConversionFilter[] = [],
): Generator<string> {
  for (let offset = 0; ; offset += CHUNK) {
    const { rows } = rowsOf(stores, actor, what, scope, shelf, { limit: CHUNK, offset }, filters);
    if (rows.length > 0) yield `${Papa.unparse(rows, { newline: '\r\n', header: offset === 0 })}\r\n`;
    if (rows.length < CHUNK) return;
  }
}

/** The click log that is in view, with the columns in view, however long. Formulas are defused. */
export function* exportClicks(
  stores: Stores,
  actor: Actor,
  scope: Scope,
  query: ClickQuery,
  columns: readonly LogColumn[],
): Generator<string> {
  const { timeZone, currency } = programOf(stores, actor.programId);
  const cells = (row: ClickListRow): Row =>
    safe(Object.fromEntries(columns.map((column) => [column, clickCell(row, column, timeZone, currency)])));
  yield `${columns.join(',')}\r\n`;
  for (const rows of eachClick(stores, actor, scope, query))
    if (rows.length > 0) yield `${Papa.unparse(rows.map(cells), { newline: '\r\n', header: false })}\r\n`;
}

/** Groups that an export asks for at once, at most: the others are not held in memory meanwhile. */
const GROUPS = 100_000;

/**
 * The groups of the explorer as CSV, however many; IDs by their names, formulas defused. In the order that is asked for
 * if one question holds them all; else by their names, an order in which a group that comes in meanwhile moves none past
 * another.
 */
export async function* exportGroups(
  stores: Stores,
  actor: Actor,
  request: Omit<ExploreRequest, 'limit' | 'offset'>,
  ask: (request: ExploreRequest) => Promise<Explored> | Explored,
  most = GROUPS,
): AsyncGenerator<string> {
  const lines = groupLines(stores, actor, request.by);
  const { groups, count } = await ask({ ...request, limit: most, offset: 0 });
  if (count <= most) return yield lines(groups, true);
  let last: readonly string[] | undefined;
  for (let offset = 0; ; offset += most) {
    const { groups } = await ask({ ...request, sort: 'name', ascending: true, limit: most, offset });
    const written = last;
    const others = written ? groups.filter(({ by }) => compareNames(written, by) < 0) : groups;
    yield lines(others, offset === 0);
    if (groups.length < most) return;
    last = groups.at(-1)?.by;
  }
}

function groupLines(stores: Stores, actor: Actor, by: readonly string[]) {
  const { currency } = programOf(stores, actor.programId);
  const { partners, offers, links } = stores.books;
  const named: Record<string, (id: number) => string | undefined> = {
    partner: (id) => partners.byId(id)?.name,
    channel: (id) => partners.channel(id)?.name,
    offer: (id) => offers.byId(id)?.name,
    link: (id) => links.byId(id)?.code,
  };
  const row = ({ by: values, ...sums }: Group): Row =>
    safe({
      ...Object.fromEntries(by.map((name, i) => [name, named[name]?.(Number(values[i])) ?? values[i] ?? ''])),
      ...{ clicks: sums.clicks, unique_clicks: sums.uniques, set_aside: sums.setAside },
      ...{ conversions: sums.conversions, approved: sums.approved, decided: sums.decided },
      commission: text(sums.commission, currency),
      cost: costText(sums.cost),
      currency,
    });
  return (groups: readonly Group[], header: boolean): string => {
    const lines = groups.length === 0 ? '' : `${Papa.unparse(groups.map(row), { newline: '\r\n', header: false })}\r\n`;
    return header ? `${Papa.unparse([Object.keys(row({ by: [], ...NO_SUMS }))])}\r\n${lines}` : lines;
  };
}
