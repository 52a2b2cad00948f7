import Link from 'next/link';
import type { ReactNode } from 'react';
import { Notice } from '@/ui/feedback/Notice';
import { Keys } from '@/ui/shell/Keys';
import { Line } from '@/ui/shell/Line';
import { LiveRefresh } from '@/ui/shell/LiveRefresh';
import { Mark } from '@/ui/shell/Mark';
import { PersonMenu } from '@/ui/shell/PersonMenu';
import { ScopeBar } from '@/ui/shell/ScopeBar';
import { Search } from '@/ui/shell/Search';
import { Views } from '@/ui/shell/Views';
import { listViews } from '@/services/views';
import type { StationId } from '@/ui/shell/paths';
import { type Desk, scopeOf } from './desk';
import { signOutAction } from './sign-in/actions';
import { TracePanel } from './trace/TracePanel';
import { dropThisView, keepThisView } from './view_actions';

interface Props {
  desk: Desk;
  station: StationId;
  title: string;
  children: ReactNode;
}

/** The frame of every screen: top bar, the Line, the scope, the screen, and the trace at its right. */
export function Shell({ desk, station, title, children }: Props) {
  const { program, actor, figures, trace } = desk;
  const query = scopeOf(desk);
  return (
    <>
      <a className="skip" href="#main">
        Skip to the screen
      </a>
      <header className="top">
        <Link className="mark" href={`/today${query}`}>
          <Mark size={21} colour="#8FD0B5" /> brivet
        </Link>
        <span className="program">{program.name}</span>
        <Search />
        <PersonMenu name={actor.name} role={actor.role} signOut={signOutAction} />
      </header>
      <Line figures={figures} currency={program.currency} station={station} query={query} />
      <ScopeBar scope={desk.view} fixedPartner={actor.partnerId !== null}>
        <Views views={listViews(desk.stores, actor)} keep={keepThisView} drop={dropThisView} />
      </ScopeBar>
      <main id="main" className={trace ? 'withtrace' : undefined}>
        <h1 className="skip">{title}</h1>
        <div>{children}</div>
        {trace && (
          <TracePanel
            trace={trace}
            zone={program.timeZone}
            closeHref={desk.href({ trace: undefined })}
            today={desk.today}
            mayDecide={desk.may('decide_commissions')}
          />
        )}
      </main>
      <Notice notice={desk.notice} />
      <Keys />
      <LiveRefresh mark={desk.mark} />
    </>
  );
}
