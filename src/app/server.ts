import { getIronSession } from 'iron-session';
import { cookies } from 'next/headers';
import { redirect } from 'next/navigation';
import { cache } from 'react';
import type { Actor } from '@/services/actor';
import { deriveKey } from '@/services/secrets';
import { noteForgedSession, sessionActor } from '@/services/sign_in';
import { type Stores, installationSecret, openStores } from '@/services/stores';
import type { NoticeText } from '@/ui/feedback/Notice';

// The databases are opened once a process, however often the bundler loads this module.
const shared = globalThis as { brivetStores?: Stores; brivetForgedAt?: number };
export const stores = (): Stores => (shared.brivetStores ??= openStores());

export interface Session {
  userId?: number;
  version?: number;
}
export const SESSION_COOKIE = 'brivet_session';

export const sessionOptions = () => ({
  password: deriveKey(installationSecret(), 'sessions').toString('hex'),
  cookieName: SESSION_COOKIE,
  ttl: 14 * 86_400,
  cookieOptions: { httpOnly: true, sameSite: 'lax' as const, secure: process.env.BRIVET_HTTPS === '1', path: '/' },
});

export const session = async () => getIronSession<Session>(await cookies(), sessionOptions());

/** Leaves an audit line about a cookie that was not sealed here, at most one in ten seconds. */
export function noteForged(): void {
  if (Date.now() - (shared.brivetForgedAt ?? 0) < 10_000) return;
  shared.brivetForgedAt = Date.now();
  noteForgedSession(stores());
}

/** Who is signed in, asked once a request. */
export const currentActor = cache(async (): Promise<Actor | undefined> => {
  // The cookie first: where there is no request, as while building, no database is opened either.
  const current = await session();
  return sessionActor(stores(), current);
});

export async function requireActor(): Promise<Actor> {
  return (await currentActor()) ?? redirect('/sign-in');
}

const NOTICE_COOKIE = 'brivet_notice';

/** Says on the next screen what an action did. Short-lived, so that it is said once. */
export async function leaveNotice(kind: NoticeText['kind'], text: string): Promise<void> {
  const notice: NoticeText = { id: crypto.randomUUID(), kind, text: text.slice(0, 400) };
  (await cookies()).set(NOTICE_COOKIE, JSON.stringify(notice), {
    httpOnly: true,
    sameSite: 'strict',
    maxAge: 8,
    path: '/',
  });
}

export async function currentNotice(): Promise<NoticeText | undefined> {
  const text = (await cookies()).get(NOTICE_COOKIE)?.value;
  try {
    return text ? (JSON.parse(text) as NoticeText) : undefined;
  } catch {
    return undefined;
  }
}
