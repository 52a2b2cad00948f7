import type { OfferFields } from '@/core/offers/schema';
import { EMPTY_PLAN, type RoutingPlan } from '@/core/routing/plan';
import type { ChannelFields } from '@/core/partners/schema';

/** Larkmoor Kilns: everything here is made up. */
export const PROGRAM = {
  name: 'Larkmoor Kilns',
  timeZone: 'Europe/Amsterdam',
  country: 'NL',
  trackingOrigin: 'https://go.larkmoor.example',
  fallback: 'https://larkmoor.example/',
  minimumPayout: '50.00',
  payoutDay: 5,
  privacy: 'cut',
  takesApplications: true,
  floodMost: 12,
};

export const TERMS = `Partner terms of Larkmoor Kilns

1. You earn commission on orders, bookings, calls and installs that come through your links, by the rate sheet in force at the time of the event.
2. A commission is held until the goods can no longer be returned, or the class has taken place. What is refunded is taken back.
3. You send people who want to come. No bidding on the name Larkmoor, no extensions that fill in coupons, no links in unasked mail.
4. You carry no names or e-mail addresses in links.
5. We pay on the 5th of each month what was approved by the end of the month before, from 50 euros.
6. Either of us may end this at any time. What was earned is paid.`;

export const PEOPLE = [
  { name: 'Ines Okafor', email: 'ines@larkmoor.example', role: 'manager', password: 'kiln-and-clay' },
  { name: 'Teun Vermaat', email: 'teun@larkmoor.example', role: 'finance', password: 'glaze-by-numbers' },
] as const;

const HOSTS = ['larkmoor.example', '*.larkmoor.example'];
const offer = (
  fields: Pick<OfferFields, 'code' | 'name' | 'landingPages' | 'hold' | 'events'> & Partial<OfferFields>,
): OfferFields => ({
  state: 'live',
  startsOn: '',
  endsOn: '',
  landingHosts: HOSTS,
  appended: 'bclid={click_id}',
  clickWindowDays: 30,
  autoApprove: false,
  fallback: '',
  hideReferrer: false,
  couponFirst: false,
  creditedClick: 'last',
  ...fields,
});
export type OfferCode = 'KILNS' | 'GLAZE' | 'CLASSES' | 'PLANNER';
export const OFFERS: OfferFields[] = [
  offer({
    code: 'KILNS',
    name: 'Studio kilns',
    landingPages: [
      { name: 'All kilns', address: 'https://larkmoor.example/kilns' },
      { name: 'Kiln finder', address: 'https://larkmoor.example/kilns/finder?from={channel_code}' },
    ],
    hold: { kind: 'days', days: 21, from: 'completed' },
    events: [
      { event: 'order', repeat: 'replace', payable: true },
      {
        ...{ event: 'call', kind: 'call', name: 'Qualified call', repeat: 'ignore', payable: true },
        fields: [{ name: 'x_place', type: 'text', label: 'Place' }],
        call: {
          ...{ converts: 'length', leastSeconds: 90, repeatHours: 72, days: [1, 2, 3, 4, 5, 6] },
          ...{ opens: '08:00', closes: '21:00', mostADay: 12, mostAtOnce: 3 },
        },
      },
    ],
  }),
  offer({
    code: 'GLAZE',
    name: 'Glaze box',
    landingPages: [
      { name: 'Glaze box', address: 'https://larkmoor.example/glaze' },
      { name: 'Gift box', address: 'https://larkmoor.example/glaze/gift' },
    ],
    // Renewals come months after the click.
    clickWindowDays: 120,
    hold: { kind: 'days', days: 14, from: 'event' },
    events: [
      { event: 'order', repeat: 'ignore', payable: true },
      { event: 'renewal', kind: 'renewal', repeat: 'ignore', payable: true },
    ],
  }),
  offer({
    code: 'CLASSES',
    name: 'Classes',
    landingPages: [{ name: 'All classes', address: 'https://larkmoor.example/classes' }],
    hold: { kind: 'month', days: 20, from: 'completed' },
    events: [
      {
        ...{ event: 'booking', kind: 'booking', repeat: 'replace', payable: true },
        fields: [{ name: 'x_place', type: 'text', label: 'Place' }],
      },
    ],
  }),
  offer({
    code: 'PLANNER',
    name: 'Kiln planner app',
    landingPages: [{ name: 'Kiln planner', address: 'https://larkmoor.example/planner' }],
    hold: { kind: 'days', days: 7, from: 'event' },
    events: [
      { event: 'install', repeat: 'ignore', payable: true },
      { event: 'sign-up', repeat: 'ignore', payable: true },
    ],
    autoApprove: true,
  }),
];

