import { isDimension, readFilters } from '@/core/reports/columns';
import { MOST_DIMENSIONS } from '@/services/explore';
import { exportGroups } from '@/services/exports';
import { askReport } from '@/services/reports';
import { readScope } from '@/services/scope';
import { download } from '../../../../download';

const MOST_GROUPS = 1_000_000;

/** What the explorer shows, all groups of it. */
export const GET = (request: Request): Promise<Response> =>
  download(async (stores, actor) => {
    const query = Object.fromEntries(new URL(request.url).searchParams);
    const scope = readScope(stores, actor, query);
    const by = (query.by ?? 'sub1').split(',').filter(isDimension).slice(0, MOST_DIMENSIONS);
    const whole = { limit: MOST_GROUPS, offset: 0, sort: 'clicks' as const, ascending: false };
    const { groups } = await askReport('explore', actor, { scope, by, filters: readFilters(query.where), ...whole });
    return {
      name: `clicks-by-${by.join('-') || 'nothing'}-${scope.from}-to-${scope.to}.csv`,
      type: 'text/csv; charset=utf-8',
      content: exportGroups(stores, actor, by, groups),
    };
  });
