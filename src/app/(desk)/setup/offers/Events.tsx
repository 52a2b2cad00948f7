'use client';
import Button from '@mui/material/Button';
import { type UseFormReturn, useFieldArray, useWatch } from 'react-hook-form';
import { REPEAT_POLICIES, REPEAT_WORDS } from '@/core/conversions/repeat';
import { APPROVALS, EVENT_KINDS, FIELD_TYPES } from '@/core/offers/events';
import type { OfferFields } from '@/core/offers/schema';
import { CallTermsFields } from './CallTermsFields';

type Form = UseFormReturn<OfferFields>;

/** What the merchant may report for an offer, and what becomes of each. */
export function Events({ form }: { form: Form }) {
  const { fields: events, append, remove } = useFieldArray({ control: form.control, name: 'events' });
  const problem = form.formState.errors.events;
  return (
    <fieldset style={{ border: 0, padding: 0, margin: 0, minWidth: 0 }}>
      <legend className="label">Events</legend>
      {events.map(({ id }, i) => (
        <div key={id} style={{ marginBottom: 6 }}>
          <div className="pair event" style={{ alignItems: 'center' }}>
            <input className="text" aria-label={`Event ${i + 1}`} {...form.register(`events.${i}.event`)} />
            <select className="text" aria-label={`Repeats of event ${i + 1}`} {...form.register(`events.${i}.repeat`)}>
              {REPEAT_POLICIES.map((policy) => (
                <option key={policy} value={policy}>
                  {policy}: {REPEAT_WORDS[policy]}
                </option>
              ))}
            </select>
            <label className="nowrap">
              <input type="checkbox" {...form.register(`events.${i}.payable`)} /> pays
            </label>
            <label
              className="nowrap"
              title="Taken from the page tag and the pixel as well; the server’s own report takes over"
            >
              <input type="checkbox" {...form.register(`events.${i}.byTag`)} /> by tag
            </label>
            <button
              type="button"
              className="clear"
              style={{ margin: 0 }}
              aria-label={`Remove event ${i + 1}`}
              onClick={() => remove(i)}
            >
              ×
            </button>
          </div>
          <details className="fold">
            <summary>Name, kind, hold, approval and fields</summary>
            <EventDetails form={form} at={i} />
          </details>
        </div>
      ))}
      {problem && (
        <p className="bad">
          {problem.message ??
            problem.root?.message ??
            firstOf(problem) ??
            'An event has a name of 2 to 30 lower-case letters, digits, "-" or "_".'}
        </p>
      )}
      <Button onClick={() => append({ event: '', repeat: 'ignore', payable: true })}>Add an event</Button>
    </fieldset>
  );
}

/** The first reason anywhere among the problems of the events. */
function firstOf(problem: unknown): string | undefined {
  if (typeof problem !== 'object' || problem === null) return undefined;
  if ('message' in problem && typeof problem.message === 'string' && problem.message !== '') return problem.message;
  for (const [name, part] of Object.entries(problem)) {
    const found = name === 'ref' ? undefined : firstOf(part);
    if (found) return found;
  }
  return undefined;
}

function EventDetails({ form, at }: { form: Form; at: number }) {
  const own = useFieldArray({ control: form.control, name: `events.${at}.fields` as 'events.0.fields' });
  const hold = useWatch({ control: form.control, name: `events.${at}.hold` });
  const kind = useWatch({ control: form.control, name: `events.${at}.kind` });
  const unset = (value: string): string | undefined => (value === '' ? undefined : value);
  return (
    <div className="form narrow" style={{ gap: '0 12px' }}>
      <div className="field">
        <label>
          Name
          <input className="text" {...form.register(`events.${at}.name`)} placeholder="as people call it" />
        </label>
      </div>
      <div className="field">
        <label>
          Kind
          <select className="text" {...form.register(`events.${at}.kind`, { setValueAs: unset })}>
            <option value="">none</option>
            {EVENT_KINDS.map((kind) => (
              <option key={kind}>{kind}</option>
            ))}
          </select>
        </label>
      </div>
      <div className="field">
        <label>
          Approval
          <select className="text" {...form.register(`events.${at}.approval`, { setValueAs: unset })}>
            {Object.entries(APPROVALS).map(([id, words]) => (
              <option key={id} value={id}>
                {words}
              </option>
            ))}
          </select>
        </label>
      </div>
      <div className="field">
        <span className="label">Hold</span>
        <label>
          <input
            type="checkbox"
            checked={hold !== undefined}
            onChange={({ target }) =>
              form.setValue(
                `events.${at}.hold`,
                target.checked ? { kind: 'days', days: 14, from: 'event' } : undefined,
                {
                  shouldDirty: true,
                },
              )
            }
          />{' '}
          one of its own
        </label>
        {hold !== undefined && (
          <div className="pair" style={{ alignItems: 'center' }}>
            <input
              className="text"
              aria-label="Days of hold of the event"
              {...form.register(`events.${at}.hold.days`)}
            />
            <select
              className="text"
              aria-label="Kind of hold of the event"
              {...form.register(`events.${at}.hold.kind`)}
            >
              <option value="days">days</option>
              <option value="month">days after its month, then the 1st</option>
            </select>
            <select
              className="text"
              aria-label="Start of hold of the event"
              {...form.register(`events.${at}.hold.from`)}
            >
              <option value="event">from the event</option>
              <option value="completed">from completion</option>
            </select>
          </div>
        )}
      </div>
      {kind === 'call' && <CallTermsFields form={form} at={at} />}
      <div className="whole">
        <span className="label">Fields of the merchant’s own: shown in logs and exports</span>
        {own.fields.map(({ id }, i) => (
          <div
            key={id}
            className="pair"
            style={{ alignItems: 'center', marginBottom: 4, gridTemplateColumns: '150px 100px 1fr auto' }}
          >
            <input
              className="text mono"
              aria-label={`Name of field ${i + 1}`}
              placeholder="x_supplier"
              {...form.register(`events.${at}.fields.${i}.name`)}
            />
            <select
              className="text"
              aria-label={`Type of field ${i + 1}`}
              {...form.register(`events.${at}.fields.${i}.type`)}
            >
              {FIELD_TYPES.map((type) => (
                <option key={type}>{type}</option>
              ))}
            </select>
            <input
              className="text"
              aria-label={`Label of field ${i + 1}`}
              placeholder="Supplier"
              {...form.register(`events.${at}.fields.${i}.label`)}
            />
            <button
              type="button"
              className="clear"
              style={{ margin: 0 }}
              aria-label={`Remove field ${i + 1}`}
              onClick={() => own.remove(i)}
            >
              ×
            </button>
          </div>
        ))}
        <Button onClick={() => own.append({ name: 'x_', type: 'text', label: '' })}>Add a field</Button>
      </div>
    </div>
  );
}