type Channel = [code: string, name: string, kind: ChannelFields['kind'], offer: OfferCode, weight: number];
export interface DemoPartner {
  code: string;
  name: string;
  person?: true;
  country: string;
  currency?: string;
  ownMinimum?: string;
  notes?: string;
  state?: 'refused' | 'paused';
  group?: string;
  referrer?: string;
  /** What is known of where the partner is paid; checked unless said otherwise. */
  account?: string | null;
  unchecked?: true;
  /** How likely a click converts, as a factor on the usual. */
  quality: number;
  channels: Channel[];
}
export const PARTNERS: DemoPartner[] = [
  {
    code: 'SLOWWHEEL',
    group: 'Publishers',
    name: 'Slow Wheel Journal',
    country: 'NL',
    account: 'NL55KLEI0300073119',
    quality: 1.2,
    notes: 'Long reads, honest reviews. Asked for a longer cookie on kilns.',
    channels: [
      ['MAIN', 'Main site', 'website', 'KILNS', 60],
      ['NL-AUT', 'Autumn newsletter', 'newsletter', 'GLAZE', 34],
      ['NL-WKLY', 'Weekly letter', 'newsletter', 'CLASSES', 22],
    ],
  },
  {
    code: 'BRIGHTBID',
    group: 'Media buyers',
    name: 'Brightbid Media',
    country: 'NL',
    account: 'NL05KLEI0300088957',
    quality: 1,
    notes: 'Buys search ads; names keywords in sub-ID 1.',
    channels: [
      ['QS-GLAZE', 'Quillsearch glaze', 'search ads', 'GLAZE', 78],
      ['QS-KILN', 'Quillsearch kilns', 'search ads', 'KILNS', 64],
      ['QS-CLASS', 'Quillsearch classes', 'search ads', 'CLASSES', 30],
    ],
  },
  {
    code: 'ADWINDLE',
    group: 'Media buyers',
    name: 'Adwindle Search',
    country: 'BE',
    account: 'NL49KLEI0300136471',
    quality: 0.8,
    channels: [
      ['QS-BE', 'Quillsearch Belgium', 'search ads', 'GLAZE', 52],
      ['QS-APP', 'Quillsearch app', 'search ads', 'PLANNER', 26],
    ],
  },
  {
    code: 'COUPONVALE',
    group: 'Coupons',
    name: 'Couponvale',
    country: 'DE',
    account: 'NL21KLEI0300176066',
    quality: 1.9,
    channels: [
      ['CODES', 'Voucher pages', 'coupons', 'GLAZE', 40],
      ['DEALS', 'Deals letter', 'newsletter', 'KILNS', 12],
    ],
  },
  {
    code: 'CLAYCAST',
    group: 'Publishers',
    name: 'Claycast',
    country: 'IE',
    account: 'NL09KLEI0300302770',
    quality: 1.3,
    channels: [
      ['EP', 'Episode notes', 'podcast', 'CLASSES', 20],
      ['ADS', 'Spoken codes', 'podcast', 'GLAZE', 16],
    ],
  },
  {
    code: 'FERNHOLLOW',
    group: 'Makers',
    name: 'Fern Hollow Pottery',
    person: true,
    country: 'NL',
    account: 'NL78KLEI0300342365',
    quality: 1.4,
    channels: [
      ['VID', 'Spring video', 'video', 'CLASSES', 44],
      ['VID-K', 'Kiln build series', 'video', 'KILNS', 26],
      ['SHORTS', 'Short clips', 'social', 'PLANNER', 20],
    ],
  },
  {
    code: 'KILNCOMP',
    name: 'Kilncompare',
    country: 'NL',
    account: 'NL97KLEI0300397798',
    quality: 1.1,
    channels: [
      ['TABLE', 'Comparison table', 'comparison', 'KILNS', 50],
      ['GUIDE', 'Buying guide', 'website', 'KILNS', 18],
    ],
  },
  {
    code: 'ATELIERS',
    name: 'Atelier Atlas',
    country: 'FR',
    account: 'NL20KLEI0300698720',
    quality: 1,
    channels: [
      ['DIR', 'Studio directory', 'directory', 'CLASSES', 30],
      ['CALLS', 'Call widget', 'directory', 'KILNS', 14],
    ],
  },
  {
    code: 'MUDRING',
    group: 'Publishers',
    name: 'Mudring Collective',
    country: 'NL',
    account: 'NL89KLEI0300738315',
    quality: 1,
    notes: 'Brought in three others of this list.',
    channels: [
      ['SITE', 'Collective site', 'website', 'GLAZE', 18],
      ['FORUM', 'Forum', 'website', 'KILNS', 12],
    ],
  },
  {
    code: 'SLIPCAST',
    group: 'Publishers',
    referrer: 'MUDRING',
    name: 'Slipcast Weekly',
    country: 'NL',
    account: 'NL49KLEI0300904614',
    quality: 1.1,
    channels: [['MAIL', 'Weekly mail', 'newsletter', 'GLAZE', 20]],
  },
  {
    code: 'TERRALAB',
    group: 'Publishers',
    referrer: 'MUDRING',
    name: 'Terra Lab',
    country: 'NL',
    account: 'NL21KLEI0300944209',
    quality: 0.9,
    channels: [
      ['BLOG', 'Test kiln blog', 'website', 'KILNS', 16],
      ['GLAZES', 'Glaze recipes', 'website', 'GLAZE', 22],
    ],
  },
  {
    code: 'POTTERDEN',
    group: 'Makers',
    referrer: 'MUDRING',
    name: 'The Potter’s Den',
    person: true,
    country: 'NL',
    account: 'NL34KLEI0301062994',
    quality: 1,
    channels: [
      ['BLOG', 'Blog', 'website', 'CLASSES', 12],
      ['SOC', 'Plazafeed page', 'social', 'GLAZE', 14],
    ],
  },
  {
    code: 'HEARTH',
    name: 'Hearth & Glaze',
    country: 'GB',
    currency: 'GBP',
    account: 'GB55KLEI00000012345678',
    quality: 1,
    channels: [
      ['UK', 'UK shop guide', 'website', 'KILNS', 22],
      ['UK-NL', 'UK letter', 'newsletter', 'GLAZE', 14],
    ],
  },
  {
    code: 'RAKURIDGE',
    name: 'Raku Ridge Supply',
    country: 'US',
    currency: 'USD',
    account: '9900012345678',
    quality: 0.8,
    channels: [
      ['US', 'US catalogue', 'website', 'KILNS', 18],
      ['US-APP', 'App corner', 'app', 'PLANNER', 16],
    ],
  },
  {
    code: 'STUDIOMAP',
    name: 'Studiomap',
    country: 'NL',
    account: 'NL06KLEI0301102589',
    quality: 1.2,
    notes: 'Special terms on the open-day channel only.',
    channels: [
      ['MAP', 'Map', 'directory', 'CLASSES', 18],
      ['OPEN', 'Open days', 'directory', 'CLASSES', 16],
    ],
  },
  {
    code: 'ASHWORK',
    name: 'Ashwork Notes',
    person: true,
    country: 'NL',
    account: null,
    quality: 1.2,
    notes: 'Asked twice for payout details.',
    channels: [['BLOG', 'Ash glaze blog', 'website', 'GLAZE', 30]],
  },
  {
    code: 'ONEKILN',
    name: 'One Kiln Town',
    country: 'NL',
    account: 'NL66KLEI0301237212',
    quality: 2,
    channels: [
      ['SITE', 'Town site', 'website', 'KILNS', 44],
      ['FAIR', 'Fair pages', 'website', 'GLAZE', 24],
    ],
  },
  {
    code: 'LANTERN',
    name: 'Lanternpost Crafts',
    country: 'SE',
    account: 'NL26KLEI0301403511',
    ownMinimum: '150.00',
    quality: 0.9,
    channels: [
      ['NET', 'Newsletter network', 'newsletter', 'GLAZE', 34],
      ['NET-K', 'Kiln special', 'newsletter', 'KILNS', 16],
    ],
  },
  {
    code: 'CRAFTFEED',
    name: 'Craftfeed Social',
    country: 'NL',
    account: 'NL95KLEI0301443106',
    unchecked: true,
    quality: 0.6,
    channels: [
      ['FEED', 'Plazafeed posts', 'social', 'GLAZE', 40],
      ['STORY', 'Stories', 'social', 'PLANNER', 30],
    ],
  },
  {
    code: 'GLAZEDAYS',
    group: 'Makers',
    name: 'Glazedays',
    person: true,
    country: 'NL',
    account: 'NL45KLEI0301458944',
    quality: 0.9,
    channels: [
      ['SITE', 'Site', 'website', 'GLAZE', 12],
      ['BOX', 'Unboxing', 'video', 'GLAZE', 12],
    ],
  },
  {
    code: 'MEIRA',
    name: 'Meira Holt',
    person: true,
    country: 'NL',
    account: 'NL17KLEI0301498539',
    quality: 1,
    channels: [['WORK', 'Workshop page', 'website', 'CLASSES', 8]],
  },
  {
    code: 'OLDWHEEL',
    name: 'Old Wheel Archive',
    country: 'NL',
    account: 'NL61KLEI0301546053',
    quality: 0.7,
    state: 'paused',
    channels: [['ARCH', 'Archive', 'website', 'KILNS', 6]],
  },
  {
    code: 'BULKCLICK',
    name: 'Bulkclick Traffic',
    country: 'NL',
    account: null,
    quality: 0,
    state: 'refused',
    notes: 'Could not name a single site.',
    channels: [],
  },
];

