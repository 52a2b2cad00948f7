'use client';
import Button from '@mui/material/Button';
import { useRouter } from 'next/navigation';
import { type UseFormReturn, useFieldArray, useWatch } from 'react-hook-form';
import type { SlotValue } from '@/core/links/values';
import { CARRIED, type Carried, CLICK_NAMES, CONVERSION_NAMES } from '@/core/placeholders/names';
import { type SourcePreset, type SourceToken, sourceSchema } from '@/core/sources/schema';
import { RecordForm } from '@/ui/form/RecordForm';
import { ValueField } from '../../links/ValueField';
import { saveSource } from '../actions';

/** The preset as the form holds it: lists and records that can be changed. */
interface FormFields {
  name: string;
  paste: string;
  tokens: SourceToken[];
  values: Partial<Record<Carried, { parameter?: string; value: SlotValue }>>;
  postback: string;
}
const EMPTY: FormFields = {
  name: '',
  paste: '',
  tokens: [{ token: '{{keyword}}', meaning: 'keyword', example: '', unique: false }],
  values: { sub1: { value: { kind: 'source', text: '{{keyword}}' } } },
  postback: '',
};

/** A source: its placeholders, what goes into which value, and where links for it are pasted. */
export function SourceForm({ id, preset }: { id: number | undefined; preset: SourcePreset | undefined }) {
  const router = useRouter();
  const values: FormFields = preset ? { ...preset, tokens: [...preset.tokens], values: { ...preset.values } } : EMPTY;
  return (
    <RecordForm<FormFields>
      label="Source"
      schema={sourceSchema as never}
      values={values}
      submit={id === undefined ? 'Add source' : 'Save'}
      action={(fields) => saveSource(id, fields)}
      onDone={() => id === undefined && router.push('/setup?shelf=sources')}
      wide
      fields={[
        { name: 'name', label: 'Name', whole: true },
        {
          name: 'paste',
          label: 'Where the link is pasted, and how',
          kind: 'area',
          whole: true,
          help: 'Shown beside Copy, to whoever issues a link for this source.',
        },
        {
          name: 'postback',
          label: 'Outbound postback',
          kind: 'area',
          mono: true,
          whole: true,
          help: `Where conversions are reported to the source. May carry ${['pcid', 'amount', 'event'].map((name) => `{${name}}`).join(' ')} and ${CLICK_NAMES.length + CONVERSION_NAMES.length - 3} other values of Brivet.`,
        },
      ]}
      extra={(form) => (
        <div className="stack">
          <Tokens form={form} />
          <Values form={form} />
        </div>
      )}
    />
  );
}

function Tokens({ form }: { form: UseFormReturn<FormFields> }) {
  const { fields, append, remove } = useFieldArray({ control: form.control, name: 'tokens' });
  const problems = form.formState.errors.tokens;
  return (
    <fieldset style={{ border: 0, padding: 0, margin: 0, minWidth: 0 }}>
      <legend className="label">Placeholders, letter by letter as the source writes them</legend>
      {fields.map(({ id }, i) => (
        <div key={id}>
          <div className="pair" style={{ marginBottom: 6, alignItems: 'center' }}>
            <input className="text mono" aria-label={`Placeholder ${i + 1}`} {...form.register(`tokens.${i}.token`)} />
            <input
              className="text"
              aria-label={`Meaning of placeholder ${i + 1}`}
              placeholder="meaning"
              {...form.register(`tokens.${i}.meaning`)}
            />
            <input
              className="text"
              aria-label={`Example for placeholder ${i + 1}`}
              placeholder="example"
              {...form.register(`tokens.${i}.example`)}
            />
            <label className="nowrap small" title="Different on every click: never for a grouped sub-ID.">
              <input type="checkbox" {...form.register(`tokens.${i}.unique`)} /> unique
            </label>
            <button
              type="button"
              className="clear"
              style={{ margin: 0 }}
              aria-label={`Remove placeholder ${i + 1}`}
              onClick={() => remove(i)}
            >
              ×
            </button>
          </div>
          {problems?.[i] && (
            <p className="bad">{problems[i].token?.message ?? problems[i].meaning?.message ?? problems[i].message}</p>
          )}
        </div>
      ))}
      {problems?.message && <p className="bad">{problems.message}</p>}
      <Button onClick={() => append({ token: '', meaning: '', example: '', unique: false })}>Add a placeholder</Button>
    </fieldset>
  );
}

/** An error somewhere below a value of the form, whatever its depth. */
const deepMessage = (error: unknown): string | undefined => {
  if (typeof error !== 'object' || error === null) return undefined;
  if ('message' in error && typeof error.message === 'string' && error.message !== '') return error.message;
  for (const inner of Object.values(error)) {
    const message = deepMessage(inner);
    if (message) return message;
  }
  return undefined;
};

function Values({ form }: { form: UseFormReturn<FormFields> }) {
  const values = useWatch({ control: form.control, name: 'values' });
  const tokens = useWatch({ control: form.control, name: 'tokens' });
  const source = { id: 0, preset: { ...EMPTY, tokens, values } };
  const set = (slot: Carried, to: FormFields['values'][Carried]): void => {
    const next = { ...values };
    if (to) next[slot] = to;
    else delete next[slot];
    form.setValue('values', next, { shouldDirty: true, shouldValidate: form.formState.isSubmitted });
  };
  const free = CARRIED.filter((slot) => !values[slot]);
  return (
    <fieldset style={{ border: 0, padding: 0, margin: 0, minWidth: 0 }}>
      <legend className="label">What a link carries, and under which parameter</legend>
      <datalist id="source-tokens">
        {tokens.map(({ token, meaning }, i) => (
          <option key={i} value={token}>
            {meaning}
          </option>
        ))}
      </datalist>
      {CARRIED.filter((slot) => values[slot]).map((slot) => {
        const current = values[slot];
        return (
          current && (
            <div key={slot} className="pair" style={{ alignItems: 'flex-start' }}>
              <div style={{ flex: 1, minWidth: 0 }}>
                <ValueField
                  slot={slot}
                  name={current.parameter || undefined}
                  value={current.value}
                  source={source}
                  problem={deepMessage(form.formState.errors.values?.[slot])}
                  onChange={(value) => set(slot, { ...current, value })}
                />
              </div>
              <div className="field" style={{ flex: '0 0 120px' }}>
                <label htmlFor={`parameter-${slot}`}>written as</label>
                <input
                  id={`parameter-${slot}`}
                  className="text mono"
                  placeholder={slot}
                  value={current.parameter ?? ''}
                  onChange={({ target }) => set(slot, { ...current, parameter: target.value })}
                />
              </div>
              <button
                type="button"
                className="clear"
                style={{ margin: '22px 0 0' }}
                aria-label={`Carry no ${slot}`}
                onClick={() => set(slot, undefined)}
              >
                ×
              </button>
            </div>
          )
        );
      })}
      {typeof form.formState.errors.values?.message === 'string' && (
        <p className="bad">{form.formState.errors.values.message}</p>
      )}
      {free.length > 0 && (
        <select
          className="text"
          style={{ width: 'auto' }}
          aria-label="Carry another value"
          value=""
          onChange={({ target }) => set(target.value as Carried, { value: { kind: 'source', text: '' } })}
        >
          <option value="">Carry another value…</option>
          {free.map((slot) => (
            <option key={slot}>{slot}</option>
          ))}
        </select>
      )}
    </fieldset>
  );
}
