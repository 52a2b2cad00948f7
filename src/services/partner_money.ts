import type { Account } from '@/core/ledger/ledger';
import type { Actor } from './actor';
import { readPartner } from './partners';
import type { Stores } from './stores';

/** Balances of a partner in minor units of the program's currency, and what was paid so far. */
export function partnerMoney(stores: Stores, actor: Actor, partnerId: number) {
  const { id } = readPartner(stores, actor, partnerId);
  const balance = (account: Account): number => stores.books.ledger.balance(id, account);
  return {
    pending: balance('partner_pending'),
    approved: balance('partner_approved'),
    inPayout: balance('partner_in_payout'),
    statements: stores.books.payouts.ofPartner(id),
  };
}
