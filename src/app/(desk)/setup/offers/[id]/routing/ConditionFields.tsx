'use client';
import { DEVICES, SYSTEMS } from '@/core/clicks/machine';
import { type Condition, LIST_FIELDS, type ListField } from '@/core/routing/plan';
import { FIELD_WORDS, type Names, valueWord, weekdayName } from '@/core/routing/words';
import { Picker } from '@/ui/form/Picker';
import { conditionOf } from './drafting';

interface Props {
  condition: Condition;
  /** Of which: "condition 1 of Phones". */
  of: string;
  names: Names;
  sources: readonly { id: number; name: string }[];
  today: string;
  onChange(condition: Condition): void;
  /** A partner or channel that was picked has this name from now on. */
  onName(key: string, name: string): void;
}

const FIELDS = [...LIST_FIELDS, 'hours', 'dates'] as const;
const CHOICES: Partial<Record<ListField, readonly string[]>> = {
  device: DEVICES.filter((device) => device !== 'unknown'),
  os: SYSTEMS,
  weekday: ['1', '2', '3', '4', '5', '6', '7'],
};

/** One condition of a rule: of what, is or is not, and its values. */
export function ConditionFields({ condition, of, names, sources, today, onChange, onName }: Props) {
  return (
    <div className="condition">
      <select
        className="text"
        aria-label={`What ${of} asks`}
        value={condition.field}
        onChange={({ target }) => {
          const field = FIELDS.find((each) => each === target.value);
          if (field) onChange(conditionOf(field, today));
        }}
      >
        {FIELDS.map((field) => (
          <option key={field} value={field}>
            {FIELD_WORDS[field]}
          </option>
        ))}
      </select>
      {'values' in condition ? (
        <ValueFields {...{ condition, of, names, sources, onChange, onName }} />
      ) : (
        (['from', 'to'] as const).map((end) => (
          <label key={end} className="small">
            {end}{' '}
            <input
              className="text"
              style={{ width: condition.field === 'hours' ? 96 : 140, display: 'inline-block' }}
              type={condition.field === 'hours' ? 'time' : 'date'}
              aria-label={`${end} of ${of}`}
              value={condition[end]}
              onChange={({ target }) => onChange({ ...condition, [end]: target.value })}
            />
          </label>
        ))
      )}
    </div>
  );
}

type ListCondition = Extract<Condition, { values: readonly string[] }>;

function ValueFields({
  condition,
  of,
  names,
  sources,
  onChange,
  onName,
}: Omit<Props, 'today' | 'condition'> & { condition: ListCondition }) {
  const { field, is, values } = condition;
  const put = (next: readonly string[]): void => onChange({ ...condition, values: [...new Set(next)] });
  const choices = field === 'source' ? sources.map(({ id }) => String(id)) : CHOICES[field];
  const toggle = (value: string): void =>
    put(values.includes(value) ? values.filter((each) => each !== value) : [...values, value]);
  return (
    <>
      <select
        className="text"
        aria-label={`Is or is not, ${of}`}
        value={is ? 'is' : 'not'}
        onChange={({ target }) => onChange({ ...condition, is: target.value === 'is' })}
      >
        <option value="is">is</option>
        <option value="not">is not</option>
      </select>
      {choices ? (
        <span className="words">
          {choices.map((value) => (
            <label key={value} className="small nowrap">
              <input type="checkbox" checked={values.includes(value)} onChange={() => toggle(value)} />{' '}
              {field === 'weekday' ? weekdayName(value).slice(0, 3) : valueWord(field, value, names)}
            </label>
          ))}
        </span>
      ) : field === 'partner' || field === 'channel' ? (
        <span className="words">
          {values.map((value) => (
            <span key={value} className="chip calm">
              {valueWord(field, value, names)}
              <button
                type="button"
                className="clear"
                aria-label={`Without ${valueWord(field, value, names)}`}
                onClick={() => toggle(value)}
              >
                ×
              </button>
            </span>
          ))}
          <Picker
            what={field === 'partner' ? 'Partner' : 'Channel'}
            none="add one"
            value={undefined}
            source={field === 'partner' ? '/options/partners' : '/options/channels'}
            onPick={(option) => {
              if (!option) return;
              onName(`${field} ${option.id}`, option.label);
              put([...values, String(option.id)]);
            }}
          />
        </span>
      ) : (
        <CodesField {...{ field, of, values, put }} />
      )}
    </>
  );
}

/** Country and language codes, typed with commas; what they mean stands behind. */
function CodesField({
  field,
  of,
  values,
  put,
}: {
  field: ListField;
  of: string;
  values: readonly string[];
  put(next: readonly string[]): void;
}) {
  const tidy = (text: string): string => (field === 'country' ? text.toUpperCase() : text.toLowerCase());
  return (
    <span className="pair middle-row grow">
      <input
        className="text mono"
        style={{ width: 130 }}
        aria-label={`Codes of ${of}`}
        placeholder={field === 'country' ? 'BE, FR' : 'nl, fr'}
        defaultValue={values.join(', ')}
        onChange={({ target }) =>
          put(
            tidy(target.value)
              .split(/[\s,;]+/)
              .filter((code) => code !== ''),
          )
        }
      />
      <span className="mute small">{values.map((value) => valueWord(field, value, {})).join(', ')}</span>
    </span>
  );
}
