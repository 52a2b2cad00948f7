'use client';
import { useRouter } from 'next/navigation';
import { type MailCopy, mailCopySchema } from '@/core/mail/merge';
import { MAIL_NAMES } from '@/core/placeholders/names';
import { RecordForm } from '@/ui/form/RecordForm';
import { saveMail } from '../../actions';

interface Props {
  id: number | undefined;
  values: MailCopy | undefined;
  offers: { id: number; name: string }[];
}

/** The text with its merge fields, and where the links in it lead. */
export function MailForm({ id, values, offers }: Props) {
  const router = useRouter();
  return (
    <RecordForm<MailCopy>
      label="Mail copy"
      schema={mailCopySchema}
      values={{
        name: values?.name ?? '',
        subject: values?.subject ?? '',
        text: values?.text ?? 'Hello {partner_name},\n\n{link}\n',
        offerId: values?.offerId ?? offers[0]?.id ?? 0,
        to: values?.to ?? '',
      }}
      submit={id === undefined ? 'Keep it' : 'Save'}
      action={async (fields) => {
        const state = await saveMail(id, fields);
        if (!state.problems && id === undefined) router.push(`/links/mail/${state.id}`);
        return state;
      }}
      fields={[
        { name: 'name', label: 'Name, for yourself' },
        {
          name: 'offerId',
          label: 'Offer',
          kind: 'select',
          options: offers.map((offer) => [String(offer.id), offer.name]),
        },
        { name: 'to', label: 'Page the links lead to, empty for the landing page', mono: true, whole: true },
        { name: 'subject', label: 'Subject', whole: true },
        {
          name: 'text',
          label: 'Text',
          kind: 'area',
          rows: 14,
          whole: true,
          help: `Fields: ${MAIL_NAMES.map((name) => `{${name}}`).join(' ')}`,
        },
      ]}
    />
  );
}
