import Link from 'next/link';
import { showCost } from '@/core/clicks/cost';
import { minorDigits } from '@/core/money/currency';
import { money } from '@/core/money/money';
import { showAmount } from '@/core/money/text';
import { SUB_SLOTS, isCarried } from '@/core/placeholders/names';
import { looksUnfilled } from '@/core/placeholders/unfilled';
import { type Filter, dimensionWord, writeFilters } from '@/core/reports/columns';
import type { Group, Sums } from '@/core/reports/sums';
import { showCount, wilson } from '@/core/reports/measures';
import { type ExploreSort, MOST_DIMENSIONS, knownParts, profitMicros } from '@/services/explore';
import { askReport } from '@/services/reports';
import { RateBar } from '@/ui/figures/RateBar';
import { type Column, RecordTable } from '@/ui/table/RecordTable';
import { Pager } from '@/ui/table/Pager';
import type { Desk } from '../../desk';
import { ClickFilters } from './ClickFilters';
import { GroupBar } from './GroupBar';
import { exploring } from './looking';
import { namesIn } from './names';

/** Bounds of groups with hardly a click would stretch the bars of all others. */
const LEAST_FOR_SCALE = 30;

/** Clicks and what came of them, by any sub-IDs, parts of them, and everything else that is known. */
export async function Explorer({ desk }: { desk: Desk }) {
  const { stores, actor, scope, paging, program } = desk;
  const asked = exploring(desk.param);
  const [{ groups, total, count }, unfilled] = await Promise.all([
    askReport('explore', actor, { scope, ...asked, ...paging }),
    askReport('unfilled', actor, scope),
  ]);
  const nameOf = namesIn(desk);
  const parts = knownParts(stores, actor, scope);
  return (
    <>
      <div className="bar">
        <GroupBar
          by={asked.by}
          most={MOST_DIMENSIONS}
          offered={[
            { title: 'Sub-IDs', names: SUB_SLOTS },
            ...(parts.length > 0 ? [{ title: 'Parts of sub-IDs', names: parts }] : []),
            { title: 'Who and what', names: ['partner', 'channel', 'offer', 'link', 'rule', 'page', 'via'] },
            { title: 'Visitor', names: ['country', 'device', 'os', 'browser', 'language', 'referrer'] },
            { title: 'When', names: ['day', 'hour'] },
          ]}
        />
        <ClickFilters desk={desk} />
      </div>
      {unfilled.length > 0 && <Unfilled desk={desk} rows={unfilled} />}
      <RecordTable
        label="Clicks by group"
        rows={groups}
        keyOf={({ by }) => by.join('\u0001')}
        columns={[
          ...asked.by.map((name, i) => dimension(desk, asked, name, i, nameOf)),
          ...figures(desk, asked, groups, program.currency),
        ]}
        foot={<Foot sums={total} dimensions={asked.by.length} desk={desk} />}
        empty={
          <>
            <b>No clicks here</b>Widen the period, or take a filter away.
          </>
        }
      />
      <Pager
        page={desk.page}
        size={paging.limit}
        total={count}
        hrefOf={(page) => desk.href({ page, trace: undefined })}
      >
        <a href={`/clicks/explore/csv${desk.href({ page: undefined, trace: undefined })}`} download>
          Export as CSV
        </a>
      </Pager>
    </>
  );
}

type Asked = ReturnType<typeof exploring>;

/** A value leads down: its clicks alone, grouped by what is left, or its log when nothing is. */
function dimension(
  desk: Desk,
  { by, filters }: Asked,
  name: string,
  i: number,
  nameOf: ReturnType<typeof namesIn>,
): Column<Group> {
  const left = by.filter((each) => each !== name);
  const down = (value: string): string => {
    const narrowed: Filter[] = [
      ...filters.filter(({ field }) => field !== name),
      { field: name, how: 'is', text: value },
    ];
    return desk.href({
      where: writeFilters(narrowed),
      by: left.length > 0 ? left.join(',') : undefined,
      page: undefined,
      ...(left.length === 0 && { shelf: undefined }),
    });
  };
  return {
    key: name,
    head: dimensionWord(name),
    cell: ({ by: values }) => {
      const value = values[i] ?? '';
      const isUnfilled = isCarried(name.split('.')[0] ?? '') && looksUnfilled(value);
      return (
        <Link
          className={isUnfilled ? 'narrow tag wait' : value === '' ? 'narrow mute' : 'narrow'}
          href={down(value)}
          title={isUnfilled ? 'The source never filled this placeholder.' : 'Look into it'}
        >
          {value === '' ? 'none' : nameOf(name, value)}
        </Link>
      );
    },
  };
}

