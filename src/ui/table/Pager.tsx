import Link from 'next/link';
import type { ReactNode } from 'react';
import { showCount } from '@/core/reports/measures';

type Props = {
  page: number;
  size: number;
  /** The address of a page of this list. */
  hrefOf(page: number): string;
  children?: ReactNode;
} & ({ total: number } | { rows: number; more: boolean });

/** Where in the list one is, and the way to the rest. */
export function Pager({ page, size, hrefOf, children, ...known }: Props) {
  const before = (page - 1) * size;
  const to = 'total' in known ? Math.min(page * size, known.total) : before + known.rows;
  if (to === 0) return null;
  return (
    <nav className="pager" aria-label="Pages">
      <span>
        {showCount(before + 1)}–{showCount(to)} of {'total' in known ? showCount(known.total) : '…'}
      </span>
      {page > 1 && <Link href={hrefOf(page - 1)}>Previous</Link>}
      {('total' in known ? to < known.total : known.more) && <Link href={hrefOf(page + 1)}>Next</Link>}
      <span style={{ marginLeft: 'auto' }}>{children}</span>
    </nav>
  );
}
