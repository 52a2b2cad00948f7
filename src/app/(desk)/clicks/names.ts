import { countryName, languageName } from '@/core/routing/words';
import type { Desk } from '../../desk';

/** What a value of a column is called on screens. */
export function namesIn({ stores: { books } }: Desk): (field: string, value: string) => string {
  const ids: Record<string, (id: number) => string | undefined> = {
    partner: (id) => books.partners.byId(id)?.name,
    channel: (id) => books.partners.channel(id)?.name,
    offer: (id) => books.offers.byId(id)?.name,
    link: (id) => books.links.byId(id)?.code,
  };
  return (field, value) => {
    if (value === '') return '–';
    const named = ids[field];
    if (named) return named(Number(value)) ?? value;
    if (field === 'country') return countryName(value);
    if (field === 'language') return languageName(value);
    if (field === 'hour') return `${value}:00`;
    return value;
  };
}
