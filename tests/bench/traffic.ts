import { type World, WorldOnDisk } from '../support/world';
import { EMPTY_PLAN } from '@/core/routing/plan';
import { DAY_MS } from '@/core/time/days';
import { IdSource } from '@/edge/ids';
import { readOffer, updateOffer } from '@/services/offers';
import { savePlan } from '@/services/routing';
import type { ClickRow } from '@/store/traffic';

/** Sizes of the generated set; by `--clicks N` and `--conversions N`. */
export interface Sizes {
  readonly clicks: number;
  readonly conversions: number;
}
export const DAYS = 120;
const PARTNERS = 40;
const BATCH = 20_000;
const AGENTS = [
  'Mozilla/5.0 (Windows NT 10.0; Win64; x64) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/141.0.0.0 Safari/537.36',
  'Mozilla/5.0 (iPhone; CPU iPhone OS 18_6 like Mac OS X) AppleWebKit/605.1.15 Version/18.6 Mobile/15E148 Safari/604.1',
  'Mozilla/5.0 (Linux; Android 15; Pixel 9) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/141.0.0.0 Mobile Safari/537.36',
  'Mozilla/5.0 (X11; Linux x86_64; rv:143.0) Gecko/20100101 Firefox/143.0',
];
const LANGUAGES = ['nl-NL,nl;q=0.9', 'en-GB,en;q=0.8', 'de-DE', 'fr-FR'];

/** The same numbers in every run. */
export function chance(seed: number): (below: number) => number {
  let state = seed;
  return (below) => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
    return Math.floor(((state >>> 8) / 0x1_00_00_00) * below);
  };
}
/** Few words come often, many come now and then. */
const word = (any: (below: number) => number, prefix: string, count: number): string =>
  `${prefix}${Math.floor(count * (any(1000) / 1000) ** 3)}`;

/** A program with partners, routing and a cap, as the measures want it. */
export function benchWorld(): World {
  const world = new WorldOnDisk();
  const { id, programId: _, ...offer } = readOffer(world.stores, world.owner, world.link.offerId);
  const landingPages = ['Glaze box', 'Gift'].map((name, i) => ({ name, address: `https://larkmoor.example/${i}` }));
  updateOffer(world.stores, world.owner, id, { ...offer, landingPages, clickWindowDays: 365 });
  savePlan(world.stores, world.owner, id, {
    plan: {
      ...EMPTY_PLAN,
      rules: [
        {
          ...{ id: 'r1', name: 'Belgium', on: true, overOwn: false },
          when: [{ field: 'country', is: true, values: ['BE'] }],
          mix: { to: [{ page: 'Gift', weight: 1, on: true }], round: 1 },
        },
      ],
      otherwise: { to: landingPages.map(({ name: page }) => ({ page, weight: 50, on: true })), round: 1 },
      caps: [{ of: 'clicks', per: 'day', most: 1_000_000_000 }],
    },
  });
  return world;
}

/** Fills the traffic as the edge would have left it, with clicks spread over 120 days. @returns every n-th click ID */
export function generateClicks(world: World, { clicks, conversions }: Sizes): { id: string; time: number }[] {
  const any = chance(20261124);
  const ids = new IdSource((block) => block.forEach((__, i) => (block[i] = any(256))));
  const links = [world.link, ...Array.from({ length: PARTNERS - 1 }, (__, i) => world.newLink(`P${i}`))];
  const start = world.clock - DAYS * DAY_MS;
  const every = Math.max(1, Math.floor(clicks / Math.max(1, conversions)));
  const sold: { id: string; time: number }[] = [];
  world.traffic.db.pragma('synchronous = OFF');
  for (let done = 0; done < clicks; done += BATCH)
    world.traffic.commitTogether(() => {
      for (let i = done; i < Math.min(clicks, done + BATCH); i++) {
        const time = Math.floor(start + (i / clicks) * DAYS * DAY_MS);
        const link = links[Math.floor(links.length * (any(1000) / 1000) ** 2)] ?? world.link;
        const page = any(2);
        const row: ClickRow = {
          clickId: ids.ulid(time),
          ...{ time, linkId: link.id, partnerId: link.partnerId, channelId: link.channelId, offerId: link.offerId },
          programId: world.programId,
          visitor: ids.visitor(),
          isUnique: any(10) > 0 ? 1 : 0,
          setAside: any(40) === 0 ? 'bot' : null,
          flags: any(100) === 0 ? 'unfilled:sub2' : null,
          via: 'landing_page',
          address: `https://larkmoor.example/${page}?bclid=01KB0000000000000000000000`,
          query: `sub1=${word(any, 'keyword%20', 3000)}&sub2=${any(3)}~${any(3)}&sub3=ad${any(400)}&pcid=q${i.toString(36)}&cost=0.${10 + any(40)}`,
          referrer: any(3) === 0 ? `https://site${any(50)}.example/page` : null,
          agent: AGENTS[any(AGENTS.length)] ?? null,
          language: LANGUAGES[any(LANGUAGES.length)] ?? null,
          client: `10.${any(200)}.${any(200)}.0`,
          country: ['NL', 'BE', 'DE', 'FR', 'GB'][any(5)] ?? null,
          rule: 'default',
          page: page === 0 ? 'Glaze box' : 'Gift',
        };
        world.traffic.insertClick(row);
        if (i % every === 0 && row.setAside === null) sold.push({ id: row.clickId, time });
      }
    });
  world.traffic.db.pragma('synchronous = FULL');
  return sold;
}

/** Reports a conversion for each of the clicks, as the edge would have stored them. */
export function generatePostbacks(world: World, sold: readonly { id: string; time: number }[]): void {
  const ids = new IdSource();
  world.traffic.db.pragma('synchronous = OFF');
  for (let done = 0; done < sold.length; done += BATCH)
    world.traffic.commitTogether(() => {
      for (const [i, { id, time }] of sold.slice(done, done + BATCH).entries())
        world.traffic.insertPostback({
          receiptId: ids.ulid(time + 60_000),
          ...{
            time: time + 60_000,
            programId: world.programId,
            method: 'GET',
            via: 'server',
            about: 'conversion',
            contentType: null,
            body: '',
            client: null,
          },
          query: `key=${world.key}&click_id=${id}&event=order&order=B${done + i}&amount=${20 + (i % 80)}.00`,
        });
    });
  world.traffic.db.pragma('synchronous = FULL');
}
