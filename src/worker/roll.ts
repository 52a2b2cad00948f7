import { reportedState } from '@/core/reports/counting';
import { dayOf } from '@/core/time/days';
import { factsOf } from '@/services/click_facts';
import type { Stores } from '@/services/stores';
import type { Books } from '@/store/books';
import type { ConversionListRow } from '@/store/books/conversions';
import type { ClickFigures, DailyKey, RollupWriter } from '@/store/rollups';
import type { RolledClick, TrafficReader } from '@/store/traffic';

/** One row a day and link for all clicks of a batch, instead of one write a click. */
class Daily {
  private readonly rows = new Map<string, DailyKey & ClickFigures>();

  add({ programId, partnerId, channelId, offerId, linkId, setAside, isUnique }: RolledClick, day: string): void {
    const key = `${linkId} ${day}`;
    let row = this.rows.get(key);
    if (!row) {
      row = { programId, partnerId, channelId, offerId, linkId, day, counted: 0, uniques: 0, setAside: 0 };
      this.rows.set(key, row);
    }
    if (setAside !== null) row.setAside += 1;
    else {
      row.counted += 1;
      row.uniques += isUnique;
    }
  }
  writeTo(rollups: RollupWriter): void {
    for (const row of this.rows.values()) rollups.addDaily(row);
  }
}

const zonesOf = (books: Books): Map<number, string> =>
  new Map(books.programs.all().map(({ id, timeZone }) => [id, timeZone]));

/**
 * Derives the rollups of the next clicks; the position is stored with them.
 * @returns how many clicks were read; fewer than `limit` means that the end is reached
 */
export function rollClicks(traffic: TrafficReader, books: Books, rollups: RollupWriter, limit = 2000): number {
  const clicks = traffic.clicksToRoll(rollups.positions.get('clicks'), limit);
  const last = clicks.at(-1);
  if (!last) return 0;
  const zones = zonesOf(books);
  const daily = new Daily();
  rollups.inTransaction(() => {
    for (const click of clicks) {
      const facts = factsOf(click, zones.get(click.programId) ?? 'UTC', books);
      rollups.writeClicks.insert(click.seq, facts);
      daily.add(click, facts.day);
    }
    daily.writeTo(rollups);
    rollups.writeClicks.packFull();
    rollups.positions.set('clicks', last.seq);
  });
  return clicks.length;
}

/**
 * Reads again the conversions that changed, with what is known of their clicks.
 * @returns how many changes were read
 */
export function rollConversions(stores: Stores, rollups: RollupWriter, limit = 1000): number {
  const { books } = stores;
  const changes = books.conversions.changesAfter(rollups.positions.get('conversions'), limit);
  const last = changes.at(-1);
  if (!last) return 0;
  const zones = zonesOf(books);
  rollups.inTransaction(() => {
    for (const id of new Set(changes.map(({ conversionId }) => conversionId))) {
      const conversion = books.conversions.byId(id);
      if (conversion?.partnerId === null || !conversion) rollups.writeConversions.remove(id);
      else rollups.writeConversions.put(conversionFacts(stores, conversion, zones.get(conversion.programId) ?? 'UTC'));
    }
    rollups.positions.set('conversions', last.seq);
  });
  return changes.length;
}

/** Packs conversions that rest, a block at a time. @returns whether there was one to pack */
export const packConversions = (rollups: RollupWriter): boolean =>
  rollups.inTransaction(() => rollups.writeConversions.packOne());

/** A conversion that has no click, such as one by coupon, is known by partner, channel and offer alone. */
function conversionFacts({ traffic, books }: Stores, conversion: ConversionListRow, zone: string) {
  const { id, event, clickId, programId, partnerId, channelId, offerId, linkId, time } = conversion;
  const click = clickId === null ? undefined : traffic.click(clickId);
  const facts = factsOf(click ?? NO_CLICK, zone, books);
  const idText = (of: number | null): string => (of === null ? '' : String(of));
  return {
    ...facts,
    ...{ id, event, day: dayOf(time, zone), program: String(programId) },
    ...{ partner: idText(partnerId), channel: idText(channelId), offer: idText(offerId), link: idText(linkId) },
    state: reportedState(conversion.commissionState ?? conversion.state),
    commission:
      conversion.commissionState === 'rejected'
        ? 0
        : (conversion.commission ?? 0) - (conversion.commissionReversed ?? 0),
  };
}

const NO_CLICK: RolledClick = {
  ...{ seq: 0, time: 0, linkId: 0, partnerId: 0, channelId: 0, offerId: 0, programId: 0 },
  ...{ isUnique: 0, setAside: null, flags: null, via: '', query: '', referrer: null, agent: null },
  ...{ language: null, client: null, country: null, rule: null, page: null },
};
