import { DIMENSIONS, dimensionWord } from '@/core/reports/columns';
import { ONE_OFF_SLOTS } from '@/core/placeholders/names';
import { knownParts } from '@/services/explore';
import { FilterBar } from '@/ui/table/FilterBar';
import type { Desk } from '../../desk';
import { filtersOf } from './looking';
import { namesIn } from './names';

const SCOPED = ['partner', 'channel', 'offer', 'link', 'day'];

/** The filters of the clicks in sight; whom they are of is the scope's to say. */
export function ClickFilters({ desk }: { desk: Desk }) {
  const filters = filtersOf(desk);
  const nameOf = namesIn(desk);
  const offered = [
    ...DIMENSIONS.filter((name) => !SCOPED.includes(name)),
    ...knownParts(desk.stores, desk.actor, desk.scope),
    ...ONE_OFF_SLOTS,
    ...['unique', 'flags'],
  ];
  return (
    <FilterBar
      filters={filters}
      fields={[...new Set([...offered, ...filters.map(({ field }) => field)])].map((id) => ({
        id,
        label: dimensionWord(id),
      }))}
      names={Object.fromEntries(filters.map(({ field, text }) => [`${field} ${text}`, nameOf(field, text)]))}
    />
  );
}
