'use client';
import Button from '@mui/material/Button';
import { useState } from 'react';
import { SIGNALS, SIGNAL_NAMES, type SuspicionSettings, USUAL_SUSPICION } from '@/core/conversions/suspicion';
import type { ActionState } from '@/ui/feedback/ConfirmButton';
import { keepSuspicion } from '../actions';

/** Weight and limit of each signal, as text while they are typed. */
type Typed = Record<string, { weight: string; limit: string }>;
const typedOf = ({ signals }: SuspicionSettings): Typed =>
  Object.fromEntries(
    SIGNAL_NAMES.map((name) => [name, { weight: String(signals[name].weight), limit: String(signals[name].limit) }]),
  );

export function SuspicionForm({ values }: { values: SuspicionSettings }) {
  const [typed, setTyped] = useState(() => typedOf(values));
  const [from, setFrom] = useState(String(values.reviewFrom));
  const [state, setState] = useState<ActionState>({});
  const set = (name: string, part: Partial<Typed[string]>): void =>
    setTyped((all) => ({ ...all, [name]: { weight: '', limit: '', ...all[name], ...part } }));
  const problem = (field: string): string | undefined => state.problems?.find((each) => each.field === field)?.reason;
  const input = (name: string, which: 'weight' | 'limit', label: string) => (
    <>
      <input
        className="text num"
        style={{ width: 84 }}
        inputMode="numeric"
        aria-label={`${label}: ${which}`}
        aria-invalid={problem(`signals.${name}.${which}`) !== undefined}
        value={typed[name]?.[which] ?? ''}
        onChange={({ target }) => set(name, { [which]: target.value })}
      />
      {problem(`signals.${name}.${which}`) && <p className="bad">{problem(`signals.${name}.${which}`)}</p>}
    </>
  );
  return (
    <form
      aria-label="Suspicion"
      onSubmit={(event) => {
        event.preventDefault();
        void keepSuspicion({ signals: typed, reviewFrom: from }).then(setState);
      }}
    >
      <table className="records" aria-label="Signals">
        <thead>
          <tr>
            <th scope="col">Signal</th>
            <th scope="col">Weight</th>
            <th scope="col">Seen from</th>
          </tr>
        </thead>
        <tbody>
          {SIGNAL_NAMES.map((name) => {
            const { name: label, limit } = SIGNALS[name];
            return (
              <tr key={name} className={typed[name]?.weight === '0' ? 'mute' : undefined}>
                <td>{label}</td>
                <td>{input(name, 'weight', label)}</td>
                <td>
                  {limit === undefined ? (
                    <span className="mute">whenever it is so</span>
                  ) : (
                    <>
                      {input(name, 'limit', label)} <span className="mute">{limit}</span>
                    </>
                  )}
                </td>
              </tr>
            );
          })}
          <tr>
            <td>
              <b>A person is asked</b>
            </td>
            <td>
              <input
                className="text num"
                style={{ width: 84 }}
                inputMode="numeric"
                aria-label="A person is asked from"
                value={from}
                onChange={({ target }) => setFrom(target.value)}
              />
              {problem('reviewFrom') && <p className="bad">{problem('reviewFrom')}</p>}
            </td>
            <td className="mute">of weights together</td>
          </tr>
        </tbody>
      </table>
      <div className="actions" style={{ marginTop: 12 }}>
        <Button type="submit" variant="contained">
          Save
        </Button>
        <Button
          onClick={() => {
            setTyped(typedOf(USUAL_SUSPICION));
            setFrom(String(USUAL_SUSPICION.reviewFrom));
          }}
        >
          Usual values
        </Button>
        {state.done && <span role="status">{state.done}</span>}
      </div>
    </form>
  );
}
