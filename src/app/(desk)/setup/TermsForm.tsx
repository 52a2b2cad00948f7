'use client';
import Joi from 'joi';
import { RecordForm } from '@/ui/form/RecordForm';
import { newTerms } from './actions';

const schema = Joi.object<{ text: string }>({
  text: Joi.string().trim().min(40).max(50_000).required().label('Terms'),
});

export const TermsForm = ({ text }: { text: string }) => (
  <RecordForm
    label="Partner terms"
    schema={schema}
    values={{ text }}
    submit="Publish a new version"
    action={newTerms}
    fields={[{ name: 'text', label: 'Terms', kind: 'area', rows: 18, whole: true }]}
  />
);
