'use client';
import { isValidIBAN } from 'ibantools';
import type { Currency } from '@/core/money/currency';
import {
  CHANNEL_KINDS,
  type ChannelFields,
  PARTNER_KINDS,
  type PartnerFields,
  channelSchema,
  partnerSchema,
  payoutDetailsSchema,
} from '@/core/partners/schema';
import { FormDialog } from '@/ui/form/FormDialog';
import { type FieldSpec, RecordForm } from '@/ui/form/RecordForm';
import { addChannel, addPartner, saveChannel, saveDetails, savePartner } from './actions';

const same = (values: readonly string[]): [string, string][] => values.map((value) => [value, value]);

const partnerSpec = (fixedCode: boolean, currency: Currency): FieldSpec[] => [
  { name: 'name', label: 'Name' },
  {
    name: 'code',
    label: 'Code',
    mono: true,
    fixed: fixedCode,
    help: fixedCode
      ? 'Permanent: it stands in links already out.'
      : 'Permanent and visible in links: choose with care.',
  },
  { name: 'kind', label: 'Kind', kind: 'select', options: same(PARTNER_KINDS) },
  { name: 'email', label: 'E-mail' },
  { name: 'country', label: 'Country', help: 'Two letters, like NL.' },
  { name: 'payoutCurrency', label: 'Payout currency' },
  {
    name: 'ownMinimum',
    label: `Own minimum (${currency})`,
    help: 'Empty for the program’s; only a higher one counts.',
  },
  { name: 'group', label: 'Group', help: 'Made by naming it. Lists and links can go by group.' },
  { name: 'referrer', label: 'Referred by', mono: true, help: 'Code of another partner, or empty.' },
  { name: 'notes', label: 'Notes, for the program only', kind: 'area', whole: true },
];
export interface SourceChoice {
  id: number;
  name: string;
}
const channelSpec = (fixedCode: boolean, sources: readonly SourceChoice[]): FieldSpec[] => [
  { name: 'name', label: 'Name' },
  {
    name: 'code',
    label: 'Code',
    mono: true,
    fixed: fixedCode,
    help: fixedCode ? 'Permanent: reports count by it.' : 'Short and permanent, unique within the partner.',
  },
  { name: 'kind', label: 'Kind', kind: 'select', options: same(CHANNEL_KINDS) },
  { name: 'address', label: 'Address', mono: true },
  {
    name: 'sourceId',
    label: 'Default source',
    kind: 'select',
    options: [['', 'none'], ...sources.map(({ id, name }): [string, string] => [String(id), name])],
    help: 'Links for this channel begin with its placeholders.',
  },
];
const NEW_PARTNER: PartnerFields = {
  code: '',
  name: '',
  kind: 'business',
  email: '',
  country: '',
  payoutCurrency: 'EUR',
  ownMinimum: '',
  notes: '',
  group: '',
  referrer: '',
};
const NEW_CHANNEL: ChannelFields = { code: '', name: '', kind: 'website', address: '', sourceId: null };

export const NewPartner = ({ currency }: { currency: Currency }) => (
  <FormDialog label="Take in a partner" title="Take in a partner" variant="contained">
    {(close) => (
      <RecordForm
        label="Partner"
        fields={partnerSpec(false, currency)}
        schema={partnerSchema(currency)}
        values={{ ...NEW_PARTNER, payoutCurrency: currency }}
        submit="Take in"
        action={addPartner}
        onDone={close}
      />
    )}
  </FormDialog>
);

interface EditPartnerProps {
  id: number;
  values: PartnerFields;
  currency: Currency;
  /** An applicant's code may still be changed: no link bears it yet. */
  applicant: boolean;
}
export const EditPartner = ({ id, values, currency, applicant }: EditPartnerProps) => (
  <RecordForm
    label="Partner"
    fields={partnerSpec(!applicant, currency)}
    schema={partnerSchema(currency)}
    values={values}
    submit="Save"
    action={(fields) => savePartner(id, fields)}
  />
);

export const NewChannel = ({ partnerId, sources }: { partnerId: number; sources: SourceChoice[] }) => (
  <FormDialog label="Add a channel" title="Add a channel">
    {(close) => (
      <RecordForm
        label="Channel"
        fields={channelSpec(false, sources)}
        schema={channelSchema}
        values={NEW_CHANNEL}
        submit="Add channel"
        action={(fields) => addChannel(partnerId, fields)}
        onDone={close}
      />
    )}
  </FormDialog>
);

export const EditChannel = ({
  id,
  values,
  sources,
}: {
  id: number;
  values: ChannelFields;
  sources: SourceChoice[];
}) => (
  <FormDialog label="Edit" title={`Channel ${values.name}`} variant="text">
    {(close) => (
      <RecordForm
        label="Channel"
        fields={channelSpec(true, sources)}
        schema={channelSchema}
        values={values}
        submit="Save"
        action={(fields) => saveChannel(id, fields)}
        onDone={close}
      />
    )}
  </FormDialog>
);

export const PutDetails = ({ partnerId, present }: { partnerId: number; present: boolean }) => (
  <FormDialog label={present ? 'Replace' : 'Enter payout details'} title="Payout details">
    {(close) => (
      <RecordForm
        label="Payout details"
        fields={[
          { name: 'holder', label: 'Account holder' },
          {
            name: 'account',
            label: 'Account',
            mono: true,
            help: 'An IBAN, or the account number of a bank without them.',
          },
        ]}
        schema={payoutDetailsSchema(isValidIBAN)}
        values={{ holder: '', account: '' }}
        submit="Keep details"
        action={(fields) => saveDetails(partnerId, fields)}
        onDone={close}
      />
    )}
  </FormDialog>
);
