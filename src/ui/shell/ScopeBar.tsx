'use client';
import Popover from '@mui/material/Popover';
import { usePathname, useRouter, useSearchParams } from 'next/navigation';
import { type ReactNode, useState } from 'react';
import { type Day, showPeriod } from '@/core/time/calendar';
import { type Option, Picker } from '../form/Picker';

interface Period {
  name: string;
  from: Day;
  to: Day;
}
export interface ScopeView {
  from: Day;
  to: Day;
  periods: Period[];
  partner?: Option;
  channel?: Option;
  offer?: Option;
}

/** What is looked at. It is in the address, holds along the Line, and can be sent to a colleague. */
export function ScopeBar({
  scope,
  fixedPartner,
  children,
}: {
  scope: ScopeView;
  fixedPartner: boolean;
  /** What stands at its right end. */
  children?: ReactNode;
}) {
  const router = useRouter();
  const path = usePathname();
  const search = useSearchParams();
  const go = (changes: Record<string, string | number | undefined>): void => {
    const next = new URLSearchParams(search);
    for (const name of ['trace', 'page']) next.delete(name);
    for (const [name, value] of Object.entries(changes)) {
      if (value === undefined) next.delete(name);
      else next.set(name, String(value));
    }
    router.push(`${path}?${next.toString()}`);
  };
  const channels = scope.partner ? `/options/channels?partner=${scope.partner.id}` : '/options/channels';
  const picker = (what: 'Partner' | 'Channel' | 'Offer', name: 'partner' | 'channel' | 'offer', source: string) => (
    <>
      <Picker
        what={what}
        none="any"
        value={scope[name]}
        source={source}
        onPick={(option) => go({ [name]: option?.id, ...(name === 'partner' && { channel: undefined }) })}
      />
      {scope[name] && (
        <button
          type="button"
          className="clear"
          aria-label={`Any ${name}`}
          onClick={() => go({ [name]: undefined, ...(name === 'partner' && { channel: undefined }) })}
        >
          ×
        </button>
      )}
    </>
  );
  return (
    <div className="scope" role="group" aria-label="Looking at">
      <span className="word">Looking at</span>
      <PeriodPick scope={scope} onPick={({ from, to }) => go({ from, to })} />
      {!fixedPartner && picker('Partner', 'partner', '/options/partners')}
      {picker('Channel', 'channel', channels)}
      {picker('Offer', 'offer', '/options/offers')}
      {children}
    </div>
  );
}

function PeriodPick({ scope, onPick }: { scope: ScopeView; onPick(period: { from: string; to: string }): void }) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const pick = (from: string, to: string): void => {
    setAnchor(null);
    onPick({ from, to });
  };
  return (
    <>
      <button type="button" className="pick" aria-haspopup="dialog" onClick={(event) => setAnchor(event.currentTarget)}>
        {showPeriod(scope.from, scope.to)} <span aria-hidden="true">▾</span>
      </button>
      <Popover
        open={anchor !== null}
        anchorEl={anchor}
        onClose={() => setAnchor(null)}
        anchorOrigin={{ vertical: 'bottom', horizontal: 'left' }}
      >
        <form
          style={{ padding: 12, width: 260 }}
          onSubmit={(event) => {
            event.preventDefault();
            const form = new FormData(event.currentTarget);
            const [from, to] = [String(form.get('from')), String(form.get('to'))];
            if (from && to) pick(from <= to ? from : to, from <= to ? to : from);
          }}
        >
          {scope.periods.map(({ name, from, to }) => (
            <button
              key={name}
              type="button"
              className="pick wide"
              style={{ marginBottom: 4 }}
              onClick={() => pick(from, to)}
            >
              {name} <span className="what small">{showPeriod(from, to)}</span>
            </button>
          ))}
          <div className="pair" style={{ margin: '10px 0' }}>
            <input className="text" type="date" name="from" aria-label="From" defaultValue={scope.from} />
            <input className="text" type="date" name="to" aria-label="To" defaultValue={scope.to} />
          </div>
          <button className="pick" type="submit">
            Look at these days
          </button>
        </form>
      </Popover>
    </>
  );
}