/** Keywords of the search-ads buyers; they differ truly in how they convert. */
export const KEYWORDS: { word: string; weight: number; quality: number }[] = [
  { word: 'ash glaze', weight: 22, quality: 2.4 },
  { word: 'glaze subscription', weight: 14, quality: 1.9 },
  { word: 'celadon glaze', weight: 16, quality: 1 },
  { word: 'pottery gift', weight: 24, quality: 0.45 },
  { word: 'cheap clay', weight: 18, quality: 0.12 },
  { word: 'kiln 60 litre', weight: 12, quality: 1.6 },
  { word: 'raku class', weight: 10, quality: 1.4 },
];
export const MATCHES = ['exact', 'phrase', 'broad'];

/** The traffic source whose preset a channel's links are written with; search ads are all Quillsearch's. */
export const CHANNEL_SOURCES: Record<string, string> = {
  'CRAFTFEED/FEED': 'Plazafeed',
  'CRAFTFEED/STORY': 'Plazafeed',
  'POTTERDEN/SOC': 'Plazafeed',
  'LANTERN/NET': 'Lanternpost',
  'LANTERN/NET-K': 'Lanternpost',
};
/** Channels whose links bear a readable alias. */
export const ALIASES: Record<string, string> = {
  'CLAYCAST/ADS': 'claycast',
  'FERNHOLLOW/VID': 'fern-hollow-classes',
  'SLOWWHEEL/MAIN': 'slow-wheel-kilns',
  'CRAFTFEED/FEED': 'craftfeed-glaze',
};
/** What a source fills in, where it is not a keyword or an ID. */
export const FILLED: Record<string, readonly string[]> = {
  '{{match}}': MATCHES,
  '{{screen}}': ['phone', 'phone', 'desktop', 'tablet'],
  '{{adgroup}}': ['glaze-nl', 'glaze-be', 'brand', 'gifts'],
  '{{bid}}': ['0.18', '0.24', '0.31', '0.42'],
  '[POST]': ['p812', 'p815', 'p820'],
  '[AUDIENCE]': ['makers-25-44', 'makers-45-64', 'lookalike'],
  '[PLACE]': ['feed', 'story'],
  '%%ISSUE%%': ['2026-40', '2026-42', '2026-44', '2026-46'],
  '%%LIST%%': ['weekend', 'weekly'],
};

