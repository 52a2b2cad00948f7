import { sealData } from 'iron-session';
import { deriveKey } from '@/services/secrets';
import { installationSecret, storeFile } from '@/services/stores';
import { openBooks } from '@/store/books';
import type { Measure } from './main';

const WEB = `http://localhost:${process.env.BRIVET_WEB_PORT ?? '3000'}`;
const SCREENS = ['/today', '/links', '/clicks', '/conversions', '/commissions', '/payouts', '/partners', '/setup'];
const ROUNDS = 9;

/** A session of the program's manager, sealed as the application seals it. */
async function managerSession(): Promise<string | undefined> {
  const books = openBooks(storeFile('books'));
  const manager = books.users.ofProgram(1).find(({ role }) => role === 'manager' || role === 'owner');
  books.db.close();
  const password = deriveKey(installationSecret(), 'sessions').toString('hex');
  return manager && sealData({ userId: manager.id, version: manager.sessionVersion }, { password });
}

/** The server's answer for each screen of a running demo, signed in; the first load of each counts apart. */
export async function benchScreens(): Promise<Measure[]> {
  if (
    !(await fetch(`${WEB}/healthz`).then(
      ({ ok }) => ok,
      () => false,
    ))
  ) {
    console.log('screens: skipped, because nothing runs at ' + WEB + '; start ./brivet demo first');
    return [];
  }
  const cookie = await managerSession();
  if (!cookie) throw new Error('There is no manager in the books to sign in as.');
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
