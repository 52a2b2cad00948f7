import type { RateSheet } from '@/core/commissions/sheet';
import type { OfferCode } from './scenario/offers';

/** The rate sheet of the scenario, from the top: the first row that matches pays. */
export const demoSheet = (offer: (code: OfferCode) => number, specialChannel: number): RateSheet['rows'] => [
  {
    id: 'open-days',
    label: 'Open days of Studiomap, special terms',
    when: { offerId: offer('CLASSES'), event: 'booking', channelId: specialChannel },
    pay: { kind: 'percent', rate: 180_000 },
  },
  {
    id: 'kilns-dear',
    label: 'Kilns above €2,000',
    when: { offerId: offer('KILNS'), event: 'order', leastAmount: 200_001 },
    pay: { kind: 'percent', rate: 60_000 },
  },
  {
    id: 'kilns',
    label: 'Kilns and kiln goods',
    when: { offerId: offer('KILNS'), event: 'order' },
    pay: { kind: 'percent', rate: 40_000 },
  },
  {
    id: 'calls',
    label: 'Qualified call, 90 s or longer',
    when: { offerId: offer('KILNS'), event: 'call', leastCallLength: 90 },
    pay: { kind: 'fixed', amount: 1800, per: 'conversion' },
  },
  {
    id: 'box-first',
    label: 'Glaze box, first box',
    when: { offerId: offer('GLAZE'), event: 'order' },
    pay: { kind: 'percent', rate: 150_000 },
  },
  {
    id: 'box-renewals',
    label: 'Glaze box, renewals 2 to 12',
    when: { offerId: offer('GLAZE'), event: 'renewal', renewalFrom: 2, renewalTo: 12 },
    pay: { kind: 'percent', rate: 80_000 },
  },
  {
    id: 'classes',
    label: 'Class bookings of the month',
    when: { offerId: offer('CLASSES'), event: 'booking' },
    pay: {
      kind: 'bands',
      by: 'count',
      bands: [
        { upTo: 20, rate: 120_000 },
        { upTo: null, rate: 150_000 },
      ],
    },
  },
  {
    id: 'install',
    label: 'App install',
    when: { offerId: offer('PLANNER'), event: 'install' },
    pay: { kind: 'fixed', amount: 80, per: 'conversion' },
  },
  {
    id: 'sign-up',
    label: 'App sign-up',
    when: { offerId: offer('PLANNER'), event: 'sign-up' },
    pay: { kind: 'fixed', amount: 250, per: 'conversion' },
  },
];
