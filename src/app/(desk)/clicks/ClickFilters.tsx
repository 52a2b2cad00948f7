import { DIMENSIONS } from '@/core/reports/columns';
import { ONE_OFF_SLOTS } from '@/core/placeholders/names';
import { knownParts } from '@/services/explore';
import type { Desk } from '../../desk';
import { FilterBar } from './FilterBar';
import { filtersOf } from './looking';
import { namesIn } from './names';

const SCOPED = ['partner', 'channel', 'offer', 'link', 'day'];

/** The filters of the clicks in sight; whom they are of is the scope's to say. */
export function ClickFilters({ desk }: { desk: Desk }) {
  const filters = filtersOf(desk);
  const nameOf = namesIn(desk);
  return (
    <FilterBar
      filters={filters}
      fields={[
        ...DIMENSIONS.filter((name) => !SCOPED.includes(name)),
        ...knownParts(desk.stores, desk.actor, desk.scope),
        ...ONE_OFF_SLOTS,
        ...['unique', 'flags'],
      ]}
      names={Object.fromEntries(filters.map(({ field, text }) => [`${field} ${text}`, nameOf(field, text)]))}
    />
  );
}
