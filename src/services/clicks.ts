import { type ParameterNames, readNames, readQuery } from '@/core/links/parts';
import { splitRecorded } from '@/core/links/proof';
import { passing } from '@/core/reports/block';
import type { ClickFacts, Filter } from '@/core/reports/columns';
import { countClicks } from '@/core/reports/counting';
import { Grouping } from '@/core/reports/group';
import type { Paging } from '@/store/database';
import type { ScopeFilter } from '@/store/books/scope';
import { openRollupsForReading } from '@/store/rollups';
import type { StoredClick } from '@/store/traffic';
import { type Actor, requireOwn } from './actor';
import { type ClickShelf, predicatesOf, predicatesWithin, withParts } from './click_blocks';
import { factsOf } from './click_facts';
import { once } from './once';
import { type Scope, filterFor } from './scope';
import { type Stores, programOf } from './stores';

/** What of the clicks in scope is looked at. */
export interface ClickQuery {
  readonly shelf: ClickShelf;
  readonly filters: readonly Filter[];
  /** A list that is held: newer clicks are left out. */
  readonly upto?: number;
}
export interface ClickListRow extends StoredClick {
  readonly facts: ClickFacts;
  readonly linkCode: string;
  readonly partnerName: string;
  readonly channelName: string;
  readonly offerName: string;
  /** What the link's source calls its values. */
  readonly names: ParameterNames;
  /** Commission of its conversions in minor units; undefined where it has none. */
  earned(): number | undefined;
}
export interface ClickPage {
  readonly rows: ClickListRow[];
  /** Whether there are older ones. How many in all is another question, which takes longer: `countMatching`. */
  readonly more: boolean;
  /** Number of the newest click there is, whatever is looked at. */
  readonly newest: number;
}

/** Turns stored clicks into rows of the log. */
export function rowReader({ books }: Stores, zone: string): (click: StoredClick) => ClickListRow {
  const link = once((id) => books.links.byId(id));
  const partner = once((id) => books.partners.byId(id)?.name ?? `${id}`);
  const channel = once((id) => books.partners.channel(id)?.name ?? `${id}`);
  const offer = once((id) => books.offers.byId(id)?.name ?? `${id}`);
  return (click) => ({
    ...click,
    facts: factsOf(click, zone, books),
    linkCode: link(click.linkId)?.code ?? `${click.linkId}`,
    names: link(click.linkId)?.parts.names ?? {},
    partnerName: partner(click.partnerId),
    channelName: channel(click.channelId),
    offerName: offer(click.offerId),
    earned: () => books.conversions.earnedByClick(click.clickId),
  });
}

/** Clicks of a block that pass: how many, and the numbers of some of them, newest first. */
interface Matching {
  readonly count: number;
  seqs(from: number, most: number): number[];
}

function* matching(stores: Stores, filter: ScopeFilter, query: ClickQuery): Generator<Matching> {
  const { upto } = query;
  for (const plain of stores.rollups.clicks.between(filter.from, filter.to)) {
    const block = withParts(stores, plain);
    const rows = passing(block, predicatesWithin(block, filter, query.shelf, query.filters));
    const end = upto === undefined ? block.rows : firstBeyond(block.rows, (row) => block.seqAt(row) > upto);
    const count = rows ? firstBeyond(rows.length, (i) => (rows[i] ?? 0) >= end) : end;
    yield {
      count,
      seqs(from, most) {
        const seqs: number[] = [];
        for (let i = count - 1 - from; i >= 0 && seqs.length < most; i--) seqs.push(block.seqAt(rows?.[i] ?? i));
        return seqs;
      },
    };
  }
}

/** The first place of many that is beyond something; all after it are as well. */
function firstBeyond(places: number, isBeyond: (place: number) => boolean): number {
  let [low, high] = [0, places];
  while (low < high) {
    const middle = (low + high) >>> 1;
    if (isBeyond(middle)) high = middle;
    else low = middle + 1;
  }
  return low;
}

