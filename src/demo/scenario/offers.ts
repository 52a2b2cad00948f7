import type { OfferFields } from '@/core/offers/schema';
import { EMPTY_PLAN, type RoutingPlan } from '@/core/routing/plan';

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

export const DEEP_PAGES: Record<OfferCode, string[]> = {
  KILNS: ['https://larkmoor.example/kilns/studio-60', 'https://larkmoor.example/kilns/studio-120?view=specs'],
  GLAZE: ['https://larkmoor.example/glaze/ash?size=2', 'https://larkmoor.example/glaze/celadon'],
  CLASSES: ['https://larkmoor.example/classes/raku', 'https://larkmoor.example/classes/wheel-throwing#dates'],
  PLANNER: ['https://larkmoor.example/planner/firing'],
};
