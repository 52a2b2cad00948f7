import type { Metadata } from 'next';
import { redirect } from 'next/navigation';
import { PEOPLE } from '@/demo/scenario/program';
import { Mark } from '@/ui/shell/Mark';
import { currentActor } from '../server';
import { SignInForm } from './SignInForm';

export const metadata: Metadata = { title: 'Sign in' };

export default async function SignInPage() {
  if (await currentActor()) redirect('/today');
  return (
    <div className="sign">
      <h1 style={{ display: 'flex', gap: 10, alignItems: 'center', fontSize: 26 }}>
        <Mark size={30} colour="var(--act)" /> brivet
      </h1>
      <div className="card pad stack">
        <h2 style={{ margin: 0 }}>Sign in to your program</h2>
        <SignInForm />
      </div>
      {process.env.BRIVET_DEMO === '1' && (
        <section className="note calm" aria-label="Demo sign-ins">
          <p className="strong">This is the demo of Larkmoor Kilns. Sign in as</p>
          <dl className="facts" style={{ marginTop: 6 }}>
            {PEOPLE.map(({ name, role, email, password }) => [
              <dt key={email}>
                {name}, {role}
              </dt>,
              <dd key={role}>
                <code>{email}</code>
                <br />
                <code>{password}</code>
              </dd>,
            ])}
          </dl>
        </section>
      )}
    </div>
  );
}
