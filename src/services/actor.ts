import type { Role } from '@/store/books/users';
import { Refusal } from './refusal';
import type { Stores } from './stores';

/** Who asks. Made from a session, a token, or for the worker and the command line. */
export interface Actor {
  readonly userId: number;
  readonly programId: number;
  readonly name: string;
  readonly role: Role;
  /** Set for the partner role: everything else is out of sight. */
  readonly partnerId: number | null;
}

export type Right =
  | 'look'
  | 'manage_partners'
  | 'issue_links'
  | 'manage_setup'
  | 'decide_commissions'
  | 'manage_payout_details'
  | 'draft_payouts'
  | 'approve_payouts'
  | 'see_audit';

const RIGHTS: Record<Role, readonly Right[]> = {
  owner: [
    'look',
    'manage_partners',
    'issue_links',
    'manage_setup',
    'decide_commissions',
    'manage_payout_details',
    'draft_payouts',
    'approve_payouts',
    'see_audit',
  ],
  manager: [
    'look',
    'manage_partners',
    'issue_links',
    'manage_setup',
    'decide_commissions',
    'approve_payouts',
    'see_audit',
  ],
  finance: ['look', 'decide_commissions', 'manage_payout_details', 'draft_payouts', 'approve_payouts', 'see_audit'],
  viewer: ['look'],
  partner: ['look', 'issue_links'],
};

export const may = (actor: Actor, right: Right): boolean => RIGHTS[actor.role].includes(right);

export function audit(stores: Stores, actor: Actor, action: string, object: string, detail = ''): void {
  stores.books.audit.insert({
    time: stores.now(),
    programId: actor.programId,
    actor: actor.name,
    action,
    object,
    detail,
  });
}

/** Refuses and leaves an audit line. Called before a transaction begins, so that the line stays. */
export function requireRight(stores: Stores, actor: Actor, right: Right, object: string): void {
  if (may(actor, right)) return;
  audit(stores, actor, 'refused', object, `The role ${actor.role} may not ${right.replaceAll('_', ' ')}.`);
  throw new Refusal(
    'forbidden',
    `Your role (${actor.role}) may not ${right.replaceAll('_', ' ')}. Ask an owner of the program.`,
  );
}

interface Owned {
  readonly programId: number;
  readonly partnerId?: number | null;
}

/** The object if it is within the actor's reach; else "not found", so that nobody learns what others have. */
export function requireOwn<T extends Owned>(stores: Stores, actor: Actor, object: T | undefined, name: string): T {
  const ours =
    object?.programId === actor.programId && (actor.partnerId === null || object.partnerId === actor.partnerId);
  if (object && ours) return object;
  if (object) audit(stores, actor, 'refused', name, 'The object belongs to somebody else.');
  throw new Refusal('not_found', `There is no ${name.replace(/ \d+$/, '')} like that here.`);
}
