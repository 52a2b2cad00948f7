'use client';
import Joi from 'joi';
import { type Labels, aliasField, labelsSchema } from '@/core/links/schema';
import { longText } from '@/core/schema/fields';
import { RecordForm } from '@/ui/form/RecordForm';
import { aliasLink, leadLink, relabel } from '../actions';

interface DestinationProps {
  id: number;
  to: string;
  landing: string;
  /** Names of the offer's landing pages. */
  pages: string[];
}

const destinationSchema = Joi.object<{ to: string; landing: string; reason: string }>({
  to: Joi.string().trim().max(2000).allow('').label('Page'),
  landing: Joi.string().allow('').label('Landing page'),
  reason: longText('Reason').max(300),
});

export const DestinationForm = ({ id, to, landing, pages }: DestinationProps) => (
  <RecordForm
    label="Destination"
    schema={destinationSchema}
    values={{ to, landing, reason: '' }}
    submit="Lead there"
    action={(fields) => leadLink(id, fields)}
    fields={[
      { name: 'to', label: 'Page, empty for the landing page', mono: true, whole: true },
      {
        name: 'landing',
        label: 'Landing page, where no page is given',
        kind: 'select',
        options: pages.map((name, i) => [i === 0 ? '' : name, name]),
      },
      { name: 'reason', label: 'Why' },
    ]}
  />
);

export const AliasForm = ({ id }: { id: number }) => (
  <RecordForm
    label="Alias"
    schema={Joi.object<{ alias: string }>({ alias: aliasField.disallow('').required() })}
    values={{ alias: '' }}
    quiet
    submit="Give alias"
    action={(fields) => aliasLink(id, fields)}
    fields={[{ name: 'alias', label: 'Stands for the code, for good', mono: true, whole: true }]}
  />
);

interface LabelFields {
  campaign: string;
  ad: string;
  product: string;
  tags: string[];
}

export const LabelForm = ({ id, labels }: { id: number; labels: Labels }) => (
  <RecordForm<LabelFields>
    label="Labels"
    schema={labelsSchema as Joi.ObjectSchema<LabelFields>}
    values={{
      campaign: labels.campaign ?? '',
      ad: labels.ad ?? '',
      product: labels.product ?? '',
      tags: labels.tags ?? [],
    }}
    quiet
    submit="Keep labels"
    action={(fields) => relabel(id, fields)}
    fields={[
      { name: 'campaign', label: 'Campaign' },
      { name: 'ad', label: 'Ad' },
      { name: 'product', label: 'Product group' },
      { name: 'tags', label: 'Tags', kind: 'words' },
    ]}
  />
);
