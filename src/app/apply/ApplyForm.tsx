'use client';
import Joi from 'joi';
import { useState } from 'react';
import { type ApplicationFields, CHANNEL_KINDS, PARTNER_KINDS, applicationSchema } from '@/core/partners/schema';
import { RecordForm } from '@/ui/form/RecordForm';
import { sendApplication } from './actions';

interface Props {
  referrer: string;
  terms: { version: number; text: string } | undefined;
}
type Fields = ApplicationFields & { website: string };
const schema = (applicationSchema as Joi.ObjectSchema<Fields>).keys({ website: Joi.string().allow('') });

/** What an applicant tells, with the terms to be accepted. What is wrong stands beside its field. */
export function ApplyForm({ referrer, terms }: Props) {
  const [sent, setSent] = useState(false);
  if (sent)
    return (
      <div className="card pad" role="status">
        <h2>Thank you, your application is here</h2>
        <p>You hear from us by e-mail once it was read. There is nothing else to do.</p>
      </div>
    );
  return (
    <div className="card pad">
      <RecordForm<Fields>
        label="Application"
        schema={schema}
        values={{
          ...{ name: '', kind: 'business', email: '', country: '', address: '', channelKind: 'website', about: '' },
          ...{ referrer, termsVersion: terms?.version ?? 0, accepted: terms === undefined, website: '' },
        }}
        submit="Send application"
        action={(fields) => sendApplication(fields)}
        onDone={() => setSent(true)}
        fields={[
          { name: 'name', label: 'Your name, or your company’s' },
          { name: 'kind', label: 'You are a', kind: 'select', options: PARTNER_KINDS.map((kind) => [kind, kind]) },
          { name: 'email', label: 'E-mail' },
          { name: 'country', label: 'Country', help: 'Two letters, like NL.' },
          { name: 'address', label: 'Where you publish', mono: true, help: 'Begins with https://' },
          {
            name: 'channelKind',
            label: 'What it is',
            kind: 'select',
            options: CHANNEL_KINDS.map((kind) => [kind, kind]),
          },
          {
            name: 'about',
            label: 'How you would send people',
            kind: 'area',
            rows: 4,
            whole: true,
            help: 'Whom you reach, how many, and where the links would stand.',
          },
          { name: 'referrer', label: 'Code of who sent you', mono: true, help: 'Empty if nobody did.' },
        ]}
        extra={(form) => (
          <>
            {terms && (
              <details className="fold" open style={{ margin: 0 }}>
                <summary>Terms, version {terms.version}</summary>
                <div className="mail" tabIndex={0} style={{ maxHeight: 220, overflowY: 'auto' }}>
                  {terms.text}
                </div>
                <label style={{ display: 'block', marginTop: 10 }}>
                  <input
                    type="checkbox"
                    aria-invalid={form.formState.errors.accepted !== undefined}
                    {...form.register('accepted')}
                  />{' '}
                  I accept the terms, version {terms.version}
                </label>
                {form.formState.errors.accepted && <p className="bad">{form.formState.errors.accepted.message}</p>}
              </details>
            )}
            <div aria-hidden="true" className="skip">
              <input tabIndex={-1} autoComplete="off" {...form.register('website')} />
            </div>
          </>
        )}
      />
    </div>
  );
}
