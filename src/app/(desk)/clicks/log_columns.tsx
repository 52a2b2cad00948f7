import Link from 'next/link';
import { showCost } from '@/core/clicks/cost';
import { SET_ASIDE_WORDS, type SetAsideReason } from '@/core/clicks/set_aside';
import { minorDigits } from '@/core/money/currency';
import { money } from '@/core/money/money';
import { showAmount } from '@/core/money/text';
import { isCarried } from '@/core/placeholders/names';
import { looksUnfilled } from '@/core/placeholders/unfilled';
import { type ClickColumn, isClickColumn, writeFilters } from '@/core/reports/columns';
import { isoTime } from '@/core/time/days';
import { showTime } from '@/core/time/zones';
import { type LogColumn, logColumnWord } from '@/services/click_log';
import type { ClickListRow } from '@/services/clicks';
import type { Column } from '@/ui/table/RecordTable';
import type { Desk } from '../../desk';
import { filtersOf } from './looking';

export const traceOf = ({ clickId }: ClickListRow): string => `click:${clickId}`;

/** The slot's name, and what the source calls it where all clicks in sight that have a value agree. */
function headOf(rows: readonly ClickListRow[], column: LogColumn): string {
  const word = logColumnWord(column);
  if (!isCarried(column)) return word;
  const names = new Set(rows.flatMap(({ names: given, facts }) => (facts[column] === '' ? [] : [given[column]])));
  const [name] = names;
  return names.size === 1 && name ? `${word} (${name})` : word;
}

const FLAG_WORDS: Record<string, string> = {
  to_refused: 'deep link refused',
  foreign_page: 'foreign page',
  capped: 'over the cap',
  proxy: 'proxy',
};
export const flagWords = (flags: string): string =>
  flags
    .split(' ')
    .map((flag) => FLAG_WORDS[flag] ?? flag.replace('unfilled:', 'unfilled: ').replaceAll(',', ', '))
    .join(' · ');

/** How each column of the log looks; a value that can be asked for leads to the clicks that have it. */
export function logColumnsOf(
  desk: Desk,
  rows: readonly ClickListRow[],
  chosen: readonly LogColumn[],
): Column<ClickListRow>[] {
  const { timeZone, currency } = desk.program;
  const digits = minorDigits(currency);
  const only = (field: ClickColumn, text: string) =>
    desk.href({
      where: writeFilters([...filtersOf(desk).filter((each) => each.field !== field), { field, how: 'is', text }]),
      ...{ page: undefined, trace: undefined },
    });
  const narrowing = (field: ClickColumn, value: string, shown: string = value) =>
    value === '' ? null : (
      <Link className="narrow" href={only(field, value)} title={`Only ${shown}`}>
        {shown}
      </Link>
    );
  const cells: Partial<Record<LogColumn, (row: ClickListRow) => React.ReactNode>> = {
    time: ({ time }) => (
      <time className="nowrap mute" dateTime={isoTime(time)} title={isoTime(time, timeZone)}>
        {showTime(time, timeZone)}
      </time>
    ),
    click_id: (row) => (
      <Link className="amount mono nowrap" scroll={false} href={desk.href({ trace: traceOf(row) })}>
        {row.clickId.slice(0, 6)}…{row.clickId.slice(-4)}
      </Link>
    ),
    partner: ({ partnerName, partnerId }) => (
      <div className="clip">{narrowing('partner', String(partnerId), partnerName)}</div>
    ),
    channel: ({ channelName, channelId }) => (
      <div className="clip">{narrowing('channel', String(channelId), channelName)}</div>
    ),
    offer: ({ offerName, offerId }) => narrowing('offer', String(offerId), offerName),
    link: ({ linkCode, linkId }) => <code>{narrowing('link', String(linkId), linkCode)}</code>,
    set_aside: ({ setAside }) =>
      setAside && <span title={SET_ASIDE_WORDS[setAside as SetAsideReason]}>{narrowing('set_aside', setAside)}</span>,
    unique: ({ facts }) =>
      facts.unique === 'repeat' ? (
        <span className="mute">{narrowing('unique', 'repeat')}</span>
      ) : (
        narrowing('unique', facts.unique)
      ),
    flags: ({ flags }) => flags && <span className="tag wait">{flagWords(flags)}</span>,
    cost: ({ facts }) => facts.cost && showCost(Number(facts.cost), currency, digits),
    earned: (row) => {
      const earned = row.earned();
      return earned === undefined ? null : showAmount(money(earned, currency));
    },
    address: ({ address }) => <code className="clip">{address}</code>,
    client: ({ client }) => <code>{client}</code>,
    visitor_id: ({ visitor }) => <code title={visitor}>{visitor.slice(0, 8)}…</code>,
    agent: ({ agent }) => (
      <div className="clip" title={agent ?? ''}>
        {agent}
      </div>
    ),
    page: ({ facts }) => narrowing('page', facts.page),
  };
  const plain = (column: ClickColumn) =>
    function Plain({ facts }: ClickListRow) {
      const value = facts[column];
      return looksUnfilled(value) ? (
        <span className="tag wait" title="The source never filled this placeholder.">
          {narrowing(column, value)}
        </span>
      ) : (
        narrowing(column, value)
      );
    };
  return chosen.map((column) => ({
    key: column,
    head: headOf(rows, column),
    ...((column === 'cost' || column === 'earned') && { num: true as const }),
    cell: cells[column] ?? (isClickColumn(column) ? plain(column) : () => null),
  }));
}
