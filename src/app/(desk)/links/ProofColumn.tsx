'use client';
import { useState } from 'react';
import type { RateSheet } from '@/core/commissions/sheet';
import { EXAMPLE_CLICK_ID, type Proof } from '@/core/links/proof';
import type { Currency } from '@/core/money/currency';
import { showAmount } from '@/core/money/text';
import { VALUE_SLOTS } from '@/core/placeholders/names';
import { type Day, showDay } from '@/core/time/calendar';
import { type Draft, draftEarning } from './composing';

interface Props {
  draft: Draft;
  proof: Proof | undefined;
  rows: RateSheet['rows'];
  currency: Currency;
  today: Day;
  onChange(part: Partial<Draft>): void;
}

const VIA: Record<string, string> = {
  deep_link: 'the deep link',
  landing_page: 'the offer’s landing page',
  fallback: 'the fallback, because the offer is not live',
};

/** What will happen behind the link, worked out here with the functions the tracking host uses. */
export function ProofColumn({ draft, proof, rows, currency, today, onChange }: Props) {
  const fromSource = VALUE_SLOTS.filter((slot) => draft.slots[slot]?.kind === 'source' && draft.slots[slot].text);
  if (!proof)
    return (
      <div>
        <h2>Proof</h2>
        <p className="mute">
          Choose an offer to see each step from the click to the landing page, and what a conversion would earn.
        </p>
      </div>
    );
  const [clicked, recorded, , landing] = proof.hops;
  return (
    <div>
      <h2>Proof</h2>
      {proof.choice.toRefused && (
        <p className="note trouble" style={{ marginBottom: 12 }}>
          The deep link would not be followed: {proof.choice.toRefused}
        </p>
      )}
      {proof.unfilled.length > 0 && (
        <p className="note wait" style={{ marginBottom: 12 }}>
          <b>{proof.unfilled.join(', ')} would arrive as plain text</b> unless the source fills it. Give an example of
          what it fills in:
        </p>
      )}
      {fromSource.map((slot) => (
        <div className="field" key={slot}>
          <label htmlFor={`example-${slot}`}>Example for {slot}</label>
          <input
            id={`example-${slot}`}
            className="text mono"
            value={draft.examples[slot] ?? ''}
            onChange={(event) => onChange({ examples: { ...draft.examples, [slot]: event.target.value } })}
          />
        </div>
      ))}
      <ol className="hops">
        <li>
          Visitor clicks
          <code>{clicked?.address}</code>
        </li>
        <li>
          Tracking host records the click
          <code>
            click {EXAMPLE_CLICK_ID.slice(0, 9)}…
            {Object.entries(recorded?.values ?? {}).map(([name, value]) => ` · ${name}=${value}`)}
          </code>
        </li>
        <li>Redirect 302 to {VIA[proof.choice.via]}</li>
        <li>
          Landing page
          <code data-testid="landing">{landing?.address}</code>
          {proof.choice.replaced.length > 0 && (
            <span className="mute small">
              Our {proof.choice.replaced.join(', ')} takes the place of the one in the destination.
            </span>
          )}
        </li>
      </ol>
      <IfItConverts draft={draft} rows={rows} currency={currency} today={today} />
    </div>
  );
}

function IfItConverts({ draft, rows, currency, today }: Pick<Props, 'draft' | 'rows' | 'currency' | 'today'>) {
  const [amount, setAmount] = useState('100.00');
  const [chosen, setChosen] = useState<string>();
  const events = draft.offer?.events ?? [];
  const event = chosen && events.includes(chosen) ? chosen : (events[0] ?? '');
  const { rating, payable, problem } = draftEarning(draft, rows, currency, { event, amount }, today);
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
          aria-label={`Sale in ${currency}`}
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
