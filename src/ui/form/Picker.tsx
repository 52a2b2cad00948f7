'use client';
import Popover from '@mui/material/Popover';
import { type ReactNode, useEffect, useId, useState } from 'react';

export interface Option {
  id: number;
  label: string;
  about: string;
  /** The code, where `about` says more than that. */
  code?: string;
  /** Of a channel: whose it is, and the source its links begin with. */
  partner?: Option;
  sourceId?: number;
}
interface Props {
  /** What is chosen: "Partner". */
  what: string;
  value: Option | undefined;
  /** Where options are searched, on the server: "/options/partners". */
  source: string;
  onPick(option: Option | undefined): void;
  /** Shown when nothing is chosen. */
  none: string;
  wide?: boolean;
  bad?: boolean;
}

/** Chooses one of many: the options are searched on the server, so that there may be thousands. */
export function Picker({ what, value, source, onPick, none, wide, bad }: Props) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const label: ReactNode = wide ? (
    (value?.label ?? <span className="what">{none}</span>)
  ) : (
    <>
      <span className="what">{what}</span> {value?.label ?? none}
    </>
  );
  return (
    <>
      <button
        type="button"
        className={`pick${wide ? ' wide' : ''}${bad ? ' bad' : ''}`}
        aria-haspopup="listbox"
        aria-label={`${what}: ${value?.label ?? none}`}
        onClick={(event) => setAnchor(event.currentTarget)}
      >
        <span>{label}</span>
        <span aria-hidden="true">▾</span>
      </button>
      <Popover
        open={anchor !== null}
        anchorEl={anchor}
        onClose={() => setAnchor(null)}
        anchorOrigin={{ vertical: 'bottom', horizontal: 'left' }}
      >
        <OptionList
          what={what}
          source={source}
          onPick={(option) => {
            setAnchor(null);
            onPick(option);
          }}
        />
      </Popover>
    </>
  );
}

function OptionList({ what, source, onPick }: { what: string; source: string; onPick(option: Option): void }) {
  const [text, setText] = useState('');
  const [options, setOptions] = useState<Option[]>();
  const [chosen, setChosen] = useState(0);
  const listId = useId();
  useEffect(() => {
    const abort = new AbortController();
    const joint = source.includes('?') ? '&' : '?';
    fetch(`${source}${joint}q=${encodeURIComponent(text)}`, { signal: abort.signal })
      .then(async (answer) => {
        setOptions(answer.ok ? await answer.json() : []);
        setChosen(0);
      })
      .catch(() => undefined);
    return () => abort.abort();
  }, [source, text]);
  return (
    <div style={{ width: 300, padding: 8 }}>
      <input
        className="text"
        autoFocus
        placeholder={`Find a ${what.toLowerCase()}`}
        aria-label={`Find a ${what.toLowerCase()}`}
        role="combobox"
        aria-expanded="true"
        aria-controls={listId}
        value={text}
        onChange={(event) => setText(event.target.value)}
        onKeyDown={(event) => {
          const option = options?.[chosen];
          if (event.key === 'Enter' && option) {
            event.preventDefault();
            onPick(option);
          }
          if (event.key === 'ArrowDown') setChosen(Math.min(chosen + 1, (options?.length ?? 1) - 1));
          if (event.key === 'ArrowUp') setChosen(Math.max(chosen - 1, 0));
        }}
      />
      <div role="listbox" id={listId} aria-label={what} style={{ maxHeight: 260, overflowY: 'auto', marginTop: 6 }}>
        {options?.map((option, i) => (
          <div
            key={option.id}
            role="option"
            aria-selected={i === chosen}
            onClick={() => onPick(option)}
            style={{
              padding: '6px 8px',
              borderRadius: 6,
              cursor: 'pointer',
              background: i === chosen ? 'var(--act-soft)' : undefined,
            }}
          >
            {option.label} <span className="mute small">{option.about}</span>
          </div>
        ))}
      </div>
      {options?.length === 0 && (
        <p className="mute small" style={{ padding: 8 }}>
          Nothing found.
        </p>
      )}
    </div>
  );
}
