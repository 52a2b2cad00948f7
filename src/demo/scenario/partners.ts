import type { ChannelFields } from '@/core/partners/schema';
import type { OfferCode } from './offers';

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
