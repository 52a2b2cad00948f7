import { isUlid } from '@/core/clicks/ulid';
import type { Found } from '@/store/books/figures';
import type { Actor } from './actor';
import type { Stores } from './stores';

export type Hit = (Found | { kind: 'click'; id: string; label: string; about: string }) & { href: string };

/** Finds partners by name or code, links by code, clicks by ID, conversions by order or click ID. */
export function search(stores: Stores, actor: Actor, query: string): Hit[] {
  const text = query.trim();
  if (text.length < 2) return [];
  const hits: Hit[] = stores.books.figures
    .find(actor.programId, actor.partnerId, text)
    .map((found) => ({ ...found, href: hrefOf(found) }));
  const clickId = text.toUpperCase();
  const click = isUlid(clickId) ? stores.traffic.click(clickId) : undefined;
  if (click?.programId === actor.programId && (actor.partnerId === null || click.partnerId === actor.partnerId)) {
    const partner = stores.books.partners.byId(click.partnerId)?.name ?? '';
    hits.unshift({
      kind: 'click',
      id: clickId,
      label: clickId,
      about: partner,
      href: `/clicks?partner=${click.partnerId}&trace=click:${clickId}`,
    });
  }
  return hits;
}

const hrefOf = ({ kind, id }: Found): string => {
  if (kind === 'partner') return `/partners/${id}`;
  return kind === 'link' ? `/links?trace=link:${id}` : `/conversions?trace=conversion:${id}`;
};
