import { rateConversion, type RatingInput } from '@/core/commissions/rate';
import { currency } from '@/core/money/currency';
import { demoSheet } from '@/demo/terms';
import type { Measure } from './main';

const COUNT = 600_000;
const EUR = currency('EUR');
const OFFERS = { KILNS: 1, GLAZE: 2, CLASSES: 3, PLANNER: 4 };
const EVENTS = ['order', 'call', 'order', 'renewal', 'booking', 'install'];

const inputs: RatingInput[] = Array.from({ length: 1000 }, (_, i) => ({
  offerId: (i % 4) + 1,
  event: EVENTS[i % EVENTS.length] ?? 'order',
  partnerId: i % 26,
  channelId: i % 60,
  renewal: i % 12,
  callLength: i % 300,
  program: EUR,
  volumes: { classes: { count: i % 30, base: i * 8000 } },
  figures: {
    currency: EUR,
    amount: 4362 + i * 17,
    tax: 757,
    shipping: 405,
    discount: i % 7 === 0 ? 150 : 0,
    items:
      i % 3 === 0
        ? [
            { sku: 'a', quantity: 2, price: 1450 + i },
            { sku: 'b', quantity: 1, price: 900 },
          ]
        : [],
  },
}));

/** Rating on one core, the explanation of every amount included, by the rate sheet of the scenario. */
export function benchRating(): Promise<Measure[]> {
  const sheet = { version: 1, rows: demoSheet((code) => OFFERS[code], 7) };
  const rate = (count: number): number => {
    let sum = 0;
    for (let i = 0; i < count; i++) {
      const input = inputs[i % inputs.length];
      const rating = input && rateConversion(sheet, input);
      if (rating?.kind === 'rated') sum += rating.amount.minor;
    }
    return sum;
  };
  rate(50_000);
  const memory = process.memoryUsage().heapUsed;
  const started = performance.now();
  const sum = rate(COUNT);
  const perSecond = COUNT / ((performance.now() - started) / 1000);
  const grown = (process.memoryUsage().heapUsed - memory) / 1024 / 1024;
  if (sum <= 0) throw new Error('The rated amounts came to nothing.');
  return Promise.resolve([
    {
      what: 'conversions rated and explained a second, one core',
      value: Math.round(perSecond).toLocaleString('en'),
      reach: '≥ 300,000',
      reached: perSecond >= 300_000,
    },
    { what: 'heap grown meanwhile (MiB)', value: grown.toFixed(1), reach: '≤ 64', reached: grown <= 64 },
  ]);
}
