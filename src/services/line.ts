import { type Day, nextDayOfMonth } from '@/core/time/days';
import type { MoneyFigures } from '@/store/books/figures';
import type { ClickFigures } from '@/store/rollups';
import type { Actor } from './actor';
import { type Scope, filterFor } from './scope';
import { countToday } from './today';
import { type Stores, programOf, todayIn } from './stores';

/** The live figures of the Line for what is in scope. Amounts in minor units of the program's currency. */
export interface LineFigures extends MoneyFigures, ClickFigures {
  toDecide: number;
  links: number;
  nextPayoutDay: Day;
  /** Approved and not yet paid, of the partners in scope. */
  payable: number;
  payablePartners: number;
}

export function lineFigures(stores: Stores, actor: Actor, scope: Scope): LineFigures {
  const filter = filterFor(actor, scope);
  const { programId, partnerId: ofPartner, channelId, offerId } = filter;
  const { figures, ledger, links } = stores.books;
  const balances = [
    ...ledger.balances('partner_approved', actor.programId),
    ...ledger.balances('partner_in_payout', actor.programId),
  ].filter(({ partnerId, amount }) => amount > 0 && (filter.partnerId === null || filter.partnerId === partnerId));
  return {
    toDecide: countToday(stores, actor),
    links: links.count({ programId, partnerId: ofPartner, channelId, offerId, text: '' }),
    ...stores.rollups.figures(filter),
    ...figures.money(filter),
    nextPayoutDay: nextDayOfMonth(todayIn(stores, actor.programId), programOf(stores, actor.programId).payoutDay),
    payable: balances.reduce((sum, { amount }) => sum + amount, 0),
    payablePartners: new Set(balances.map(({ partnerId }) => partnerId)).size,
  };
}

/** Changes whenever anything on screen may have changed. */
export const liveMark = ({ books, rollups }: Stores): string => `${books.version()}.${rollups.version()}`;
