'use client';
import Button from '@mui/material/Button';
import { useRouter } from 'next/navigation';
import { type UseFormReturn, useFieldArray } from 'react-hook-form';
import { type OfferFields, offerSchema } from '@/core/offers/schema';
import { type FieldSpec, RecordForm } from '@/ui/form/RecordForm';
import { addOffer, saveOffer } from '../actions';
import { Events } from './Events';

const NEW_OFFER: OfferFields = {
  code: '',
  name: '',
  state: 'live',
  startsOn: '',
  endsOn: '',
  landingPages: [{ name: 'Main page', address: '' }],
  landingHosts: [],
  appended: 'bclid={click_id}',
  clickWindowDays: 30,
  hold: { kind: 'days', days: 30, from: 'event' },
  autoApprove: false,
  fallback: '',
  hideReferrer: false,
  couponFirst: false,
  creditedClick: 'last',
  events: [{ event: 'order', repeat: 'ignore', payable: true }],
};

const fields = (fixedCode: boolean): FieldSpec[] => [
  { name: 'name', label: 'Name' },
  { name: 'code', label: 'Code', mono: true, fixed: fixedCode, help: 'Permanent.' },
  {
    name: 'landingHosts',
    label: 'Landing hosts',
    kind: 'lines',
    mono: true,
    help: 'Deep links may lead to these only; *.host covers what is below it.',
  },
  {
    name: 'appended',
    label: 'Appended parameters',
    mono: true,
    help: 'Merged into every landing address, like bclid={click_id}&src={partner_code}.',
  },
  { name: 'clickWindowDays', label: 'Click window (days)' },
  {
    name: 'state',
    label: 'State',
    kind: 'select',
    options: [
      ['live', 'live'],
      ['paused', 'paused'],
    ],
  },
  {
    name: 'startsOn',
    label: 'First day',
    date: true,
    help: 'Empty: from the beginning. Outside its days visitors go to the fallback.',
  },
  { name: 'endsOn', label: 'Last day', date: true, help: 'Empty: without end.' },
  {
    name: 'hold.kind',
    label: 'Hold',
    kind: 'select',
    options: [
      ['days', 'days'],
      ['month', 'whole months: end of the month, plus days, then the next 1st'],
    ],
  },
  { name: 'hold.days', label: 'Days of hold' },
  {
    name: 'hold.from',
    label: 'Counted from',
    kind: 'select',
    options: [
      ['event', 'the event'],
      ['completed', 'completion: delivered or done'],
    ],
  },
  { name: 'fallback', label: 'Fallback address', mono: true, help: 'Empty for the program’s.' },
  {
    name: 'creditedClick',
    label: 'Credited click',
    kind: 'select',
    options: [
      ['last', 'the visitor’s last'],
      ['first', 'the visitor’s first'],
    ],
    help: 'Where a conversion names only the page tag’s visitor.',
  },
  {
    name: 'hideReferrer',
    label: 'Hides from the merchant’s pages where the visitor came from',
    kind: 'check',
    whole: true,
  },
  {
    name: 'couponFirst',
    label: 'A coupon goes before the click, where they speak for different partners',
    kind: 'check',
    whole: true,
  },
  { name: 'autoApprove', label: 'Approves by itself when the hold is over', kind: 'check', whole: true },
];

/** An offer with its events; `id` is absent for a new one. */
export function OfferForm({ id, values = NEW_OFFER }: { id?: number; values?: OfferFields }) {
  const router = useRouter();
  return (
    <RecordForm
      label="Offer"
      schema={offerSchema}
      values={values}
      fields={fields(id !== undefined)}
      submit={id === undefined ? 'Add offer' : 'Save'}
      action={(checked) => (id === undefined ? addOffer(checked) : saveOffer(id, checked))}
      onDone={() => id === undefined && router.push('/setup?shelf=offers')}
      wide
      extra={(form) => (
        <div className="stack">
          <LandingPages form={form} />
          <Events form={form} />
        </div>
      )}
    />
  );
}

/** Where links lead that have no page of their own; the first unless a link chooses another. */
function LandingPages({ form }: { form: UseFormReturn<OfferFields> }) {
  const { fields: pages, append, remove } = useFieldArray({ control: form.control, name: 'landingPages' });
  const problems = form.formState.errors.landingPages;
  return (
    <fieldset style={{ border: 0, padding: 0, margin: 0, minWidth: 0 }}>
      <legend className="label">Landing pages: the first is where links lead that name none</legend>
      {pages.map(({ id }, i) => (
        <div key={id} style={{ marginBottom: 6 }}>
          <div className="pair event" style={{ alignItems: 'center' }}>
            <input
              className="text"
              aria-label={`Name of landing page ${i + 1}`}
              {...form.register(`landingPages.${i}.name`)}
            />
            <input
              className="text mono"
              aria-label={`Landing page ${i + 1}`}
              aria-invalid={!!problems?.[i]}
              placeholder="https://…/?from={channel_code}"
              {...form.register(`landingPages.${i}.address`)}
            />
            <button
              type="button"
              className="clear"
              style={{ margin: 0 }}
              aria-label={`Remove landing page ${i + 1}`}
              onClick={() => remove(i)}
            >
              ×
            </button>
          </div>
          {problems?.[i] && (
            <p className="bad">{problems[i].address?.message ?? problems[i].name?.message ?? problems[i].message}</p>
          )}
        </div>
      ))}
      {(problems?.message ?? problems?.root?.message) && (
        <p className="bad">{problems?.message ?? problems?.root?.message}</p>
      )}
      <Button onClick={() => append({ name: '', address: '' })}>Add a landing page</Button>
    </fieldset>
  );
}
