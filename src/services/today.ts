import { UNMATCHED_WORDS, type UnmatchedReason } from '@/core/attribution/match';
import { type Day, nextDayOfMonth, showDay } from '@/core/time/days';
import { type Actor, may } from './actor';
import { type Stores, programOf, todayIn } from './stores';

/** Something that waits for a decision: what, why, since when, how much hangs on it, and where to decide. */
export interface Entry {
  key: string;
  urgency: 'waiting' | 'trouble';
  title: string;
  why: string;
  /** Milliseconds; absent where it always stands until done. */
  since?: number;
  /** Minor units of the program's currency. */
  amount?: number;
  action: string;
  href: string;
}

const LONG_AGO = '2000-01-01';
const FAR_AHEAD = '2999-12-31';

/** The queue of decisions, the most pressing first. */
export function today(stores: Stores, actor: Actor): Entry[] {
  const { books } = stores;
  const { programId } = actor;
  if (actor.partnerId !== null) return [];
  const now = todayIn(stores, programId);
  return [
    ...returned(stores, programId),
    ...runs(stores, actor, now),
    ...due(stores, programId, now),
    ...inReview(stores, programId),
    ...unmatched(stores, programId),
    ...failingPages(stores, programId),
    ...details(stores, actor),
    ...applicants(books, programId),
  ];
}

export const countToday = (stores: Stores, actor: Actor): number => today(stores, actor).length;

const plural = (count: number, one: string, many = `${one}s`): string => `${count} ${count === 1 ? one : many}`;

function applicants(books: Stores['books'], programId: number): Entry[] {
  return books.partners
    .list({ programId, partnerId: null, state: 'applied', groupId: null, text: '' }, { limit: 20, offset: 0 })
    .rows.map((partner) => ({
      key: `applicant-${partner.id}`,
      urgency: 'waiting',
      title: `${partner.name} applied`,
      why: partner.application?.about ?? (partner.notes || 'Taken in by hand, without an application.'),
      since: partner.createdAt,
      action: 'Decide',
      href: `/partners/${partner.id}`,
    }));
}

function unmatched({ books }: Stores, programId: number): Entry[] {
  return books.figures.unmatchedByReason(programId).map(({ reason, count, since }) => ({
    key: `unmatched-${reason}`,
    urgency: 'waiting',
    title: plural(count, 'unmatched conversion'),
    why: UNMATCHED_WORDS[reason as UnmatchedReason],
    since,
    action: 'Look at them',
    href: `/conversions?shelf=unmatched&from=${LONG_AGO}&to=${FAR_AHEAD}`,
  }));
}

function inReview({ books }: Stores, programId: number): Entry[] {
  const waiting = books.reviews.waiting(programId);
  if (!waiting) return [];
  return [
    {
      key: 'reviews',
      urgency: 'trouble',
      title: `${plural(waiting.count, 'conversion')} ${waiting.count === 1 ? 'looks' : 'look'} odd`,
      why: 'Nothing is refused by itself: say that nothing is wrong, or reject with a reason.',
      since: waiting.since,
      amount: waiting.amount,
      action: 'Review them',
      href: `/conversions?shelf=review&from=${LONG_AGO}&to=${FAR_AHEAD}`,
    },
  ];
}

function failingPages({ books }: Stores, programId: number): Entry[] {
  return books.destinations.failing(programId).map(({ address, problem, failingSince, links, offers }) => ({
    key: `page-${address}`,
    urgency: 'trouble',
    title: `${new URL(address).host}${new URL(address).pathname} does not answer well`,
    why: `${problem} ${links > 0 ? `${plural(links, 'link')} ${links === 1 ? 'leads' : 'lead'} there.` : `It is a landing page of ${offers}.`}`,
    ...(failingSince !== null && { since: failingSince }),
    action: 'Lead elsewhere',
    href: '/links/destinations?shelf=failing',
  }));
}

