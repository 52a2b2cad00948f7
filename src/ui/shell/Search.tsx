'use client';
import Dialog from '@mui/material/Dialog';
import { useRouter } from 'next/navigation';
import { useEffect, useState } from 'react';

interface Hit {
  kind: string;
  id: string | number;
  label: string;
  about: string;
  href: string;
}

/** Ctrl K: finds on the server, arrows choose, Enter goes there. */
export function Search() {
  const router = useRouter();
  const [open, setOpen] = useState(false);
  const [text, setText] = useState('');
  const [found, setFound] = useState<{ text: string; hits: Hit[]; failed?: true }>({ text: '', hits: [] });
  const [chosen, setChosen] = useState(0);
  useEffect(() => {
    const onKey = (event: KeyboardEvent): void => {
      if (event.key.toLowerCase() !== 'k' || !(event.ctrlKey || event.metaKey)) return;
      event.preventDefault();
      setOpen(true);
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, []);
  useEffect(() => {
    if (text.trim().length < 2) return;
    const abort = new AbortController();
    const wait = setTimeout(() => {
      fetch(`/find?q=${encodeURIComponent(text)}`, { signal: abort.signal })
        .then(async (answer) => setFound({ text, hits: await answer.json() }))
        .catch(() => !abort.signal.aborted && setFound({ text, hits: [], failed: true }));
      setChosen(0);
    }, 120);
    return () => {
      clearTimeout(wait);
      abort.abort();
    };
  }, [text]);
  const hits = text.trim().length < 2 ? [] : found.hits;
  const go = (hit: Hit | undefined): void => {
    if (!hit) return;
    setOpen(false);
    setText('');
    router.push(hit.href);
  };
  const state = found.failed
    ? 'The search does not answer. Try again.'
    : text.trim().length < 2
      ? 'Type at least two characters. Orders, link codes and click IDs are found whole, partners by any part.'
      : found.text === text && hits.length === 0
        ? `Nothing here is called “${text}”.`
        : undefined;
  return (
    <>
      <button className="find" type="button" onClick={() => setOpen(true)}>
        <span>Find a partner, link, click ID or order</span>
        <span className="key">Ctrl K</span>
      </button>
      <Dialog
        open={open}
        onClose={() => setOpen(false)}
        fullWidth
        maxWidth="sm"
        aria-label="Find"
        sx={{ '& .MuiDialog-container': { alignItems: 'flex-start' } }}
      >
        <div className="pad">
          <input
            className="text"
            autoFocus
            aria-label="Find"
            value={text}
            onChange={(event) => setText(event.target.value)}
            onKeyDown={(event) => {
              if (event.key === 'Enter') go(hits[chosen]);
              if (event.key === 'ArrowDown') setChosen(Math.min(chosen + 1, hits.length - 1));
              if (event.key === 'ArrowUp') setChosen(Math.max(chosen - 1, 0));
            }}
          />
          <ul className="queue" style={{ marginTop: 8 }} aria-label="Found">
            {hits.map((hit, i) => (
              <li
                key={`${hit.kind}${hit.id}`}
                style={{
                  display: 'block',
                  padding: '6px 8px',
                  background: i === chosen ? 'var(--act-soft)' : undefined,
                }}
              >
                <a
                  href={hit.href}
                  onClick={(event) => {
                    event.preventDefault();
                    go(hit);
                  }}
                  style={{ textDecoration: 'none' }}
                >
                  <span className="strong">{hit.label}</span>{' '}
                  <span className="mute small">
                    {hit.kind} · {hit.about}
                  </span>
                </a>
              </li>
            ))}
          </ul>
          {state && (
            <p className="mute small" style={{ marginTop: 8 }}>
              {state}
            </p>
          )}
        </div>
      </Dialog>
    </>
  );
}
