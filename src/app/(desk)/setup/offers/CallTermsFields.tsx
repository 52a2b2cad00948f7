import { useEffect } from 'react';
import { type UseFormReturn, useWatch } from 'react-hook-form';
import { CALL_CONVERTS, USUAL_CALL_TERMS } from '@/core/calls/terms';
import type { OfferFields } from '@/core/offers/schema';

const DAYS = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'];

/** When a call of the offer counts. */
export function CallTermsFields({ form, at }: { form: UseFormReturn<OfferFields>; at: number }) {
  const path = `events.${at}.call` as 'events.0.call';
  const terms = useWatch({ control: form.control, name: path });
  const unset = terms === undefined;
  useEffect(() => {
    if (unset) form.setValue(path, USUAL_CALL_TERMS);
  }, [form, path, unset]);
  if (unset) return null;
  const { converts, days } = terms;
  const whole = (label: string, name: 'leastSeconds' | 'repeatHours' | 'mostADay' | 'mostAtOnce', help: string) => (
    <div className="field">
      <label>
        {label}
        <input className="text" inputMode="numeric" {...form.register(`${path}.${name}`)} />
      </label>
      <p className="help">{help}</p>
    </div>
  );
  return (
    <fieldset className="whole form narrow" style={{ border: 0, padding: 0, margin: '8px 0 0', gap: '0 12px' }}>
      <legend className="label">Calls</legend>
      <div className="field">
        <label>
          A call converts
          <select className="text" {...form.register(`${path}.converts`)}>
            {Object.entries(CALL_CONVERTS).map(([id, words]) => (
              <option key={id} value={id}>
                {words}
              </option>
            ))}
          </select>
        </label>
      </div>
      {converts === 'length' &&
        whole('Least length (seconds)', 'leastSeconds', 'Shorter ones are kept, and pay nothing.')}
      {whole('A caller counts again after (hours)', 'repeatHours', '0: every call counts.')}
      {whole('Most a day', 'mostADay', '0: no cap.')}
      {whole('Most at once', 'mostAtOnce', '0: no cap.')}
      <div className="field">
        <span className="label">Hours, in the program’s zone</span>
        <div className="pair" style={{ alignItems: 'center' }}>
          <input className="text" type="time" aria-label="Calls from" {...form.register(`${path}.opens`)} />
          <span className="mute">to</span>
          <input className="text" type="time" aria-label="Calls until" {...form.register(`${path}.closes`)} />
        </div>
        <p className="help">Empty: the whole day.</p>
      </div>
      <div className="field">
        <span className="label">Days; none is every day</span>
        <div className="days">
          {DAYS.map((name, i) => (
            <label key={name} className="nowrap">
              <input
                type="checkbox"
                checked={days.includes(i + 1)}
                onChange={({ target }) =>
                  form.setValue(
                    path,
                    {
                      ...terms,
                      days: target.checked ? [...days, i + 1].sort() : days.filter((day) => day !== i + 1),
                    },
                    { shouldDirty: true },
                  )
                }
              />{' '}
              {name}
            </label>
          ))}
        </div>
      </div>
    </fieldset>
  );
}