function due({ books }: Stores, programId: number, now: Day): Entry[] {
  const everything = { programId, from: LONG_AGO, to: FAR_AHEAD, partnerId: null, channelId: null, offerId: null };
  const sums = books.commissions.sums(everything, now);
  const href = (shelf: string): string => `/commissions?shelf=${shelf}&from=${LONG_AGO}&to=${FAR_AHEAD}`;
  return sums.flatMap(({ shelf, count, amount, since }): Entry[] => {
    if (shelf === 'due')
      return [
        {
          key: 'due',
          urgency: 'waiting',
          title: `${plural(count, 'commission')} due for validation`,
          why: 'Their hold is over: approve or reject them.',
          ...(since && { since: Date.parse(since) }),
          amount,
          action: `Validate ${count}`,
          href: href('due'),
        },
      ];
    if (shelf === 'needs_rate')
      return [
        {
          key: 'needs-rate',
          urgency: 'trouble',
          title: `${plural(count, 'commission')} without a rate of exchange`,
          why: 'The order was in a currency for which no rate is stored on its day.',
          action: 'Add a rate',
          href: '/setup?shelf=rates',
        },
      ];
    return [];
  });
}

function details(stores: Stores, actor: Actor): Entry[] {
  const { books } = stores;
  const minimum = programOf(stores, actor.programId).minimumPayout;
  return books.ledger.balances('partner_approved', actor.programId).flatMap(({ partnerId, amount }): Entry[] => {
    const partner = books.partners.byId(partnerId);
    if (!partner || amount < minimum || (partner.details === 'checked' && partner.onHold === null)) return [];
    const why =
      partner.onHold ??
      (partner.details === 'missing'
        ? 'There are no payout details, so the next run leaves the money out.'
        : 'The payout details have not been checked by finance.');
    return [
      {
        key: `details-${partnerId}`,
        urgency: partner.onHold === null ? 'waiting' : 'trouble',
        title: `Money of ${partner.name} waits for payout details`,
        why,
        amount,
        action:
          partner.details === 'unchecked' && may(actor, 'manage_payout_details') ? 'Check details' : 'Open partner',
        href: `/partners/${partnerId}#payout`,
      },
    ];
  });
}

function runs(stores: Stores, actor: Actor, now: Day): Entry[] {
  const open = stores.books.payouts.openRun(actor.programId);
  if (open) {
    const next = {
      drafted: 'It waits for a second person’s approval.',
      approved: 'It is approved: take the payment file to the bank.',
      exported: 'The payment file was taken: mark it settled once the bank has paid.',
    };
    const why =
      open.state === 'drafted' || open.state === 'approved' || open.state === 'exported' ? next[open.state] : '';
    return [
      {
        key: `run-${open.id}`,
        urgency: 'waiting',
        title: `Payout run ${open.number}, ${plural(open.partners, 'partner')}`,
        why,
        since: open.approvedAt ?? open.draftedAt,
        amount: open.amount,
        action: 'Open the run',
        href: `/payouts/${open.id}`,
      },
    ];
  }
  const payoutDay = nextDayOfMonth(now, programOf(stores, actor.programId).payoutDay);
  const days = Math.round((Date.parse(payoutDay) - Date.parse(now)) / 86_400_000);
  if (days > 5 || !may(actor, 'draft_payouts')) return [];
  return [
    {
      key: 'payout-day',
      urgency: 'waiting',
      title: `Payout day is ${showDay(payoutDay)}`,
      why: 'No run is drafted for it yet.',
      action: 'Draft the run',
      href: '/payouts',
    },
  ];
}

function returned(stores: Stores, programId: number): Entry[] {
  const { payouts, ledger } = stores.books;
  const held = new Map(
    ledger.balances('partner_approved', programId).map(({ partnerId, amount }) => [partnerId, amount]),
  );
  return payouts
    .runs(programId)
    .slice(0, 6)
    .flatMap((run) =>
      payouts
        .items(run.id)
        .filter(
          ({ state, partnerId }) =>
            state === 'returned' &&
            (held.get(partnerId) ?? 0) > 0 &&
            stores.books.partners.byId(partnerId)?.onHold === null,
        )
        .map((item): Entry => ({
          key: `returned-${item.id}`,
          urgency: 'trouble',
          title: `Payment to ${item.partnerName} came back`,
          why: `${item.returnReason ?? ''} New details are in; the next run pays it again.`,
          amount: item.amount,
          action: 'Open the run',
          href: `/payouts/${run.id}`,
        })),
    );
}
