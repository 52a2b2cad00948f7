import type { ComponentProps } from 'react';
import type { ExportName } from '@/services/exports';
import type { Page } from '@/store/database';
import { Pager } from '@/ui/table/Pager';
import { RecordTable } from '@/ui/table/RecordTable';
import type { Desk } from './desk';

type Props<T> = Omit<ComponentProps<typeof RecordTable<T>>, 'rows' | 'shownTrace'> & {
  desk: Desk;
  list: Page<T>;
  /** Its name as an export, where it has one. */
  exported?: ExportName;
};

/** A page of records with the way to its other pages; the one whose trace is open is marked. */
export function DeskList<T>({ desk, list, exported, ...table }: Props<T>) {
  const rest = { trace: undefined };
  return (
    <>
      <RecordTable {...table} rows={list.rows} shownTrace={desk.param('trace')} />
      <Pager
        page={desk.page}
        size={desk.paging.limit}
        total={list.total}
        hrefOf={(page) => desk.href({ ...rest, page })}
      >
        {exported && (
          <a href={`/export/${exported}${desk.href({ ...rest, page: undefined })}`} download>
            Export as CSV
          </a>
        )}
      </Pager>
    </>
  );
}
