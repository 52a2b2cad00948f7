'use client';
import Button from '@mui/material/Button';
import Link from 'next/link';
import { useState } from 'react';
import { type LinkMark, type LinkParts, composeLink, markLink } from '@/core/links/parts';
import { CARRIED_WORDS } from '@/core/placeholders/names';
import { QrButton } from './QrButton';

const MEANING: Record<string, string> = {
  host: 'Tracking host: records the click, then sends the visitor on.',
  code: 'Link code: stands for partner, channel and offer. Permanent.',
  destination: 'The page. In a deep link it is encoded once and stands last.',
};
const LEGEND = [
  ['link code', 'var(--act)'],
  ['values carried', 'var(--ochre)'],
  ['page', 'var(--address)'],
] as const;

const meaningOf = (mark: LinkMark): string | undefined => {
  if (!mark.slot) return MEANING[mark.part];
  const filled = mark.text === '' ? 'the partner writes it in here' : 'carried along; the proof shows how it arrives';
  return `${CARRIED_WORDS[mark.slot]}: ${filled}.`;
};

/** An address with its parts marked; each is explained while it is pointed at or in focus. */
export function MarkedAddress({ marks }: { marks: LinkMark[] }) {
  const [about, setAbout] = useState<string>();
  return (
    <>
      <div className="address" data-testid="link">
        {marks.map((mark, i) => {
          const meaning = meaningOf(mark);
          return (
            <span
              key={i}
              data-part={mark.part}
              tabIndex={meaning ? 0 : undefined}
              onMouseEnter={() => setAbout(meaning)}
              onMouseLeave={() => setAbout(undefined)}
              onFocus={() => setAbout(meaning)}
              onBlur={() => setAbout(undefined)}
            >
              {mark.slot && mark.text === '' ? '\u200b…' : mark.text}
            </span>
          );
        })}
      </div>
      <div className="legend" aria-live="polite">
        {about ??
          LEGEND.map(([name, swatch]) => (
            <span key={name} style={{ '--swatch': swatch } as React.CSSProperties}>
              {name}
            </span>
          ))}
      </div>
    </>
  );
}

interface Props {
  parts: LinkParts;
  issued: { id: number; code: string; address: string; here?: string } | undefined;
  /** How many errors keep it from being issued. */
  errors: number;
  busy: boolean;
  /** Where the source wants it pasted, and how. */
  paste: string | undefined;
  onIssue(): void;
  onNext(): void;
}

/** The link with its parts marked; once issued, with its code, to be copied or opened. */
export function LinkInSight({ parts, issued, errors, busy, paste, onIssue, onNext }: Props) {
  const [copied, setCopied] = useState<string>();
  const code = issued && (parts.code.startsWith('·') ? issued.code : parts.code);
  const shown = code ? { ...parts, code } : parts;
  const address = issued?.address ?? composeLink(shown);
  const copy = async (): Promise<void> => {
    await navigator.clipboard.writeText(address);
    setCopied(address);
  };
  return (
    <div>
      <h2>{issued ? 'Issued' : 'The link'}</h2>
      <MarkedAddress marks={markLink(shown)} />
      <div className="actions">
        {issued ? (
          <>
            <Button variant="contained" onClick={() => void copy()}>
              {copied === address ? 'Copied' : 'Copy'}
            </Button>
            <QrButton address={address} name={code ?? 'link'} />
            {issued.here && (
              <Button variant="outlined" href={issued.here} target="_blank" rel="noopener">
                Open on this machine
              </Button>
            )}
            <Button component={Link} href={`/links/${issued.id}`}>
              Details
            </Button>
            <Button onClick={onNext}>Compose the next</Button>
            {paste && <p className="note calm whole">{paste}</p>}
          </>
        ) : (
          <>
            <Button variant="contained" disabled={busy} onClick={onIssue}>
              Issue link
            </Button>
            <Button variant="outlined" component={Link} href="/links/many">
              Many at once
            </Button>
            <Button variant="outlined" component={Link} href="/links/mail">
              Mail copy
            </Button>
            {errors > 0 ? (
              <span className="tag trouble small">
                {errors === 1 ? '1 error to mend first' : `${errors} errors to mend first`}
              </span>
            ) : (
              <span className="mute small">Nothing is kept before that.</span>
            )}
          </>
        )}
      </div>
    </div>
  );
}
