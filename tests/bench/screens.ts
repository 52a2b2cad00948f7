import type { Measure } from './main';

const WEB = `http://localhost:${process.env.BRIVET_WEB_PORT ?? '3000'}`;
const SCREENS = ['/today', '/links', '/clicks', '/conversions', '/commissions', '/payouts', '/partners', '/setup'];
const ROUNDS = 9;

/** The server's answer for each screen of a running demo, signed in; the first load of each counts apart. */
export async function benchScreens(): Promise<Measure[]> {
  const cookie = process.env.BRIVET_SESSION;
  if (!cookie) {
    console.log('screens: skipped; set BRIVET_SESSION to the session cookie of a running demo (docs/performance.md)');
    return [];
  }
  const measures: Measure[] = [];
  for (const screen of SCREENS) {
    const times: number[] = [];
    for (let i = 0; i < ROUNDS; i++) {
      const started = performance.now();
      const answer = await fetch(WEB + screen, { headers: { Cookie: `brivet_session=${cookie}` }, redirect: 'manual' });
      await answer.text();
      if (answer.status !== 200) throw new Error(`${screen} answered ${answer.status}.`);
      times.push(performance.now() - started);
    }
    const [first = NaN] = times;
    const middle = [...times].sort((a, b) => a - b)[Math.floor(ROUNDS / 2)] ?? NaN;
    measures.push({
      what: `${screen}: first answer, median (ms)`,
      value: `${first.toFixed(0)}, ${middle.toFixed(0)}`,
      reach: '≤ 150',
      reached: first <= 150 && middle <= 150,
    });
  }
  return measures;
}
