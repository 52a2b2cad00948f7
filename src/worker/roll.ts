import Bowser from 'bowser';
import { type ReadNames, readNames, readQuery } from '@/core/links/parts';
import { dayOf } from '@/core/time/days';
import type { Books } from '@/store/books';
import type { LoggedClick, RollupWriter } from '@/store/rollups';
import type { StoredClick, TrafficReader } from '@/store/traffic';

type Machine = Pick<LoggedClick, 'device' | 'os' | 'browser'>;

const machines = new Map<string, Machine>();

/** Device, system and browser by user agent; a few thousand agents make up nearly all traffic, so they are kept. */
function machineOf(agent: string | null): Machine {
  if (!agent) return { device: 'unknown', os: 'unknown', browser: 'unknown' };
  let machine = machines.get(agent);
  if (!machine) {
    const { platform, os, browser } = Bowser.parse(agent);
    machine = { device: platform.type ?? 'unknown', os: os.name ?? 'unknown', browser: browser.name || 'unknown' };
    if (machines.size >= 5000) machines.clear();
    machines.set(agent, machine);
  }
  return machine;
}

const MOST_LINKS = 100_000;
/** By link: what its source calls its values. A link keeps the names it was issued with. */
const known = new WeakMap<Books, Map<number, ReadNames | undefined>>();
function namesOf(books: Books, linkId: number): ReadNames | undefined {
  const names = known.get(books) ?? new Map<number, ReadNames | undefined>();
  known.set(books, names);
  if (!names.has(linkId)) {
    if (names.size >= MOST_LINKS) names.clear();
    names.set(linkId, readNames(books.links.byId(linkId)?.parts.names));
  }
  return names.get(linkId);
}

function logged(click: StoredClick, zone: string, books: Books): LoggedClick {
  const { slots } = readQuery(click.query, namesOf(books, click.linkId));
  const { seq, clickId, time, programId, linkId, partnerId, channelId, offerId, isUnique, setAside } = click;
  return {
    ...{ seq, clickId, time, programId, linkId, partnerId, channelId, offerId, isUnique, setAside },
    day: dayOf(time, zone),
    flags: click.flags ?? '',
    sub1: slots.sub1 ?? null,
    sub2: slots.sub2 ?? null,
    sub3: slots.sub3 ?? null,
    sub4: slots.sub4 ?? null,
    sub5: slots.sub5 ?? null,
    ...machineOf(click.agent),
  };
}

/**
 * Derives the rollups of the next clicks; the position is stored with them.
 * @returns how many clicks were read; fewer than `limit` means that the end is reached
 */
export function rollClicks(traffic: TrafficReader, books: Books, rollups: RollupWriter, limit = 2000): number {
  const clicks = traffic.clicksAfter(rollups.positions.get('clicks'), limit);
  const last = clicks.at(-1);
  if (!last) return 0;
  const zones = new Map(books.programs.all().map(({ id, timeZone }) => [id, timeZone]));
  rollups.inTransaction(() => {
    for (const click of clicks) rollups.add(logged(click, zones.get(click.programId) ?? 'UTC', books));
    rollups.positions.set('clicks', last.seq);
  });
  return clicks.length;
}
