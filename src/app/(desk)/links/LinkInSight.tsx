'use client';
import Button from '@mui/material/Button';
import { useState } from 'react';
import { type LinkParts, markLink } from '@/core/links/parts';

const MEANING: Record<string, string> = {
  host: 'Tracking host: records the click, then sends the visitor on.',
  code: 'Link code: stands for partner, channel and offer. Permanent.',
  destination: 'Deep link, encoded once and always last.',
  cost: 'Cost of the click.',
};
const LEGEND = [
  ['link code', 'var(--act)'],
  ['values carried', 'var(--ochre)'],
  ['destination', 'var(--address)'],
] as const;

interface Props {
  parts: LinkParts;
  issued: string | undefined;
  busy: boolean;
  hereOrigin: string | undefined;
  onIssue(): void;
  onNext(): void;
}

/** The link with its parts marked; once issued, with its code, to be copied or opened. */
export function LinkInSight({ parts, issued, busy, hereOrigin, onIssue, onNext }: Props) {
  const [copied, setCopied] = useState<string>();
  const code = issued && new URL(issued).pathname.slice(1);
  const marks = markLink(code ? { ...parts, code } : parts);
  const copy = async (): Promise<void> => {
    if (!issued) return;
    await navigator.clipboard.writeText(issued);
    setCopied(issued);
  };
  return (
    <div>
      <h2>{issued ? 'Issued' : 'The link'}</h2>
      <div className="address" data-testid="link">
        {marks.map((mark, i) => (
          <span
            key={i}
            data-part={mark.part}
            title={mark.slot ? `${mark.slot}: carried along, see the proof.` : MEANING[mark.part]}
          >
            {mark.text}
          </span>
        ))}
      </div>
      <div className="legend">
        {LEGEND.map(([name, swatch]) => (
          <span key={name} style={{ '--swatch': swatch } as React.CSSProperties}>
            {name}
          </span>
        ))}
      </div>
      <div className="actions">
        {issued ? (
          <>
            <Button variant="contained" onClick={() => void copy()}>
              {copied === issued ? 'Copied' : 'Copy'}
            </Button>
            {hereOrigin && (
              <Button variant="outlined" href={issued.replace(parts.origin, hereOrigin)} target="_blank" rel="noopener">
                Open on this machine
              </Button>
            )}
            <Button onClick={onNext}>Compose the next</Button>
          </>
        ) : (
          <>
            <Button variant="contained" disabled={busy} onClick={onIssue}>
              Issue link
            </Button>
            <span className="mute small">
              The code is drawn when the link is issued. It can lead elsewhere later: it redirects.
            </span>
          </>
        )}
      </div>
    </div>
  );
}
