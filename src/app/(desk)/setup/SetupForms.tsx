'use client';
import Button from '@mui/material/Button';
import Joi from 'joi';
import { useState } from 'react';
import type { Currency } from '@/core/money/currency';
import { PRIVACY, type ProgramFields, programSchema } from '@/core/programs/schema';
import { currencyField, dayField, line } from '@/core/schema/fields';
import { RecordForm } from '@/ui/form/RecordForm';
import { addRate, addToken, renewKey, saveProgram } from './actions';

const PRIVACY_WORDS = { whole: 'kept whole', cut: 'cut to /24 or /48', hash: 'kept as a keyed hash only' };

export const ProgramForm = ({ values, currency }: { values: ProgramFields; currency: Currency }) => (
  <RecordForm
    label="Program"
    schema={programSchema(currency)}
    values={values}
    submit="Save"
    action={saveProgram}
    fields={[
      { name: 'name', label: 'Name' },
      { name: 'timeZone', label: 'Time zone', help: 'Days and months are counted in it.' },
      { name: 'country', label: 'Country' },
      { name: 'trackingOrigin', label: 'Tracking host', mono: true, help: 'New links begin with it.' },
      {
        name: 'otherOrigins',
        label: 'Other tracking hosts',
        kind: 'lines',
        mono: true,
        help: 'Links answer on these as well, and may begin with them.',
      },
      {
        name: 'fallback',
        label: 'Fallback address',
        mono: true,
        whole: true,
        help: 'Where visitors go when link, partner or offer is not live.',
      },
      { name: 'minimumPayout', label: `Minimum payout (${currency})` },
      { name: 'payoutDay', label: 'Payout day of the month', help: '1 to 28.' },
      {
        name: 'privacy',
        label: 'Visitors’ addresses are',
        kind: 'select',
        options: PRIVACY.map((id) => [id, PRIVACY_WORDS[id]]),
      },
      {
        name: 'uniqueHours',
        label: 'A second click is a repeat within (hours)',
        help: 'Of the same visitor on the same offer; 1 to 24.',
      },
      { name: 'takesApplications', label: 'Takes applications on the public form, /apply', kind: 'check' },
    ]}
  />
);

export const Secret = ({ text }: { text: string | undefined }) =>
  text ? (
    <p className="note calm" role="status">
      Copy it now, it is not shown again:
      <br />
      <code>{text}</code>
    </p>
  ) : null;

export function TokenForm() {
  const [secret, setSecret] = useState<string>();
  return (
    <div className="stack">
      <RecordForm
        label="Token"
        schema={Joi.object<{ name: string }>({ name: line('Name', 80).required() })}
        values={{ name: '' }}
        submit="Make a token"
        fields={[{ name: 'name', label: 'What it is for', whole: true }]}
        action={async (fields) => {
          const state = await addToken(fields);
          setSecret(state.secret);
          return state;
        }}
      />
      <Secret text={secret} />
    </div>
  );
}

export function PostbackKey() {
  const [secret, setSecret] = useState<string>();
  const [refused, setRefused] = useState<string>();
  const renew = async (): Promise<void> => {
    const state = await renewKey();
    setSecret(state.secret);
    setRefused(state.problems?.[0]?.reason);
  };
  return (
    <>
      <Button variant="outlined" color="error" onClick={() => void renew()}>
        Renew the key
      </Button>
      {refused && <p className="bad">{refused}</p>}
      <Secret text={secret} />
    </>
  );
}

const rateSchema = Joi.object<{ from: string; to: string; day: string; rate: string }>({
  from: currencyField.required().label('From'),
  to: currencyField.required().label('To'),
  day: dayField('Day').required(),
  rate: Joi.string()
    .trim()
    .pattern(/^\d+(\.\d{1,9})?$/, 'a number like 1.1642')
    .required()
    .label('Rate'),
});

export const RateForm = ({ today, currency }: { today: string; currency: Currency }) => (
  <RecordForm
    label="Rate of exchange"
    schema={rateSchema}
    values={{ from: '', to: currency, day: today, rate: '' }}
    submit="Store rate"
    action={addRate}
    fields={[
      { name: 'from', label: 'From' },
      { name: 'to', label: 'To' },
      { name: 'day', label: 'Day' },
      { name: 'rate', label: 'Rate', help: 'How many of the second one of the first is worth.' },
    ]}
  />
);
