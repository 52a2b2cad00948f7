import Link from 'next/link';
import type { ReactNode } from 'react';
import { showCount } from '@/core/reports/measures';

interface Props {
  page: number;
  size: number;
  total: number;
  /** The address of a page of this list. */
  hrefOf(page: number): string;
  children?: ReactNode;
}

/** Where in the list one is, and the way to the rest. */
export function Pager({ page, size, total, hrefOf, children }: Props) {
  if (total === 0) return null;
  const pages = Math.ceil(total / size);
  const from = (page - 1) * size + 1;
  return (
    <nav className="pager" aria-label="Pages">
      <span>
        {showCount(from)}–{showCount(Math.min(page * size, total))} of {showCount(total)}
      </span>
      {page > 1 && <Link href={hrefOf(page - 1)}>Previous</Link>}
      {page < pages && <Link href={hrefOf(page + 1)}>Next</Link>}
      <span style={{ marginLeft: 'auto' }}>{children}</span>
    </nav>
  );
}
