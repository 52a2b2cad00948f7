'use client';
import Dialog from '@mui/material/Dialog';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useRouter } from 'next/navigation';
import { useEffect, useState } from 'react';
import { traceHref } from '../table/TableKeys';
import { STATIONS, scopeQuery } from './paths';

const KEYS = [
  ['0 to 5', 'Today, and the stations of the Line'],
  ['6, 7', 'Partners, Setup'],
  ['Ctrl K', 'Find a partner, link, click ID or order'],
  ['↑ ↓', 'Walk a list'],
  ['T', 'Trace the record in focus'],
  ['[ ]', 'Previous and next record in the trace'],
  ['Esc', 'Close the trace'],
  ['?', 'Show these keys'],
] as const;

/** The keys that hold everywhere. They rest while somebody types. */
export function Keys() {
  const router = useRouter();
  const [open, setOpen] = useState(false);
  useEffect(() => {
    const neighbour = (step: 1 | -1): void => {
      const rows = [...document.querySelectorAll<HTMLElement>('[data-trace]')];
      const at = rows.findIndex((row) => row.classList.contains('shown'));
      const next = rows[at + step]?.dataset.trace;
      if (at >= 0 && next) router.push(traceHref(next), { scroll: false });
    };
    const onKey = (event: KeyboardEvent): void => {
      const typing =
        event.target instanceof HTMLElement && event.target.closest('input, textarea, select, [role="dialog"]');
      if (typing || event.ctrlKey || event.metaKey || event.altKey) return;
      const station = STATIONS.find(({ key }) => key === event.key);
      if (station) router.push(station.path + scopeQuery(new URLSearchParams(window.location.search)));
      else if (event.key === '?') setOpen(true);
      else if (event.key === ']') neighbour(1);
      else if (event.key === '[') neighbour(-1);
      else if (event.key === 'Escape' && window.location.search.includes('trace='))
        router.push(traceHref(undefined), { scroll: false });
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, [router]);
  return (
    <Dialog open={open} onClose={() => setOpen(false)} aria-labelledby="keys-title">
      <DialogTitle id="keys-title" sx={{ fontSize: 17 }}>
        Keys
      </DialogTitle>
      <DialogContent>
        <dl className="facts">
          {KEYS.map(([key, what]) => [
            <dt key={key}>
              <span className="key">{key}</span>
            </dt>,
            <dd key={what}>{what}</dd>,
          ])}
        </dl>
      </DialogContent>
    </Dialog>
  );
}
