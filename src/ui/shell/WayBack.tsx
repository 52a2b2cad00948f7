import Link from 'next/link';
import type { ReactNode } from 'react';

interface Props {
  /** The page above, and what it is called. */
  href: string;
  from: ReactNode;
  /** What this one is called. */
  title: ReactNode;
  mono?: boolean;
}

/** The head of a page below a station: the way back, and its title. */
export const WayBack = ({ href, from, title, mono }: Props) => (
  <>
    <Link href={href} className="mute">
      {from}
    </Link>
    <h2 className={mono ? 'title mono' : 'title'}>{title}</h2>
  </>
);
