import { type ComponentProps, Suspense } from 'react';
import type { ExportName } from '@/services/exports';
import { Pager } from '@/ui/table/Pager';
import { RecordTable } from '@/ui/table/RecordTable';
import type { Desk } from './desk';

/** A page of records: how many there are in all is known, or asked for and shown when it is answered. */
type Listed<T> =
  | { readonly rows: readonly T[]; readonly total: number }
  | { readonly rows: readonly T[]; readonly total: Promise<number>; readonly more: boolean };
type Props<T> = Omit<ComponentProps<typeof RecordTable<T>>, 'rows' | 'shownTrace'> & {
  desk: Desk;
  list: Listed<T>;
  /** Its name as an export, where it has one. */
  exported?: ExportName;
};

/** A page of records with the way to its other pages; the one whose trace is open is marked. */
export function DeskList<T>({ desk, list, exported, ...table }: Props<T>) {
  const rest = { trace: undefined };
  const pager = {
    page: desk.page,
    size: desk.paging.limit,
    hrefOf: (page: number) => desk.href({ ...rest, page }),
    children: exported && (
      <a href={`/export/${exported}${desk.href({ ...rest, page: undefined })}`} download>
        Export as CSV
      </a>
    ),
  };
  return (
    <>
      <RecordTable {...table} rows={list.rows} shownTrace={desk.param('trace')} />
      {'more' in list ? (
        <Suspense fallback={<Pager {...pager} rows={list.rows.length} more={list.more} />}>
          <CountedPager {...pager} total={list.total} />
        </Suspense>
      ) : (
        <Pager {...pager} total={list.total} />
      )}
    </>
  );
}

type Counted = Extract<ComponentProps<typeof Pager>, { total: number }>;

async function CountedPager({ total, ...pager }: Omit<Counted, 'total'> & { total: Promise<number> }) {
  return <Pager {...pager} total={await total} />;
}
