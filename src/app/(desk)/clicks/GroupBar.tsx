'use client';
import Popover from '@mui/material/Popover';
import { usePathname, useRouter, useSearchParams } from 'next/navigation';
import { useState } from 'react';
import { dimensionWord } from '@/core/reports/columns';

interface Props {
  by: readonly string[];
  /** What else can be grouped by, in groups of their own. */
  offered: readonly { title: string; names: readonly string[] }[];
  most: number;
}

/** By what clicks are grouped, in order; it stands in the address. */
export function GroupBar({ by, offered, most }: Props) {
  const router = useRouter();
  const path = usePathname();
  const search = useSearchParams();
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const put = (next: readonly string[]): void => {
    const params = new URLSearchParams(search);
    params.set('by', next.join(','));
    params.delete('page');
    router.push(`${path}?${params.toString()}`);
  };
  const swap = (i: number): void => {
    const next = [...by];
    [next[i - 1], next[i]] = [next[i] ?? '', next[i - 1] ?? ''];
    put(next);
  };
  return (
    <div className="filters" role="group" aria-label="Grouped by">
      <span className="mute">Grouped by</span>
      {by.map((name, i) => (
        <span key={name} className="chip calm">
          {i > 0 && (
            <button
              type="button"
              className="clear"
              aria-label={`${dimensionWord(name)} earlier`}
              onClick={() => swap(i)}
            >
              ‹
            </button>
          )}
          <b>{dimensionWord(name)}</b>
          <button
            type="button"
            className="clear"
            aria-label={`Without ${dimensionWord(name)}`}
            onClick={() => put(by.filter((each) => each !== name))}
          >
            ×
          </button>
        </span>
      ))}
      {by.length < most && (
        <button
          type="button"
          className="pick"
          aria-haspopup="dialog"
          onClick={(event) => setAnchor(event.currentTarget)}
        >
          + Group
        </button>
      )}
      <Popover
        open={anchor !== null}
        anchorEl={anchor}
        onClose={() => setAnchor(null)}
        anchorOrigin={{ vertical: 'bottom', horizontal: 'left' }}
        slotProps={{ paper: { role: 'dialog', 'aria-label': 'Group by' } }}
      >
        <div className="groups">
          {offered.map(({ title, names }) => (
            <div key={title}>
              <p className="label">{title}</p>
              <div className="words">
                {names
                  .filter((name) => !by.includes(name))
                  .map((name) => (
                    <button
                      key={name}
                      type="button"
                      className="pick"
                      onClick={() => {
                        setAnchor(null);
                        put([...by, name]);
                      }}
                    >
                      {dimensionWord(name)}
                    </button>
                  ))}
              </div>
            </div>
          ))}
        </div>
      </Popover>
    </div>
  );
}
