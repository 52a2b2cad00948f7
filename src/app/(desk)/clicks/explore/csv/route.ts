import { exportGroups } from '@/services/exports';
import { askReport } from '@/services/reports';
import { readScope } from '@/services/scope';
import { CSV, download } from '../../../../download';
import { exploring } from '../../looking';

/** What the explorer shows, all groups of it. */
export const GET = (request: Request): Promise<Response> =>
  download((stores, actor) => {
    const query = Object.fromEntries(new URL(request.url).searchParams);
    const scope = readScope(stores, actor, query);
    const asked = { scope, ...exploring((name) => query[name]) };
    return {
      name: `clicks-by-${asked.by.join('-') || 'nothing'}-${scope.from}-to-${scope.to}.csv`,
      type: CSV,
      content: exportGroups(stores, actor, asked, (portion) => askReport('explore', actor, portion)),
    };
  });
