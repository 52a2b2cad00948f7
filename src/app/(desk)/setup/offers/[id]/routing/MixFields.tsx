'use client';
import Button from '@mui/material/Button';
import type { Mix } from '@/core/routing/plan';
import { shareWord, sharesOf } from '@/core/routing/words';
import { type PlanOffer, addPage, replaced, weightOf, without } from './drafting';

interface Props {
  mix: Mix;
  offer: PlanOffer;
  /** Of whom: "rule Phones". */
  of: string;
  onChange(mix: Mix): void;
}

/** The pages of a rule with their weights, and whether Brivet may shift them. */
export function MixFields({ mix, offer, of, onChange }: Props) {
  const shares = sharesOf(mix);
  const put = (to: Mix['to']): void => onChange({ ...mix, to });
  return (
    <div className="stack" style={{ gap: 6 }}>
      {mix.to.map((destination, i) => (
        <div key={i} className="pair middle-row">
          <input
            type="checkbox"
            aria-label={`Page ${i + 1} of ${of} is on`}
            checked={destination.on}
            onChange={({ target }) => put(replaced(mix.to, i, { ...destination, on: target.checked }))}
          />
          <select
            className="text"
            aria-label={`Page ${i + 1} of ${of}`}
            style={{ flex: 1 }}
            value={destination.page}
            onChange={({ target }) => put(replaced(mix.to, i, { ...destination, page: target.value }))}
          >
            {offer.landingPages.map(({ name }) => (
              <option
                key={name}
                value={name}
                disabled={name !== destination.page && mix.to.some(({ page }) => page === name)}
              >
                {name}
              </option>
            ))}
          </select>
          <input
            className="text num"
            style={{ width: 64 }}
            inputMode="numeric"
            aria-label={`Weight of page ${i + 1} of ${of}`}
            value={destination.weight}
            onChange={({ target }) => put(replaced(mix.to, i, { ...destination, weight: weightOf(target.value) }))}
          />
          <span className="num" style={{ width: 56 }}>
            {destination.on ? shareWord(shares[i]?.share ?? 0) : 'off'}
          </span>
          <button
            type="button"
            className="clear"
            aria-label={`Remove page ${i + 1} of ${of}`}
            onClick={() => put(without(mix.to, i))}
          >
            ×
          </button>
        </div>
      ))}
      <div className="actions">
        <Button
          disabled={mix.to.length >= offer.landingPages.length}
          onClick={() => onChange(addPage(mix, offer.landingPages))}
        >
          Add a page
        </Button>
        {mix.to.length > 1 && (
          <>
            <label className="small">
              <input
                type="checkbox"
                checked={mix.shift !== undefined}
                onChange={({ target }) => {
                  const { shift: _, ...rest } = mix;
                  onChange(target.checked ? { ...rest, shift: { least: 10, step: 5 } } : rest);
                }}
              />{' '}
              shift traffic to the better page
            </label>
            <Button
              onClick={() => onChange({ ...mix, round: mix.round + 1 })}
              title="Visitors may see another page than before"
            >
              Deal anew
            </Button>
          </>
        )}
      </div>
      {mix.shift && <ShiftFields mix={mix} of={of} onChange={onChange} />}
    </div>
  );
}

function ShiftFields({ mix, of, onChange }: Omit<Props, 'offer'>) {
  const { shift } = mix;
  if (!shift) return null;
  const field = (name: 'least' | 'step', words: string) => (
    <label className="small">
      {words}{' '}
      <input
        className="text num"
        style={{ width: 52, display: 'inline-block' }}
        inputMode="numeric"
        aria-label={`${words} of ${of}`}
        value={shift[name]}
        onChange={({ target }) => onChange({ ...mix, shift: { ...shift, [name]: weightOf(target.value) } })}
      />{' '}
      %
    </label>
  );
  return (
    <div className="actions">
      {field('least', 'no page below')}
      {field('step', 'at most a day')}
    </div>
  );
}
