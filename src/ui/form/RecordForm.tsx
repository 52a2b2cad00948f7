'use client';
import Button from '@mui/material/Button';
import type Joi from 'joi';
import type { ReactNode } from 'react';
import { useState } from 'react';
import { type DefaultValues, type FieldValues, type Path, type UseFormReturn, useForm } from 'react-hook-form';
import { check } from '@/core/schema/problems';
import type { ActionState } from '../feedback/ConfirmButton';

export interface FieldSpec {
  name: string;
  label: string;
  help?: string;
  kind?: 'text' | 'area' | 'select' | 'check' | 'lines' | 'words';
  options?: readonly (readonly [value: string, label: string])[];
  /** Lines of an area. */
  rows?: number;
  whole?: boolean;
  mono?: boolean;
  /** A calendar day. */
  date?: boolean;
  fixed?: boolean;
}
interface Props<T extends FieldValues> {
  label: string;
  fields: readonly FieldSpec[];
  schema: Joi.ObjectSchema<T>;
  values: DefaultValues<T>;
  submit: string;
  action(values: T): Promise<ActionState>;
  extra?: (form: UseFormReturn<T>) => ReactNode;
  /** The extra part stands beside the fields instead of below them. */
  wide?: boolean;
  /** A form of a few fields beside others: its button does not stand out. */
  quiet?: boolean;
  /** After it was saved. */
  onDone?: () => void;
}

/** A list is edited as text: one entry a line, or words separated by commas. */
const asText = (value: unknown, kind: FieldSpec['kind']): unknown =>
  Array.isArray(value) ? value.join(kind === 'lines' ? '\n' : ', ') : value;
const asList = (value: unknown, kind: FieldSpec['kind']): unknown =>
  typeof value === 'string'
    ? value
        .split(kind === 'lines' ? /[\s,]+/ : ',')
        .map((entry) => entry.trim())
        .filter((entry) => entry !== '')
    : value;

/** The values with every list field turned into text, or back. */
const lists = (
  fields: readonly FieldSpec[],
  values: object,
  turn: (value: unknown, kind: FieldSpec['kind']) => unknown,
): object =>
  Object.fromEntries(
    Object.entries(values).map(([name, value]) => {
      const kind = fields.find((field) => field.name === name)?.kind;
      return [name, kind === 'lines' || kind === 'words' ? turn(value, kind) : value];
    }),
  );

/** A form that checks with the same schema as the server; problems stand beside their fields and nothing typed is lost. */
export function RecordForm<T extends FieldValues>({
  label,
  fields,
  schema,
  values,
  submit,
  action,
  extra,
  wide,
  quiet,
  onDone,
}: Props<T>) {
  const [general, setGeneral] = useState<string>();
  const form = useForm<T>({
    defaultValues: lists(fields, values, asText) as DefaultValues<T>,
    mode: 'onTouched',
    resolver: (input) => {
      const result = check(schema, lists(fields, input, asList));
      if (result.ok) return { values: result.value, errors: {} };
      const errors: Record<string, unknown> = {};
      for (const { field, reason } of result.problems)
        place(errors, field.split('.'), { type: 'joi', message: reason });
      return { values: {}, errors: errors as never };
    },
  });
  const problem = (name: string): string | undefined =>
    form.getFieldState(name as Path<T>, form.formState).error?.message;
  const save = form.handleSubmit(async (checked) => {
    setGeneral(undefined);
    const { problems } = await action(checked);
    for (const { field, reason } of problems ?? [])
      if (fields.some(({ name }) => name === field) || field.includes('.'))
        form.setError(field as Path<T>, { message: reason });
      else setGeneral(reason);
    if (!problems) {
      form.reset(form.getValues());
      onDone?.();
    }
  });
  const shown = fields.map((spec) => <Field key={spec.name} spec={spec} form={form} problem={problem(spec.name)} />);
  return (
    <form className={wide ? 'form wide' : 'form'} aria-label={label} onSubmit={(event) => void save(event)} noValidate>
      {wide ? <div className="spread">{shown}</div> : shown}
      {extra && <div className={wide ? 'beside' : 'whole'}>{extra(form)}</div>}
      {general && (
        <p className="note trouble whole" role="alert">
          {general}
        </p>
      )}
      <div className="whole actions">
        <Button type="submit" variant={quiet ? 'outlined' : 'contained'} disabled={form.formState.isSubmitting}>
          {submit}
        </Button>
      </div>
    </form>
  );
}

/** Puts an error where the form looks for it: errors.hold.days for "hold.days". */
function place(errors: Record<string, unknown>, [head = '', ...rest]: string[], error: object): void {
  if (rest.length === 0) {
    errors[head] ??= error;
    return;
  }
  const inner = (errors[head] ??= {}) as Record<string, unknown>;
  // An error of one whole line of a list is shown with the list.
  if (rest.every((part) => /^\d+$/.test(part))) Object.assign(inner, error);
  else place(inner, rest, error);
}

function Field<T extends FieldValues>({
  spec,
  form,
  problem,
}: {
  spec: FieldSpec;
  form: UseFormReturn<T>;
  problem: string | undefined;
}) {
  const { name, label, kind = 'text', help, options = [], rows = 3, whole, mono, fixed, date } = spec;
  const id = `field-${name.replaceAll('.', '-')}`;
  const described = {
    id,
    'aria-invalid': problem !== undefined,
    'aria-describedby': `${id}-about`,
    readOnly: fixed,
    className: mono ? 'text mono' : 'text',
  };
  const path = name as Path<T>;
  const control = {
    text: () => <input type={date ? 'date' : undefined} {...described} {...form.register(path)} />,
    area: () => <textarea rows={rows} {...described} {...form.register(path)} />,
    lines: () => <textarea rows={3} {...described} {...form.register(path)} />,
    words: () => <input {...described} {...form.register(path)} />,
    select: () => (
      <select {...described} {...form.register(path)}>
        {options.map(([value, text]) => (
          <option key={value} value={value}>
            {text}
          </option>
        ))}
      </select>
    ),
    check: () => <input type="checkbox" {...described} className="" {...form.register(path)} />,
  }[kind];
  return (
    <div className={whole ? 'whole' : undefined}>
      {kind === 'check' ? (
        <label>
          {control()} {label}
        </label>
      ) : (
        <>
          <label className="label" htmlFor={id}>
            {label}
          </label>
          {control()}
        </>
      )}
      <div id={`${id}-about`}>
        {problem ? <p className="bad">{problem}</p> : help && <p className="help">{help}</p>}
      </div>
    </div>
  );
}
