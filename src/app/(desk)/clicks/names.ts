import { countryName, languageName } from '@/core/routing/words';
import { ruleNames } from '@/services/routing';
import type { Desk } from '../../desk';

/** Rules by the name that all offers which have one of this ID agree on. */
function rules({ stores: { books }, actor }: Desk): Map<string, string | undefined> {
  const names = new Map<string, string | undefined>();
  for (const { id } of books.offers.ofProgram(actor.programId))
    for (const [rule, name] of ruleNames(books.routing.planOf(id)?.plan))
      names.set(rule, names.has(rule) && names.get(rule) !== name ? undefined : name);
  return names;
}

/** What a value of a column is called on screens. */
export function namesIn(desk: Desk): (field: string, value: string) => string {
  const { books } = desk.stores;
  const ruleName = rules(desk);
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
    if (field === 'rule') return ruleName.get(value) ?? value;
    if (field === 'hour') return `${value}:00`;
    return value;
  };
}
