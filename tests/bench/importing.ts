import { conversionsJob } from '@/services/recording';
import type { FileReading } from '@/core/conversions/file';
import type { Measure } from './main';
import { benchWorld } from './traffic';

const LINES = 100_000;
const CLICKS = 20_000;
const READING: FileReading = {
  ...{ delimiter: ';', decimal: ',', dates: 'dmy', event: 'order' },
  columns: ['order', 'amount', 'tax', 'click_id', 'x_supplier'],
};

/** A merchant's file of 100,000 orders: previewed, then booked, each in one transaction. */
export async function benchImport(): Promise<Measure[]> {
  using world = benchWorld();
  const clicks = Array.from({ length: CLICKS }, (_, i) => world.click(world.link, { client: `192.0.2.${i % 250}` }));
  const lines = Array.from(
    { length: LINES },
    (_, i) => `A${i};${100 + (i % 900)},50;21,00;${clicks[i % CLICKS]};Clay & Co`,
  );
  const order = { text: ['o;a;t;c;s', ...lines].join('\n'), source: 'Shop', reading: READING, leaveOut: false };
  const timed = (write: boolean): number => {
    const before = performance.now();
    let told = 0;
    const results = conversionsJob(world.stores, world.owner, order, write, () => (told += 1));
    if (results.length !== LINES || results.some(({ outcome }) => outcome !== 'new') || told < 100)
      throw new Error('The import did not do what it was measured for.');
    return (performance.now() - before) / 1000;
  };
  return [false, true].map((write) => {
    const seconds = timed(write);
    return {
      what: `${write ? 'booking' : 'preview of'} a file of 100,000 conversions (s)`,
      value: seconds.toFixed(1),
      reach: '≤ 30',
      reached: seconds <= 30,
    };
  });
}
