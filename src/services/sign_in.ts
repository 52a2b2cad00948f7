import Joi from 'joi';
import { email } from '@/core/schema/fields';
import { check } from '@/core/schema/problems';
import type { UserRow } from '@/store/books/users';
import { type Actor, audit, requireRight } from './actor';
import { Refusal, invalid, invalidField } from './refusal';
import { drawToken, hashPassword, passwordFits, sha256 } from './secrets';
import type { Stores } from './stores';

export const signInSchema = Joi.object<{ email: string; password: string }>({
  email: email.required(),
  password: Joi.string().max(200).required().label('Password'),
});

export const actorOf = ({ id, programId, name, role, partnerId }: UserRow): Actor => ({
  userId: id,
  programId,
  name,
  role,
  partnerId,
});

// Compared with when nobody has the address, so that the answer takes as long.
let nobody: Promise<string> | undefined;

/** @throws Refusal 'unauthenticated' without saying which of the two was wrong */
export async function signIn(stores: Stores, input: unknown): Promise<UserRow> {
  const checked = check(signInSchema, input);
  if (!checked.ok) throw invalid(checked.problems);
  const user = stores.books.users.byEmail(checked.value.email);
  nobody ??= hashPassword('nobody has this password');
  const fits = await passwordFits(checked.value.password, user?.password ?? (await nobody));
  if (!user || !fits) {
    const { programId = null, name = checked.value.email } = user ?? {};
    stores.books.audit.insert({
      time: stores.now(),
      programId,
      actor: name,
      action: 'sign-in refused',
      object: 'session',
      detail: '',
    });
    throw new Refusal('unauthenticated', 'E-mail or password is wrong. Nothing was changed; try again.');
  }
  audit(stores, actorOf(user), 'signed in', 'session');
  return user;
}

/** The actor of a session that still stands; undefined when the user is gone or has ended all sessions. */
export function sessionActor(stores: Stores, session: { userId?: number; version?: number }): Actor | undefined {
  const user = session.userId === undefined ? undefined : stores.books.users.byId(session.userId);
  return user && user.sessionVersion === session.version ? actorOf(user) : undefined;
}

/** A session cookie that does not open was made by somebody else, or with another secret. */
export function noteForgedSession(stores: Stores): void {
  stores.books.audit.insert({
    time: stores.now(),
    programId: 1,
    actor: 'nobody',
    action: 'refused',
    object: 'session',
    detail: 'A session cookie did not pass its check.',
  });
}

export function tokenActor(stores: Stores, token: string): Actor | undefined {
  const user = stores.books.users.byTokenHash(sha256(token));
  if (!user) return undefined;
  stores.books.users.touchToken(user.tokenId, stores.now());
  return actorOf(user);
}

/** Makes a bearer token with the rights of the actor. It is shown once; only its hash is kept. */
export function createToken(stores: Stores, actor: Actor, name: string): string {
  requireRight(stores, actor, 'manage_setup', 'token');
  if (name.trim() === '') throw invalidField('name', 'A token needs a name that says what it is for.');
  const token = drawToken('bvt');
  stores.books.inTransaction(() => {
    stores.books.users.insertToken(actor.userId, name.trim().slice(0, 80), sha256(token), stores.now());
    audit(stores, actor, 'created', 'token', name);
  });
  return token;
}

export function revokeToken(stores: Stores, actor: Actor, tokenId: number): void {
  requireRight(stores, actor, 'manage_setup', `token ${tokenId}`);
  if (!stores.books.users.revokeToken(actor.programId, tokenId, stores.now()))
    throw new Refusal('not_found', 'There is no such token in use.');
  audit(stores, actor, 'revoked', `token ${tokenId}`);
}

export function listTokens(stores: Stores, actor: Actor) {
  requireRight(stores, actor, 'manage_setup', 'tokens');
  return stores.books.users.tokens(actor.programId);
}
