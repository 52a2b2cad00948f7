import { readCost } from '@/core/clicks/cost';
import { firstLanguage, machineOf } from '@/core/clicks/machine';
import { type ReadNames, readNames, readQuery } from '@/core/links/parts';
import type { ClickFacts } from '@/core/reports/columns';
import { wallClock } from '@/core/time/zones';
import type { Books } from '@/store/books';
import type { RolledClick } from '@/store/traffic';
import { countryOf } from './countries';

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

const hostOf = (referrer: string | null): string =>
  /^https?:\/\/(?:[^/?#@]*@)?([^/?#:]{1,100})/i.exec(referrer ?? '')?.[1]?.toLowerCase() ?? '';

/** Everything reports and the log know of a click, read from what arrived. The same click always reads the same. */
export function factsOf(click: RolledClick, zone: string, books: Books): ClickFacts {
  const { slots, cost } = readQuery(click.query, namesOf(books, click.linkId));
  const { day, minute } = wallClock(click.time, zone);
  const { device, os, browser } = machineOf(click.agent);
  return {
    program: String(click.programId),
    day,
    hour: String(Math.floor(minute / 60)).padStart(2, '0'),
    partner: String(click.partnerId),
    channel: String(click.channelId),
    offer: String(click.offerId),
    link: String(click.linkId),
    sub1: slots.sub1 ?? '',
    sub2: slots.sub2 ?? '',
    sub3: slots.sub3 ?? '',
    sub4: slots.sub4 ?? '',
    sub5: slots.sub5 ?? '',
    pcid: slots.pcid ?? '',
    one1: slots.one1 ?? '',
    one2: slots.one2 ?? '',
    one3: slots.one3 ?? '',
    country: click.country ?? countryOf(click.client),
    device,
    os,
    browser,
    language: firstLanguage(click.language),
    referrer: hostOf(click.referrer),
    via: click.via,
    rule: click.rule ?? '',
    page: click.page ?? '',
    unique: click.setAside !== null ? '' : click.isUnique === 1 ? 'unique' : 'repeat',
    set_aside: click.setAside ?? '',
    flags: click.flags ?? '',
    cost: String(readCost(cost) ?? ''),
  };
}
