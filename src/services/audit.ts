import type { AuditRow } from '@/store/books/audit';
import type { Page, Paging } from '@/store/database';
import { type Actor, requireRight } from './actor';
import type { Stores } from './stores';

/** Who did what, newest first. */
export function listAudit(stores: Stores, actor: Actor, paging: Paging): Page<AuditRow> {
  requireRight(stores, actor, 'see_audit', 'audit');
  return stores.books.audit.list(actor.programId, paging);
}