/** Applications that came through the public form and wait. */
export const APPLICANTS = [
  {
    name: 'Clayroom Berlin',
    kind: 'business',
    email: 'hello@clayroom.example',
    country: 'DE',
    address: 'https://clayroom.example/',
    channelKind: 'directory',
    about: 'A studio with 40 members. We would send them to your classes and kilns from our members’ page.',
    referrer: 'MUDRING',
  },
  {
    name: 'Fastdeal Extensions',
    kind: 'business',
    email: 'partners@fastdeal.example',
    country: 'EE',
    address: 'https://fastdeal.example/',
    channelKind: 'coupons',
    about: 'Browser extension that fills in coupons at the checkout of 12,000 shops.',
    referrer: '',
  },
  {
    name: 'Sponge & Rib',
    kind: 'person',
    email: 'sponge@sponge-rib.example',
    country: 'NL',
    address: 'https://sponge-rib.example/',
    channelKind: 'website',
    about: 'Hobby blog about throwing large plates, 900 readers a month.',
    referrer: 'SLOWWHEEL',
  },
] as const;

export const MAIL_COPY = {
  name: 'Autumn glaze box',
  subject: 'The autumn glaze box is here, {partner_name}',
  text: `Hello {partner_name},

the autumn box with four ash glazes ships from Monday. Your readers of {channel_name} reach it here:

{link}

The first box earns 15 %, as always. Pictures and copy are on your page.

Ines`,
};

