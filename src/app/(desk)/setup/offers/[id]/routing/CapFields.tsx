'use client';
import Button from '@mui/material/Button';
import { useState } from 'react';
import type { Currency } from '@/core/money/currency';
import { money } from '@/core/money/money';
import { amountText, parseAmount } from '@/core/money/text';
import { CAP_OF, CAP_PER, type Cap, type RoutingPlan } from '@/core/routing/plan';
import { newCap, replaced, without } from './drafting';

const OF_WORDS = { clicks: 'clicks', conversions: 'conversions', spend: 'commission' };
const PER_WORDS = { day: 'a day', month: 'a month', total: 'in all' };

interface Props {
  plan: RoutingPlan;
  currency: Currency;
  fallback: string;
  onChange(plan: RoutingPlan): void;
}

/** How much is let through, and where the rest goes. */
export function CapFields({ plan, currency, fallback, onChange }: Props) {
  const { caps, visitorMost, overflow } = plan;
  const put = (next: readonly Cap[]): void => onChange({ ...plan, caps: next });
  const more = newCap(caps);
  return (
    <div className="stack" style={{ gap: 6 }}>
      {caps.map((cap, i) => (
        <div key={`${i} ${cap.of}`} className="pair middle-row">
          <span>at most</span>
          <MostField
            cap={cap}
            currency={currency}
            label={`Most of cap ${i + 1}`}
            onMost={(most) => put(replaced(caps, i, { ...cap, most }))}
          />
          <select
            className="text"
            aria-label={`Of what, cap ${i + 1}`}
            value={cap.of}
            onChange={({ target }) => {
              const of = CAP_OF.find((each) => each === target.value);
              if (of) put(replaced(caps, i, { ...cap, of }));
            }}
          >
            {CAP_OF.map((of) => (
              <option key={of} value={of}>
                {of === 'spend' ? `${currency} of commission` : OF_WORDS[of]}
              </option>
            ))}
          </select>
          <select
            className="text"
            aria-label={`Period of cap ${i + 1}`}
            value={cap.per}
            onChange={({ target }) => {
              const per = CAP_PER.find((each) => each === target.value);
              if (per) put(replaced(caps, i, { ...cap, per }));
            }}
          >
            {CAP_PER.map((per) => (
              <option key={per} value={per}>
                {PER_WORDS[per]}
              </option>
            ))}
          </select>
          <button
            type="button"
            className="clear"
            aria-label={`Remove cap ${i + 1}`}
            onClick={() => put(without(caps, i))}
          >
            ×
          </button>
        </div>
      ))}
      <div className="pair middle-row">
        <label htmlFor="visitor-most">one visitor at most</label>
        <input
          id="visitor-most"
          className="text num"
          style={{ width: 80 }}
          inputMode="numeric"
          placeholder="any"
          value={visitorMost === 0 ? '' : visitorMost}
          onChange={({ target }) =>
            onChange({ ...plan, visitorMost: /^\d{1,4}$/.test(target.value) ? Number(target.value) : 0 })
          }
        />
        <span>clicks within 24 hours</span>
      </div>
      <div className="pair middle-row">
        <label htmlFor="overflow" className="nowrap">
          beyond that, to
        </label>
        <input
          id="overflow"
          className="text mono"
          placeholder={fallback}
          value={overflow}
          onChange={({ target }) => onChange({ ...plan, overflow: target.value.trim() })}
        />
      </div>
      <div>
        <Button disabled={!more} onClick={() => more && put([...caps, more])}>
          Add a cap
        </Button>
      </div>
    </div>
  );
}

function MostField({
  cap,
  currency,
  label,
  onMost,
}: {
  cap: Cap;
  currency: Currency;
  label: string;
  onMost(most: number): void;
}) {
  const shown = cap.of === 'spend' ? amountText(money(cap.most, currency)) : String(cap.most);
  const [text, setText] = useState(shown);
  const read = (typed: string): number | undefined => {
    if (cap.of !== 'spend') return /^[1-9]\d{0,11}$/.test(typed.trim()) ? Number(typed) : undefined;
    const amount = parseAmount(typed, currency);
    return amount.ok && amount.value.minor > 0 ? amount.value.minor : undefined;
  };
  return (
    <input
      className="text num"
      style={{ width: 110 }}
      aria-label={label}
      inputMode="decimal"
      value={text}
      aria-invalid={read(text) === undefined}
      onChange={({ target }) => {
        setText(target.value);
        const most = read(target.value);
        if (most !== undefined) onMost(most);
      }}
    />
  );
}
