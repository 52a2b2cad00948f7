import { rateConversion } from '@/core/commissions/rate';
import { standingOf } from '@/core/conversions/standing';
import { countClicks, reportedState } from '@/core/reports/counting';
import { Grouping } from '@/core/reports/group';
import { dayOf } from '@/core/time/days';
import type { CommissionRow } from '@/store/books/commissions';
import { type Stores, programOf } from './stores';

export interface Finding {
  readonly what: string;
  /** How many were looked at. */
  readonly checked: number;
  /** One line for each that is wrong; empty when all is well. */
  readonly wrong: string[];
}

/** Proves what Brivet promises about its data. Reads only. */
export const verify = (stores: Stores): Finding[] => [
  integrity(stores),
  ledgerBalances(stores),
  ...stores.books.programs
    .all()
    .flatMap(({ id }) => [
      said(stores, id),
      called(stores, id),
      commissions(stores, id),
      payouts(stores, id),
      reported(stores, id),
    ]),
  capCounts(stores),
  rollups(stores),
];

function integrity({ books, traffic, rollups }: Stores): Finding {
  const stores = Object.entries({ books, traffic, rollups });
  const wrong = stores.flatMap(([name, { db }]) => {
    const problems = db.prepare<[], { integrity_check: string }>('PRAGMA integrity_check(20)').all();
    return problems.filter((row) => row.integrity_check !== 'ok').map((row) => `${name}: ${row.integrity_check}`);
  });
  const orphans = books.db.prepare<[], { table: string }>('PRAGMA foreign_key_check').all();
  return {
    what: 'files are sound',
    checked: stores.length,
    wrong: [...wrong, ...orphans.map(({ table }) => `books: a row of ${table} refers to nothing`)],
  };
}

function ledgerBalances({ books }: Stores): Finding {
  const { count } = books.db
    .prepare<[], { count: number }>('SELECT count(*) AS count FROM ledger_transactions')
    .get() ?? { count: 0 };
  return {
    what: 'ledger transactions sum to zero',
    checked: count,
    wrong: books.ledger.unbalanced().map((id) => `transaction ${id} does not sum to zero`),
  };
}

/** Every conversion against all that was said of it. */
function said({ books }: Stores, programId: number): Finding {
  const wrong: string[] = [];
  let checked = 0;
  for (const { id } of [...books.conversions.earned(programId)]) {
    checked += 1;
    const stood = books.conversions.plain(id);
    const standing = standingOf(books.conversions.reports(id));
    // One that a taken-back file alone had told of stands as it was told, and earns nothing.
    if (!stood || !standing) continue;
    const [is, ought] = [stood, standing].map(({ time, figures, completed, receiptId }) =>
      JSON.stringify({ time, figures, completed, receiptId }),
    );
    if (is !== ought) wrong.push(`conversion ${id} is ${is}, its reports say ${ought}`);
  }
  return { what: 'conversions stand where their reports lead', checked, wrong };
}

/** Every call that counts has its conversion, and no other has one. */
function called({ books }: Stores, programId: number): Finding {
  const wrong = books.calls.astray(programId).map((call) => `call ${call} and its conversion do not belong together`);
  return { what: 'calls that count have their conversion', checked: books.calls.count(programId), wrong };
}

function commissions(stores: Stores, programId: number): Finding {
  let checked = 0;
  const wrong: string[] = [];
  for (const commission of [...stores.books.commissions.all(programId)]) {
    checked += 1;
    wrong.push(...commissionProblems(stores, commission));
  }
  return { what: 'commissions re-rate to the stored amount and stand in the ledger', checked, wrong };
}

function commissionProblems({ books }: Stores, commission: CommissionRow): string[] {
  const rating = books.commissions.latestRating(commission.id);
  const sheet = rating && books.terms.sheet(rating.sheetId)?.sheet;
  if (!rating || !sheet) return [`commission ${commission.id} has no rating`];
  const again = rateConversion(sheet, rating.input);
  const amount = again.kind === 'rated' ? again.amount.minor : 0;
  const problems: string[] = [];
  if (amount !== commission.amount)
    problems.push(`commission ${commission.id} is ${commission.amount} and re-rates to ${amount}`);
  const expected = (commission.state === 'rejected' ? 0 : commission.amount - commission.reversed) - commission.fees;
  const net = books.ledger.netOfCommission(commission.id);
  if (net !== expected) problems.push(`commission ${commission.id} is ${expected}, the ledger says ${net}`);
  return problems;
}

