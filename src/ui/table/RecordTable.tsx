import type { ReactNode } from 'react';
import { TableKeys } from './TableKeys';

export interface Column<T> {
  readonly key: string;
  readonly head: ReactNode;
  readonly num?: true;
  cell(row: T): ReactNode;
}
interface Props<T> {
  label: string;
  columns: readonly Column<T>[];
  rows: readonly T[];
  keyOf(row: T): string;
  /** What `T` on the row opens, "commission:12". */
  traceOf?: (row: T) => string | undefined;
  shownTrace?: string;
  empty: ReactNode;
  foot?: ReactNode;
}

/** A list of records: server-rendered; arrow keys walk its rows, T opens the trace of one. */
export function RecordTable<T>({ label, columns, rows, keyOf, traceOf, shownTrace, empty, foot }: Props<T>) {
  if (rows.length === 0) return <div className="empty">{empty}</div>;
  return (
    <TableKeys>
      <table className="records" aria-label={label}>
        <thead>
          <tr>
            {columns.map(({ key, head, num }) => (
              <th key={key} scope="col" className={num && 'num'}>
                {head}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map((row) => {
            const trace = traceOf?.(row);
            return (
              <tr
                key={keyOf(row)}
                tabIndex={trace ? 0 : undefined}
                data-trace={trace}
                className={trace !== undefined && trace === shownTrace ? 'shown' : undefined}
              >
                {columns.map(({ key, num, cell }) => (
                  <td key={key} className={num && 'num'}>
                    {cell(row)}
                  </td>
                ))}
              </tr>
            );
          })}
        </tbody>
        {foot}
      </table>
    </TableKeys>
  );
}
