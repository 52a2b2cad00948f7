import type { Metadata } from 'next';
import { openForm } from '@/services/applications';
import { Mark } from '@/ui/shell/Mark';
import { stores } from '../server';
import { ApplyForm } from './ApplyForm';

export const metadata: Metadata = { title: 'Become a partner' };
export const dynamic = 'force-dynamic';

type Props = { searchParams: Promise<Record<string, string | string[] | undefined>> };

/** The public form: whoever wants to become a partner applies here, without an account. */
export default async function ApplyPage({ searchParams }: Props) {
  // The address first: where there is no request, as while building, no database is opened either.
  const { by } = await searchParams;
  const all = stores();
  const [program] = all.books.programs.all();
  const form = program && openForm(all, program.id);
  const referrer = typeof by === 'string' && /^[A-Za-z0-9-]{2,20}$/.test(by) ? by.toUpperCase() : '';
  if (!form)
    return (
      <main className="apply">
        <h1>Applications are closed</h1>
        <p>This program takes no new partners at the moment.</p>
      </main>
    );
  return (
    <main className="apply">
      <h1 style={{ display: 'flex', gap: 10, alignItems: 'center', fontSize: 22 }}>
        <Mark size={26} colour="var(--act)" /> Become a partner of {form.name}
      </h1>
      <p className="mute" style={{ margin: '6px 0 18px' }}>
        Every application is read by a person. You hear from us by e-mail.
      </p>
      <ApplyForm referrer={referrer} terms={form.terms && { version: form.terms.version, text: form.terms.text }} />
    </main>
  );
}