/** How offers deal out their visitors: from which day before 'now' on, and how. */
export const ROUTING: { offer: OfferCode; daysAgo: number; reason: string; plan: RoutingPlan }[] = [
  {
    offer: 'GLAZE',
    daysAgo: 75,
    reason: 'Which page sells more boxes',
    plan: {
      ...EMPTY_PLAN,
      otherwise: {
        to: [
          { page: 'Glaze box', weight: 50, on: true },
          { page: 'Gift box', weight: 50, on: true },
        ],
        round: 1,
      },
    },
  },
  {
    offer: 'KILNS',
    daysAgo: 40,
    reason: 'Phones find a kiln sooner in the finder',
    plan: {
      ...EMPTY_PLAN,
      rules: [
        {
          ...{ id: 'r1', name: 'Belgian evenings', on: true, overOwn: false },
          when: [
            { field: 'country', is: true, values: ['BE'] },
            { field: 'hours', from: '20:00', to: '23:00' },
          ],
          mix: { to: [{ page: 'Kiln finder', weight: 100, on: true }], round: 1 },
        },
        {
          ...{ id: 'r2', name: 'Phones', on: true, overOwn: false },
          when: [{ field: 'device', is: true, values: ['phone'] }],
          mix: {
            to: [
              { page: 'Kiln finder', weight: 70, on: true },
              { page: 'All kilns', weight: 30, on: true },
            ],
            round: 1,
          },
        },
      ],
      caps: [{ of: 'clicks', per: 'day', most: 400 }],
      overflow: 'https://larkmoor.example/kilns/waiting-list',
    },
  },
];
/** How much likelier a landing page makes a sale than the others. */
export const PAGE_QUALITY: Record<string, number> = { 'Gift box': 1.45, 'Glaze box': 0.85 };
/** Codes that partners read out or print, for their channels on the glaze box. */
export const COUPONS = [
  { code: 'CLAYCAST', partner: 'CLAYCAST', channel: 'ADS' },
  { code: 'VALE10', partner: 'COUPONVALE', channel: 'CODES' },
  { code: 'UNBOX', partner: 'GLAZEDAYS', channel: 'BOX' },
] as const;
/** Addresses of hosting companies, as the program's manager was sent them. */
export const HOSTING_RANGES = '# Hosting companies\n203.0.113.64/28\n198.51.100.200/30\n2001:db8:dead::/48\n';

/** Telephone numbers of the exchange: kept for fiction. */
export const DIRECTORY_NUMBER = '+15550110';
export const VISIT_NUMBERS = ['+15550120', '+15550121', '+15550122', '+15550123', '+15550124', '+15550125'];

export const DEEP_PAGES: Record<OfferCode, string[]> = {
  KILNS: ['https://larkmoor.example/kilns/studio-60', 'https://larkmoor.example/kilns/studio-120?view=specs'],
  GLAZE: ['https://larkmoor.example/glaze/ash?size=2', 'https://larkmoor.example/glaze/celadon'],
  CLASSES: ['https://larkmoor.example/classes/raku', 'https://larkmoor.example/classes/wheel-throwing#dates'],
  PLANNER: ['https://larkmoor.example/planner/firing'],
};

export const AGENTS = [
  'Mozilla/5.0 (Windows NT 10.0; Win64; x64) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/141.0.0.0 Safari/537.36',
  'Mozilla/5.0 (iPhone; CPU iPhone OS 18_6 like Mac OS X) AppleWebKit/605.1.15 (KHTML, like Gecko) Version/18.6 Mobile/15E148 Safari/604.1',
  'Mozilla/5.0 (Linux; Android 15; Pixel 9) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/141.0.0.0 Mobile Safari/537.36',
  'Mozilla/5.0 (Macintosh; Intel Mac OS X 10_15_7) AppleWebKit/605.1.15 (KHTML, like Gecko) Version/18.6 Safari/605.1.15',
  'Mozilla/5.0 (X11; Linux x86_64; rv:143.0) Gecko/20100101 Firefox/143.0',
];
export const BOT_AGENTS = [
  'linkchecker/10.2',
  'Mozilla/5.0 (compatible; ExampleBot/2.1; +https://bot.example/about)',
  'python-requests/2.32',
];

export const REFERRERS = [
  'https://slowwheel.example/review',
  'https://quillsearch.example/',
  'https://plazafeed.example/p/812',
  'https://lanternpost.example/i/44',
];