function payouts({ books }: Stores, programId: number): Finding {
  const runs = books.payouts.runs(programId).filter(({ state }) => state !== 'abandoned');
  const wrong: string[] = [];
  let checked = 0;
  for (const run of runs)
    for (const item of books.payouts.items(run.id)) {
      checked += 1;
      const sum = books.ledger
        .statementLines(item.partnerId, item.fromEntry, run.uptoEntry)
        .reduce((all, { amount }) => all + amount, 0);
      if (sum !== item.amount)
        wrong.push(`run ${run.number}, ${item.partnerName}: ${item.amount}, its lines sum to ${sum}`);
    }
  return { what: 'statement lines sum to the payout', checked, wrong };
}

type Counts = Map<string, { counted: number; uniques: number; setAside: number }>;

/** Every click of the traffic that the rollups have read, counted again by day and link. */
function recount(stores: Stores): { counts: Counts; checked: number } {
  const position = stores.rollups.positions.get('clicks');
  const counts: Counts = new Map();
  const zones = new Map<number, string>();
  let [seq, checked] = [0, 0];
  while (seq < position) {
    const clicks = stores.traffic.clicksAfter(seq, 5000).filter((click) => click.seq <= position);
    if (clicks.length === 0) break;
    for (const click of clicks) {
      const zone = zones.get(click.programId) ?? programOf(stores, click.programId).timeZone;
      zones.set(click.programId, zone);
      const key = `${dayOf(click.time, zone)} link ${click.linkId}`;
      const count = counts.get(key) ?? { counted: 0, uniques: 0, setAside: 0 };
      if (click.setAside !== null) count.setAside += 1;
      else {
        count.counted += 1;
        count.uniques += click.isUnique;
      }
      counts.set(key, count);
      seq = click.seq;
      checked += 1;
    }
  }
  return { counts, checked };
}

function differences(what: string, expected: Counts, found: Counts): string[] {
  return [...new Set([...expected.keys(), ...found.keys()])].flatMap((key) => {
    const [counted, onFile] = [expected.get(key), found.get(key)].map((each) => JSON.stringify(each ?? null));
    return counted === onFile ? [] : [`${what}, ${key}: ${onFile} on file, ${counted} counted again`];
  });
}

/** The rollups by day, and the columns of reports and the log, each against a recount of the traffic. */
function rollups(stores: Stores): Finding {
  const { counts, checked } = recount(stores);
  const daily: Counts = new Map(
    stores.rollups.daily().map(({ day, linkId, ...figures }) => [`${day} link ${linkId}`, figures]),
  );
  const grouping = new Grouping(['day', 'link'], []);
  for (const block of stores.rollups.clicks.between('0000-01-01', '9999-12-31')) grouping.add(block, countClicks);
  const columns: Counts = new Map(
    grouping
      .result()
      .map(({ by: [day, link], clicks: counted, uniques, setAside }) => [
        `${day} link ${link}`,
        { counted, uniques, setAside },
      ]),
  );
  return {
    what: 'rollups equal a recount of the traffic',
    checked,
    wrong: [...differences('by day', counts, daily), ...differences('columns', counts, columns)],
  };
}

/** What reports say of conversions, against the books; those that changed since are the worker's next. */
function reported(stores: Stores, programId: number): Finding {
  const stale = new Set(
    stores.books.conversions
      .changesAfter(stores.rollups.positions.get('conversions'), 1_000_000)
      .map(({ conversionId }) => conversionId),
  );
  const asReported = ({ state, commission }: { state: string; commission: number }): string =>
    JSON.stringify({ state: reportedState(state), commission });
  const found = new Map(
    stores.rollups.conversions.sums(String(programId)).map(({ id, ...sums }) => [id, asReported(sums)]),
  );
  const wrong: string[] = [];
  let checked = 0;
  for (const { id, ...sums } of stores.books.conversions.earned(programId)) {
    if (stale.has(id)) continue;
    checked += 1;
    const onFile = found.get(id) ?? 'nothing';
    if (onFile !== asReported(sums))
      wrong.push(`conversion ${id}: reports have ${onFile}, the books ${asReported(sums)}`);
  }
  return { what: 'reports have the conversions of the books', checked, wrong };
}

/** Conversions and spend by offer and day, on which caps go by. */
function capCounts({ books }: Stores): Finding {
  const wrong = books.routing.wrongOfferDays();
  return {
    what: 'counts for caps equal a recount',
    checked: books.routing.countOfferDays(),
    wrong: wrong.map(({ offerId, day }) => `offer ${offerId}, ${day}: not what the books say`),
  };
}
