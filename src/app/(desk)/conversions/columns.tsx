import { UNMATCHED_WORDS } from '@/core/attribution/match';
import type { CustomField } from '@/core/offers/events';
import { showTime } from '@/core/time/zones';
import { CONVERSION_COLUMNS, type ConversionColumn } from '@/services/conversion_log';
import type { ConversionListRow } from '@/store/books/conversions';
import { Amount } from '@/ui/figures/Amount';
import { Lifecycle } from '@/ui/figures/Lifecycle';
import type { Column } from '@/ui/table/RecordTable';
import type { Desk } from '../../desk';

type Row = ConversionListRow;
export const traceOf = ({ id }: Row): string => `conversion:${id}`;

const REPORTED_BY = { server: 'server', tag: 'page tag', pixel: 'pixel', hand: 'by hand', file: 'file' };

/** The columns of the log that were asked for, by name; the merchant's own fields among them. */
export function columnsOf(desk: Desk, names: readonly string[], fields: readonly CustomField[]): Column<Row>[] {
  const own = new Map(fields.map((field) => [field.name, field]));
  return names.flatMap((name): Column<Row>[] => {
    const field = own.get(name);
    if (field) return [customColumn(field)];
    return name in CONVERSION_COLUMNS ? [column(desk, name as ConversionColumn)] : [];
  });
}

const customColumn = ({ name, label, type }: CustomField): Column<Row> => ({
  ...{ key: name, head: label },
  ...(type === 'number' && { num: true as const }),
  cell: ({ custom }) => <div className="clip">{custom[name]}</div>,
});

function column(desk: Desk, key: ConversionColumn): Column<Row> {
  const head = CONVERSION_COLUMNS[key];
  const plain = (cell: Column<Row>['cell'], num?: true): Column<Row> => ({ key, head, cell, ...(num && { num }) });
  const code = (text: string | null): React.ReactNode => <code className="nowrap">{text}</code>;
  switch (key) {
    case 'time':
      return plain(({ time }) => <span className="nowrap mute">{showTime(time, desk.program.timeZone)}</span>);
    case 'event':
      return plain(({ event }) => event);
    case 'order':
      return plain(({ orderRef }) => code(orderRef));
    case 'partner':
      return plain(({ partnerName, unmatched }) =>
        partnerName ? <span className="nowrap">{partnerName}</span> : <Why reason={unmatched} />,
      );
    case 'channel':
      return plain(({ channelName }) => <div className="clip">{channelName}</div>);
    case 'offer':
      return plain(({ offerName }) => offerName);
    case 'amount':
      return plain(({ amount, currency }) => <Amount minor={amount} currency={currency} />, true);
    case 'commission':
      return {
        ...{ key, head: `${head} (${desk.program.currency})`, num: true },
        cell: (row) =>
          row.commission !== null && (
            <Amount
              bare
              minor={row.commission - (row.commissionReversed ?? 0)}
              currency={desk.program.currency}
              href={desk.href({ trace: traceOf(row) })}
            />
          ),
      };
    case 'state':
      return plain(({ commissionState, state, unmatched }) =>
        commissionState ? (
          <Lifecycle state={commissionState} />
        ) : (
          <span className="mute">{state !== 'pending' ? state : unmatched ? 'not matched yet' : 'pays nothing'}</span>
        ),
      );
    case 'payable_on':
      return plain(({ payableOn, commission }) => (
        <span className="nowrap">{payableOn ?? (commission === null ? '' : 'unknown')}</span>
      ));
    case 'completed':
      return plain(({ completed }) => <span className="nowrap">{completed}</span>);
    case 'click_id':
      return plain(({ clickId }) => code(clickId));
    case 'coupon':
      return plain(({ coupon }) => code(coupon));
    case 'matched_by':
      return plain(({ matchedBy }) => matchedBy ?? '');
    case 'reported_by':
      return plain(({ reportedBy }) => (
        <span className={reportedBy === 'tag' || reportedBy === 'pixel' ? 'tag wait' : undefined}>
          {REPORTED_BY[reportedBy]}
        </span>
      ));
    case 'customer':
      return plain(({ facts }) => facts.customer ?? '');
    case 'renewal':
      return plain(({ facts }) => facts.renewal ?? '', true);
  }
}

const Why = ({ reason }: { reason: Row['unmatched'] }) => (
  <span className="tag wait" title={reason ? UNMATCHED_WORDS[reason] : ''}>
    <span className="dot" />
    {reason?.replaceAll('_', ' ')}
  </span>
);

/** Where the trace takes its place, some columns give way: it says what they say. */
export const beside = <T,>(
  desk: Desk,
  without: readonly string[],
  columns: readonly Column<T>[],
): readonly Column<T>[] => (desk.trace ? columns.filter(({ key }) => !without.includes(key)) : columns);

/** A box to choose a row by; what is done with the chosen ones reads them from the page. */
export const tickColumn: Column<Row> = {
  ...{ key: 'tick', head: '' },
  cell: ({ id, orderRef, event }) => (
    <input type="checkbox" name="chosen" value={id} aria-label={`Choose ${orderRef ?? event}`} />
  ),
};
