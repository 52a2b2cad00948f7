'use client';
import { useState } from 'react';
import type { MergedMail } from '@/services/mail_copy';
import { CopyButton } from '@/ui/feedback/CopyButton';

/** The copy as one partner gets it; arrow keys and the list walk through all of them. */
export function MailPreview({ merged }: { merged: MergedMail[] }) {
  const [at, setAt] = useState(0);
  const mail = merged[Math.min(at, merged.length - 1)];
  if (!mail) return <p className="note wait">No active partner has a channel yet.</p>;
  return (
    <div className="stack">
      <div className="field" style={{ margin: 0 }}>
        <label htmlFor="preview-partner">As it goes to</label>
        <select id="preview-partner" className="text" value={at} onChange={({ target }) => setAt(Number(target.value))}>
          {merged.map(({ partnerId, partnerName, channelName, link }, i) => (
            <option key={partnerId} value={i}>
              {partnerName}, {channelName}
              {link === null && ' (no link yet)'}
            </option>
          ))}
        </select>
      </div>
      <div>
        <p className="strong">{mail.subject}</p>
        <p className="mute small">to {mail.email}</p>
      </div>
      <div className="mail">{mail.text}</div>
      {mail.link === null ? (
        <p className="note wait">This partner has no link for the offer and page yet. Issue the missing ones first.</p>
      ) : (
        <div className="actions">
          <CopyButton text={mail.text} label="Copy text" />
          <CopyButton text={mail.subject} label="Copy subject" />
        </div>
      )}
    </div>
  );
}