function figures(
  desk: Desk,
  asked: Asked,
  groups: readonly Group[],
  currency: Desk['program']['currency'],
): Column<Group>[] {
  const digits = minorDigits(currency);
  const most = Math.max(
    0,
    ...groups
      .filter(({ uniques }) => uniques >= LEAST_FOR_SCALE)
      .map(({ conversions, uniques }) => wilson(conversions, uniques)[1]),
  );
  const head = (sort: ExploreSort, word: string) => {
    const current = asked.sort === sort;
    const order = current && !asked.ascending ? 'up' : undefined;
    return (
      <Link
        className="sort"
        href={desk.href({ sort: sort === 'clicks' ? undefined : sort, order, page: undefined })}
        aria-label={`Sort by ${word}`}
      >
        {word} <span aria-hidden="true">{current ? (asked.ascending ? '▴' : '▾') : ''}</span>
      </Link>
    );
  };
  const num = true as const;
  return [
    { key: 'clicks', num, head: head('clicks', 'Clicks'), cell: ({ clicks }) => showCount(clicks) },
    { key: 'uniques', num, head: head('uniques', 'Unique'), cell: ({ uniques }) => showCount(uniques) },
    { key: 'setAside', num, head: head('set_aside', 'Set aside'), cell: ({ setAside }) => countOrNone(setAside) },
    { key: 'conversions', num, head: head('conversions', 'Conv.'), cell: ({ conversions }) => showCount(conversions) },
    {
      key: 'rate',
      num,
      head: head('rate', 'Rate of unique'),
      cell: ({ conversions, uniques }) => <RateBar part={conversions} whole={uniques} most={most} />,
    },
    {
      key: 'commission',
      num,
      head: head('commission', 'Earned'),
      cell: ({ commission }) => showAmount(money(commission, currency)),
    },
    { key: 'epc', num, head: head('epc', 'Per click'), cell: (sums) => perClick(sums, currency, digits) },
    {
      key: 'cost',
      num,
      head: head('cost', 'Cost'),
      cell: ({ cost }) => (cost === 0 ? <span className="mute">–</span> : showCost(cost, currency, digits)),
    },
    { key: 'profit', num, head: head('profit', 'Profit'), cell: (sums) => profit(sums, currency, digits) },
  ];
}

/** Where most have none, a count stands out among dashes. */
const countOrNone = (count: number) => (count === 0 ? <span className="mute">–</span> : showCount(count));

/** Earnings per counted click, to a hundredth of the minor unit: they are small. */
const perClick = ({ commission, clicks }: Sums, currency: Desk['program']['currency'], digits: number) =>
  clicks === 0 ? (
    <span className="mute">–</span>
  ) : (
    `${showAmount(money(0, currency)).replace(/[\d.,]+/, '')}${(commission / clicks / 10 ** digits).toFixed(digits + 1)}`
  );

/** Only where a cost is known: commission without it is no profit. */
function profit(sums: Sums, currency: Desk['program']['currency'], digits: number) {
  if (sums.cost === 0) return <span className="mute">–</span>;
  const micros = profitMicros(sums, 10 ** digits);
  return <span className={micros < 0 ? 'tag trouble' : undefined}>{showCost(micros, currency, digits)}</span>;
}

function Foot({ sums, dimensions, desk }: { sums: Sums; dimensions: number; desk: Desk }) {
  const { currency } = desk.program;
  const digits = minorDigits(currency);
  return (
    <tfoot>
      <tr>
        {dimensions > 0 && <td colSpan={dimensions}>All of it</td>}
        <td className="num">{showCount(sums.clicks)}</td>
        <td className="num">{showCount(sums.uniques)}</td>
        <td className="num">{countOrNone(sums.setAside)}</td>
        <td className="num">{showCount(sums.conversions)}</td>
        <td className="num">
          <RateBar part={sums.conversions} whole={sums.uniques} most={0} />
        </td>
        <td className="num">{showAmount(money(sums.commission, currency))}</td>
        <td className="num">{perClick(sums, currency, digits)}</td>
        <td className="num">{sums.cost === 0 ? '–' : showCost(sums.cost, currency, digits)}</td>
        <td className="num">{profit(sums, currency, digits)}</td>
      </tr>
    </tfoot>
  );
}

const SHOWN_LINKS = 3;

/** Placeholders that arrived as they were written: money spent on clicks that nobody can tell apart. */
function Unfilled({ desk, rows }: { desk: Desk; rows: { linkId: number; slots: string; clicks: number }[] }) {
  const { stores } = desk;
  const sum = rows.reduce((all, { clicks }) => all + clicks, 0);
  return (
    <div className="note wait" style={{ margin: '0 18px 12px' }}>
      <b>
        {showCount(sum)} {sum === 1 ? 'click' : 'clicks'} arrived with placeholders unfilled
      </b>
      , through{' '}
      {rows.slice(0, SHOWN_LINKS).map(({ linkId, slots, clicks }, i) => {
        const link = stores.books.links.byId(linkId);
        return (
          <span key={`${linkId} ${slots}`}>
            {i > 0 && ', '}
            <Link href={`/links/${linkId}`}>
              {link ? `${link.partnerName}, ${link.channelName}` : linkId} <code>{link?.code}</code>
            </Link>{' '}
            ({slots.replaceAll(',', ', ')}: {showCount(clicks)})
          </span>
        );
      })}
      {rows.length > SHOWN_LINKS && ` and ${rows.length - SHOWN_LINKS} more links`}.{' '}
      <Link
        href={desk.href({
          shelf: undefined,
          where: writeFilters([{ field: 'flags', how: 'has', text: 'unfilled' }]),
          by: undefined,
        })}
      >
        Show them
      </Link>
    </div>
  );
}
