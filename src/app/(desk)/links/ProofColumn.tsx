'use client';
import { useState } from 'react';
import type { Change, Finding } from '@/core/links/findings';
import { redirects } from '@/core/links/parts';
import { EXAMPLE_CLICK_ID, type Proof } from '@/core/links/proof';
import { showAmount } from '@/core/money/text';
import { CARRIED_WORDS, isCarried } from '@/core/placeholders/names';
import { showDay } from '@/core/time/calendar';
import { ChainCheck } from './ChainCheck';
import { Findings } from './Findings';
import { lastClick } from './actions';
import { type Bench, type Draft, draftEarning, wantedExamples } from './composing';

interface Props {
  draft: Draft;
  bench: Bench;
  proof: Proof | undefined;
  findings: readonly Finding[];
  onChange(part: Partial<Draft>): void;
  onFix(change: Change): void;
}

const VIA: Record<string, string> = {
  deep_link: 'the page in the link',
  destination: 'the link’s own page',
  landing_page: 'the offer’s landing page',
  fallback: 'the fallback, because the offer is not live',
};

/** What will happen behind the link, worked out here with the functions the tracking host uses. */
export function ProofColumn({ draft, bench, proof, findings, onChange, onFix }: Props) {
  return (
    <div>
      <h2>Proof</h2>
      <Findings findings={findings} onFix={onFix} />
      {proof ? (
        <>
          <Examples draft={draft} proof={proof} onChange={onChange} />
          <Hops draft={draft} proof={proof} />
          {proof.choice.via !== 'fallback' && <ChainCheck address={proof.choice.address} />}
          <IfItConverts draft={draft} bench={bench} />
        </>
      ) : (
        <p className="mute">
          Choose an offer to see each step from the click to the landing page, and what a conversion would earn.
        </p>
      )}
    </div>
  );
}

function Hops({ draft, proof }: { draft: Draft; proof: Proof }) {
  const recorded = [...Object.entries(proof.recorded), ...Object.entries(proof.split)];
  return (
    <ol className="hops">
      <li>
        {wantedExamples(draft).length > 0 ? 'Visitor clicks, placeholders filled' : 'Visitor clicks'}
        <code>{proof.clicked}</code>
      </li>
      <li>
        {redirects(draft.kind) ? 'Tracking host records the click' : 'The page tag reports the visit'}
        <code>
          click {EXAMPLE_CLICK_ID.slice(0, 9)}…{recorded.map(([name, value]) => ` · ${name}=${value}`)}
        </code>
      </li>
      {redirects(draft.kind) && <li>No rule is set: redirect 302 to {VIA[proof.choice.via]}</li>}
      <li>
        Landing page
        <code data-testid="landing">{proof.choice.address}</code>
        {proof.choice.replaced.length > 0 && (
          <span className="mute small">
            Our {proof.choice.replaced.join(', ')} takes the place of the one in the page.
          </span>
        )}
      </li>
    </ol>
  );
}

function Examples({ draft, proof, onChange }: { draft: Draft; proof: Proof; onChange(part: Partial<Draft>): void }) {
  const [said, setSaid] = useState<string>();
  const wanted = wantedExamples(draft);
  // Opens by itself when a placeholder without an example comes in, and stays open while one is typed.
  const missing = wanted.filter((token) => !draft.examples[token]).join(' ');
  const [open, setOpen] = useState(missing !== '');
  const [askedFor, setAskedFor] = useState(missing);
  if (missing !== askedFor) {
    setAskedFor(missing);
    if (missing !== '') setOpen(true);
  }
  if (wanted.length === 0) return null;
  const { channel, offer } = draft;
  const take = async (channelId: number, offerId: number): Promise<void> => {
    const result = await lastClick(channelId, offerId);
    if ('refused' in result) return setSaid(result.refused);
    if (!result.answer) return setSaid('Nobody has clicked a link of this channel and offer yet.');
    setSaid('Taken from the last real click of this channel.');
    onChange({ examples: { ...draft.examples, ...result.answer.examples } });
  };
  return (
    <details
      className="fold"
      open={open}
      onToggle={({ currentTarget }) => setOpen(currentTarget.open)}
      style={{ marginTop: 0 }}
    >
      <summary>
        Example values
        {proof.unfilled.length > 0 && <span className="tag wait"> · {proof.unfilled.join(', ')} unfilled</span>}
      </summary>
      {wanted.map((token) => (
        <div className="field" key={token}>
          <label htmlFor={`example-${token}`}>
            {isCarried(token) ? `${CARRIED_WORDS[token]}, by the partner` : <code>{token}</code>}
          </label>
          <input
            id={`example-${token}`}
            className="text mono"
            value={draft.examples[token] ?? ''}
            onChange={({ target }) => onChange({ examples: { ...draft.examples, [token]: target.value } })}
          />
        </div>
      ))}
      {channel && offer && (
        <button type="button" className="more" onClick={() => void take(channel.id, offer.id)}>
          Take them from the last click
        </button>
      )}
      {said && (
        <p className="mute small" role="status">
          {said}
        </p>
      )}
    </details>
  );
}

function IfItConverts({ draft, bench }: { draft: Draft; bench: Bench }) {
  const [amount, setAmount] = useState('100.00');
  const [chosen, setChosen] = useState<string>();
  const events = draft.offer?.events ?? [];
  const event = chosen && events.includes(chosen) ? chosen : (events[0] ?? '');
  const { rating, payable, problem } = draftEarning(draft, bench, { event, amount });
  const paid = rating?.kind === 'rated' ? rating.explanation.paid[0] : undefined;
  return (
    <>
      <h2>If it converts today</h2>
      <div className="pair" style={{ marginBottom: 8 }}>
        <select className="text" aria-label="Event" value={event} onChange={({ target }) => setChosen(target.value)}>
          {events.map((each) => (
            <option key={each}>{each}</option>
          ))}
        </select>
        <input
          className="text num"
          aria-label={`Sale in ${bench.currency}`}
          value={amount}
          aria-invalid={problem !== undefined}
          onChange={({ target }) => setAmount(target.value)}
        />
      </div>
      {problem && <p className="bad">{problem}</p>}
      {rating?.kind === 'rated' && (
        <p>
          <b>{showAmount(rating.amount)}</b> commission{' '}
          <span className="mute">
            ({paid ? paid.label : 'no row of the sheet matches'}),{' '}
            {payable ? `payable from ${showDay(payable)}` : 'payable once it is delivered or done'}
          </span>
        </p>
      )}
    </>
  );
}
