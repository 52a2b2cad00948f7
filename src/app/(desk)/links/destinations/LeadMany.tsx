'use client';
import Joi from 'joi';
import { longText } from '@/core/schema/fields';
import { FormDialog } from '@/ui/form/FormDialog';
import { RecordForm } from '@/ui/form/RecordForm';
import { leadMany } from '../actions';

interface Props {
  offerId: number;
  destination: string;
  landing: string;
  links: number;
  fixed: number;
  pages: string[];
}
const schema = Joi.object<{ to: string; landing: string; reason: string }>({
  to: Joi.string().trim().max(2000).allow('').label('Page'),
  landing: Joi.string().allow('').label('Landing page'),
  reason: longText('Reason').max(300),
});

/** Leads all links of one page elsewhere; says first how many cannot follow. */
export function LeadMany({ offerId, destination, landing, links, fixed, pages }: Props) {
  const following = links - fixed;
  if (following === 0) return <span className="mute small">none can follow</span>;
  return (
    <FormDialog
      label="Lead elsewhere"
      title={`Lead ${following} ${following === 1 ? 'link' : 'links'} elsewhere`}
      variant="text"
    >
      {(close) => (
        <>
          {fixed > 0 && (
            <p className="note wait" style={{ marginBottom: 12 }}>
              {fixed} without a redirect carry this page in themselves and stay as they are.
            </p>
          )}
          <RecordForm
            label="New destination"
            schema={schema}
            values={{ to: '', landing: '', reason: '' }}
            submit={`Lead ${following} elsewhere`}
            action={(fields) => leadMany({ ...fields, offerId, from: destination, fromLanding: landing })}
            onDone={close}
            fields={[
              { name: 'to', label: 'Page, empty for a landing page', mono: true, whole: true },
              {
                name: 'landing',
                label: 'Landing page, where no page is given',
                kind: 'select',
                options: pages.map((name, i) => [i === 0 ? '' : name, name]),
              },
              { name: 'reason', label: 'Why' },
            ]}
          />
        </>
      )}
    </FormDialog>
  );
}
