'use client';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { isValidIBAN } from 'ibantools';
import { type ReactNode, useState } from 'react';
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
  { name: 'notes', label: 'Notes', kind: 'area', whole: true },
];
const channelSpec = (fixedCode: boolean): FieldSpec[] => [
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
};
const NEW_CHANNEL: ChannelFields = { code: '', name: '', kind: 'website', address: '' };

/** A button that opens a form in a dialog and closes it once it is saved. */
function FormDialog({
  label,
  title,
  variant = 'outlined',
  children,
}: {
  label: string;
  title: string;
  variant?: 'outlined' | 'contained' | 'text';
  children(close: () => void): ReactNode;
}) {
  const [open, setOpen] = useState(false);
  return (
    <>
      <Button variant={variant} onClick={() => setOpen(true)}>
        {label}
      </Button>
      <Dialog open={open} onClose={() => setOpen(false)} maxWidth="sm" fullWidth aria-labelledby="form-title">
        <DialogTitle id="form-title" sx={{ fontSize: 17 }}>
          {title}
        </DialogTitle>
        <DialogContent>{children(() => setOpen(false))}</DialogContent>
      </Dialog>
    </>
  );
}

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

export const EditPartner = ({ id, values, currency }: { id: number; values: PartnerFields; currency: Currency }) => (
  <RecordForm
    label="Partner"
    fields={partnerSpec(true, currency)}
    schema={partnerSchema(currency)}
    values={values}
    submit="Save"
    action={(fields) => savePartner(id, fields)}
  />
);

export const NewChannel = ({ partnerId }: { partnerId: number }) => (
  <FormDialog label="Add a channel" title="Add a channel">
    {(close) => (
      <RecordForm
        label="Channel"
        fields={channelSpec(false)}
        schema={channelSchema}
        values={NEW_CHANNEL}
        submit="Add channel"
        action={(fields) => addChannel(partnerId, fields)}
        onDone={close}
      />
    )}
  </FormDialog>
);

export const EditChannel = ({ id, values }: { id: number; values: ChannelFields }) => (
  <FormDialog label="Edit" title={`Channel ${values.name}`} variant="text">
    {(close) => (
      <RecordForm
        label="Channel"
        fields={channelSpec(true)}
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
