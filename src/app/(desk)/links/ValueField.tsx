'use client';
import type { KnownSource } from '@/core/links/findings';
import type { CompositePart, SlotValue } from '@/core/links/values';
import { CARRIED_WORDS, type Carried } from '@/core/placeholders/names';

type ValueKind = SlotValue['kind'];
const KINDS: readonly (readonly [ValueKind, string])[] = [
  ['fixed', 'fixed'],
  ['source', 'by source'],
  ['partner', 'by partner'],
  ['composite', 'several'],
];

interface Props {
  slot: Carried;
  /** The name it is written under, where the source gave one. */
  name: string | undefined;
  value: SlotValue | undefined;
  source: KnownSource | undefined;
  problem: string | undefined;
  onChange(value: SlotValue): void;
}

const textOf = (value: SlotValue | undefined): string =>
  value === undefined || value.kind === 'partner'
    ? ''
    : value.kind === 'composite'
      ? (value.parts[0]?.text ?? '')
      : value.text;

function asKind(kind: ValueKind, value: SlotValue | undefined): SlotValue {
  const text = textOf(value);
  if (kind === 'partner') return { kind };
  if (kind === 'composite')
    return {
      kind,
      separator: '~',
      parts: [
        { name: 'first', kind: value?.kind === 'source' ? 'source' : 'fixed', text },
        { name: 'second', kind: 'fixed', text: '' },
      ],
    };
  return { kind, text };
}

/** One value of the link: fixed, filled by the source, left to the partner, or several parts in one. */
export function ValueField({ slot, name, value, source, problem, onChange }: Props) {
  const words = CARRIED_WORDS[slot];
  const kind = value?.kind ?? 'fixed';
  const id = `compose-${slot}`;
  return (
    <div className="field">
      <label htmlFor={id}>
        {words}
        {name && (
          <>
            {' '}
            as <code>{name}</code>
          </>
        )}
        {slot === 'pcid' && ', never grouped'}
      </label>
      <div className="pair">
        <select
          className="text"
          aria-label={`${words} is`}
          value={kind}
          onChange={({ target }) => onChange(asKind(target.value as ValueKind, value))}
        >
          {KINDS.filter(([each]) => each !== 'composite' || slot.startsWith('sub')).map(([each, text]) => (
            <option key={each} value={each}>
              {text}
            </option>
          ))}
        </select>
        {kind === 'partner' ? (
          <input id={id} className="text mono" disabled value="" placeholder="the partner writes it in" />
        ) : value?.kind === 'composite' ? (
          <Separator id={id} value={value} words={words} onChange={onChange} />
        ) : (
          <>
            <input
              id={id}
              className="text mono"
              value={textOf(value)}
              aria-invalid={problem !== undefined}
              list={kind === 'source' ? 'source-tokens' : undefined}
              placeholder={kind === 'source' ? (source?.preset.tokens[0]?.token ?? '{{keyword}}') : ''}
              onChange={({ target }) => onChange({ kind: kind === 'source' ? 'source' : 'fixed', text: target.value })}
            />
          </>
        )}
      </div>
      {value?.kind === 'composite' && <Parts value={value} words={words} onChange={onChange} />}
      {problem && <p className="bad">{problem}</p>}
    </div>
  );
}

type Composite = Extract<SlotValue, { kind: 'composite' }>;
interface CompositeProps {
  value: Composite;
  words: string;
  onChange(value: SlotValue): void;
}

function Separator({ id, value, words, onChange }: CompositeProps & { id: string }) {
  return (
    <>
      <span className="mute small nowrap" style={{ alignSelf: 'center' }}>
        joined by
      </span>
      <select
        id={id}
        className="text mono"
        aria-label={`${words} is joined by`}
        value={value.separator}
        onChange={({ target }) => onChange({ ...value, separator: target.value })}
      >
        {['~', '-', '_', '.', '--', '~~'].map((sign) => (
          <option key={sign}>{sign}</option>
        ))}
      </select>
    </>
  );
}

function Parts({ value, words, onChange }: CompositeProps) {
  const set = (at: number, part: Partial<CompositePart>): void =>
    onChange({ ...value, parts: value.parts.map((each, i) => (i === at ? { ...each, ...part } : each)) });
  return (
    <div className="parts">
      {value.parts.map((part, i) => (
        <div className="pair" key={i}>
          <input
            className="text"
            aria-label={`${words}, part ${i + 1}: name`}
            value={part.name}
            onChange={({ target }) => set(i, { name: target.value })}
          />
          <input
            className="text mono"
            aria-label={`${words}, part ${i + 1}: value`}
            value={part.text}
            list="source-tokens"
            // What looks like a placeholder is the source's: a part is fixed or filled by what stands in it.
            onChange={({ target }) =>
              set(i, { text: target.value, kind: /[{[%$]/.test(target.value) ? 'source' : 'fixed' })
            }
          />
          <button
            type="button"
            className="clear"
            aria-label={`Remove part ${i + 1} of ${words}`}
            disabled={value.parts.length <= 2}
            onClick={() => onChange({ ...value, parts: value.parts.filter((_, at) => at !== i) })}
          >
            ×
          </button>
        </div>
      ))}
      {value.parts.length < 6 && (
        <button
          type="button"
          className="more small"
          onClick={() =>
            onChange({
              ...value,
              parts: [...value.parts, { name: `part ${value.parts.length + 1}`, kind: 'fixed', text: '' }],
            })
          }
        >
          Another part
        </button>
      )}
    </div>
  );
}
