import { addDays, dayOf } from '@/core/time/days';
import { explore } from '@/services/explore';
import { linksJob } from '@/services/jobs/links';
import { abandonRun, draftRun } from '@/services/payouts';
import { standBack } from '@/services/stand_back';
import { openStores } from '@/services/stores';
import { openRollupsForWriting } from '@/store/rollups';
import { storeFile } from '@/services/stores';
import { rollClicks } from '@/worker/roll';

/** Lines of a large import; its links are written in one transaction. */
const LINES = 10_000;

/**
 * What the web side does beside the edge, over and over: a large import of links, or reports over everything that was
 * clicked until it began, or a payout run, standing back as its threads do. Says "busy" once it begins.
 */
const rollups = openRollupsForWriting(storeFile('rollups'));
const stores = openStores();
const [owner] = stores.books.users.ofProgram(1);
if (!owner) throw new Error('There is nobody in the books.');
const actor = { userId: owner.id, programId: 1, name: owner.name, role: 'owner' as const, partnerId: null };
const day = dayOf(Date.now(), 'Europe/Amsterdam');

function importLinks(round: number): void {
  const lines = Array.from(
    { length: LINES },
    (_, i) => `SLOWWHEEL,MAIN,https://larkmoor.example/n/${day}-${round}-${i}`,
  );
  const text = ['partner,channel,destination', ...lines].join('\n');
  linksJob(stores, actor, { form: 'lines', text, defaults: { offerId: 1 } }, true, () => undefined);
}

function report(): void {
  const scope = { from: addDays(day, -90), to: day, partnerId: null, channelId: null, offerId: null };
  for (const by of [
    ['sub1', 'device'],
    ['partner', 'country'],
    ['day', 'page'],
  ])
    explore(stores, actor, { scope, by, filters: [], sort: 'clicks', ascending: false, limit: 50, offset: 0 }, 100);
}

/** All that is approved goes into a run, and is taken out of it again: once a second, which is more than anybody does. */
function payOut(): void {
  const { id } = draftRun(stores, actor, { cutOff: day });
  abandonRun(stores, actor, id, { reason: 'The next one is drafted in a second.' });
  Atomics.wait(new Int32Array(new SharedArrayBuffer(4)), 0, 0, 1000);
}

const WORKS: Record<string, (round: number) => void> = { import: importLinks, reports: report, payouts: payOut };
const work = WORKS[process.argv[2] ?? ''];
if (!work) throw new Error('Say which work: import, reports or payouts.');
if (work === report) while (rollClicks(stores.traffic, stores.books, rollups) > 0);
standBack();
console.log('busy');
for (let round = 0; ; round++) work(round);
