import { createChannel, findChannels } from '@/services/channels';
import { listDestinations } from '@/services/destinations';
import { linksJob } from '@/services/jobs/links';
import { lineFigures } from '@/services/line';
import { issueContext, listLinks, storeLink } from '@/services/links';
import { mergedMail } from '@/services/mail_copy';
import { createPartner, listPartners, setPartnerState } from '@/services/partners';
import { readScope } from '@/services/scope';
import { search } from '@/services/search';
import { today } from '@/services/today';
import { type World, WorldOnDisk } from '../support/world';
import type { Measure } from './main';

const PARTNERS = 5000;
const CHANNELS_EACH = 4;
const LINKS_EACH = 5;
const LINES = 10_000;
const ROUNDS = 7;

/** A program of 5,000 partners, 20,000 channels and 100,000 links, made through the services. */
function fill(world: World): void {
  const { stores, owner, link } = world;
  const context = issueContext(stores, owner);
  const [offer] = context.offers;
  if (!offer) throw new Error('The program has no offer.');
  stores.books.inTransaction(() => {
    for (let i = 0; i < PARTNERS; i++) {
      const code = `P${i}`;
      const fields = {
        code,
        name: `Partner ${i} of ${i % 97}`,
        kind: 'business',
        email: `p${i}@p.example`,
        country: 'NL',
      };
      const partner = createPartner(stores, owner, { ...fields, payoutCurrency: 'EUR', group: `Group ${i % 20}` });
      setPartnerState(stores, owner, partner.id, 'active');
      for (let c = 0; c < CHANNELS_EACH; c++) {
        const channel = createChannel(stores, owner, partner.id, {
          code: `C${c}`,
          name: `Channel ${c} of ${i}`,
          kind: 'website',
        });
        for (let l = 0; l < LINKS_EACH; l++)
          storeLink(
            stores,
            owner,
            context,
            { partner: { ...partner, state: 'active' }, channel, offer },
            {
              ...{ kind: 'deep', partnerId: partner.id, channelId: channel.id, offerId: link.offerId, landing: '' },
              ...{
                to: `https://larkmoor.example/p/${(i * 7 + l) % 3000}`,
                values: { sub1: { kind: 'fixed', text: `s${l}` } },
              },
              ...{ alias: '', labels: { campaign: `Campaign ${i % 40}` }, utm: {}, utmForm: 'short' },
            },
          );
      }
    }
  });
}

const median = (times: number[]): number => [...times].sort((a, b) => a - b)[Math.floor(times.length / 2)] ?? NaN;

/** How long lists and pickers take in a large program, and ten thousand lines issued into it. */
export function benchScale(): Promise<Measure[]> {
  using world = new WorldOnDisk();
  const { stores, owner } = world;
  console.log('scale: making 5,000 partners, 20,000 channels, 100,000 links');
  fill(world);
  const scope = readScope(stores, owner, {});
  const first = { limit: 30, offset: 0 };
  const page = { limit: 50, offset: 0 };
  const works: [string, () => unknown, number?][] = [
    [
      'picker of partners, by a part of the name',
      () => listPartners(stores, owner, { text: '4321', state: 'active', ...first }),
    ],
    ['picker of channels, by a part of the name', () => findChannels(stores, owner, { text: '3 of 43' }, first)],
    ['picker of channels, nothing typed', () => findChannels(stores, owner, {}, first)],
    ['links, first page', () => listLinks(stores, owner, scope, page)],
    ['links, page 1,000', () => listLinks(stores, owner, scope, { limit: 50, offset: 50_000 })],
    ['links found by a part of the page', () => listLinks(stores, owner, scope, page, '/p/2999')],
    ['links of one partner', () => listLinks(stores, owner, { ...scope, partnerId: 2500 }, page)],
    ['partners, page 50', () => listPartners(stores, owner, { limit: 50, offset: 2500 })],
    ['figures of the Line', () => lineFigures(stores, owner, scope)],
    ['Today', () => today(stores, owner)],
    ['Ctrl K', () => search(stores, owner, 'partner 43')],
    ['destinations, first page', () => listDestinations(stores, owner, {}, page)],
    [
      'mail copy merged for every partner',
      () =>
        mergedMail(stores, owner, {
          name: 'x',
          subject: '{partner_name}',
          text: '{link}',
          offerId: world.link.offerId,
          to: '',
        }),
      1000,
    ],
  ];
  const measures = works.map(([what, work, most = 100]): Measure => {
    const times = Array.from({ length: ROUNDS }, () => {
      const started = performance.now();
      work();
      return performance.now() - started;
    });
    const took = median(times);
    return { what: `${what} (ms)`, value: took.toFixed(1), reach: `≤ ${most}`, reached: took <= most };
  });
  const text = [
    'partner,channel,destination',
    ...Array.from({ length: LINES }, (_, i) => `P${i % PARTNERS},C${i % 4},https://larkmoor.example/new/${i}`),
  ].join('\n');
  const started = performance.now();
  const lines = linksJob(
    stores,
    owner,
    { form: 'lines', text, defaults: { offerId: world.link.offerId } },
    true,
    () => undefined,
  );
  const seconds = (performance.now() - started) / 1000;
  if (!lines.every(({ outcome }) => outcome === 'new')) throw new Error('Not every line was issued.');
  measures.push({ what: '10,000 lines issued (s)', value: seconds.toFixed(1), reach: '≤ 10', reached: seconds <= 10 });
  return Promise.resolve(measures);
}