/** A page of the click log, newest first. */
export function listClicks(stores: Stores, actor: Actor, scope: Scope, query: ClickQuery, paging: Paging): ClickPage {
  const filter = filterFor(actor, scope);
  const seqs: number[] = [];
  stores.rollups.atOnce(() => {
    let passed = 0;
    for (const found of matching(stores, filter, query)) {
      const from = Math.max(0, paging.offset - passed);
      const wanted = paging.limit + 1 - seqs.length;
      if (found.count > from) seqs.push(...found.seqs(from, wanted));
      if (seqs.length > paging.limit) break;
      passed += found.count;
    }
  });
  const read = rowReader(stores, programOf(stores, actor.programId).timeZone);
  return {
    more: seqs.length > paging.limit,
    newest: stores.rollups.positions.get('clicks'),
    rows: seqs.slice(0, paging.limit).flatMap((seq) => {
      const click = stores.traffic.clickBySeq(seq);
      return click ? [read(click)] : [];
    }),
  };
}

/** How many clicks a query finds. Reads every block of the scope: for a thread of its own. */
export function countMatching(stores: Stores, actor: Actor, scope: Scope, query: ClickQuery): number {
  const filter = filterFor(actor, scope);
  return stores.rollups.atOnce(() => {
    let total = 0;
    for (const { count } of matching(stores, filter, query)) total += count;
    return total;
  });
}

const CHUNK = 1000;

/** The whole log in pieces, newest first, however long it is: only the numbers of a block are held at a time. */
export function* eachClick(stores: Stores, actor: Actor, scope: Scope, query: ClickQuery): Generator<ClickListRow[]> {
  const read = rowReader(stores, programOf(stores, actor.programId).timeZone);
  // A connection of its own reads one moment for as long as it takes; others go on meanwhile.
  const rollups = openRollupsForReading(stores.rollups.db.name);
  try {
    rollups.db.exec('BEGIN');
    for (const found of matching({ ...stores, rollups }, filterFor(actor, scope), query)) {
      const seqs = found.seqs(0, found.count);
      for (let at = 0; at < seqs.length; at += CHUNK)
        yield seqs.slice(at, at + CHUNK).flatMap((seq) => {
          const click = stores.traffic.clickBySeq(seq);
          return click ? [read(click)] : [];
        });
    }
  } finally {
    rollups.db.close();
  }
}

/** The newest counted click of a channel on an offer. */
export function newestClick(
  stores: Stores,
  programId: number,
  channelId: number,
  offerId: number,
): StoredClick | undefined {
  const filter = { programId, channelId, offerId, partnerId: null, from: '0000-01-01', to: '9999-12-31' };
  return stores.rollups.atOnce(() => {
    for (const found of matching(stores, filter, { shelf: 'counted', filters: [] })) {
      const [seq] = found.seqs(0, 1);
      if (seq !== undefined) return stores.traffic.clickBySeq(seq);
    }
    return undefined;
  });
}

/** How many clicks were set aside for which reason. */
export function setAsideReasons(stores: Stores, actor: Actor, scope: Scope): { reason: string; count: number }[] {
  const filter = filterFor(actor, scope);
  const grouping = new Grouping(['set_aside'], predicatesOf(filter, 'set_aside', []));
  stores.rollups.atOnce(() => {
    for (const block of stores.rollups.clicks.between(filter.from, filter.to)) grouping.add(block, countClicks);
  });
  return grouping
    .result()
    .map(({ by: [reason = ''], setAside }) => ({ reason, count: setAside }))
    .sort((a, b) => b.count - a.count);
}

export interface ClickDetail extends StoredClick {
  values: Record<string, string>;
  /** The parts of composite values: "sub2.match". */
  split: Record<string, string>;
  names: ParameterNames;
  facts: ClickFacts;
}

/** A click as it came, with its values read from the query. */
export function readClick(stores: Stores, actor: Actor, clickId: string): ClickDetail {
  const click = requireOwn(stores, actor, stores.traffic.click(clickId), `click ${clickId}`);
  const parts = stores.books.links.byId(click.linkId)?.parts;
  const { slots, cost, to } = readQuery(click.query, readNames(parts?.names));
  return {
    ...click,
    values: { ...slots, ...(cost !== undefined && { cost }), ...(to !== undefined && { to }) },
    split: splitRecorded(parts?.values ?? {}, slots),
    names: parts?.names ?? {},
    facts: factsOf(click, programOf(stores, click.programId).timeZone, stores.books),
  };
}
