import { readFilters } from '@/core/reports/columns';
import { CALL_SHELVES } from '@/services/calls';
import { CLICK_SHELVES } from '@/services/click_blocks';
import { logColumns } from '@/services/click_log';
import { EXPORTS, exportClicks, exportCsv } from '@/services/exports';
import { readScope, wholeNumber } from '@/services/scope';
import { isConversionFilter } from '@/store/books/conversion_filters';
import { REVIEW_STATES } from '@/store/books/reviews';
import { CSV, fileFor } from '../../download';
import { currentActor, stores } from '../../server';

const SHELVES: Record<(typeof EXPORTS)[number], readonly string[]> = {
  links: ['all'],
  partners: ['all'],
  channels: ['all'],
  coupons: ['all'],
  conversions: ['all', 'unmatched'],
  calls: ['all', ...CALL_SHELVES],
  reviews: REVIEW_STATES,
  reconciliation: [],
  commissions: ['all', 'due', 'waiting', 'needs_rate', 'approved', 'in_payout', 'paid', 'rejected', 'reversed'],
};

/** What is in view, whole, as a file. */
export async function GET(request: Request, { params }: { params: Promise<{ what: string }> }): Promise<Response> {
  const actor = await currentActor();
  if (!actor) return new Response('Sign in first.', { status: 401 });
  const { what } = await params;
  const query = Object.fromEntries(new URL(request.url).searchParams);
  const scope = readScope(stores(), actor, query);
  const name = EXPORTS.find((each) => each === what);
  if (name) {
    const shelf =
      name === 'reconciliation'
        ? String(wholeNumber(query.shelf) ?? 0)
        : (SHELVES[name].find((each) => each === (name === 'calls' || name === 'reviews' ? query.of : query.shelf)) ??
          SHELVES[name][0] ??
          'all');
    const filters = name === 'conversions' ? readFilters(query.where, isConversionFilter) : [];
    const file = name === 'reconciliation' ? `reconciliation-${shelf}.csv` : `${name}-${scope.from}-to-${scope.to}.csv`;
    return fileFor(actor, (files) => ({
      name: file,
      type: CSV,
      content: exportCsv(files, actor, name, scope, shelf, filters),
    }));
  }
  if (what !== 'clicks') return new Response('There is no such export.', { status: 404 });
  const looked = {
    shelf: CLICK_SHELVES.find((each) => each === query.shelf) ?? 'counted',
    filters: readFilters(query.where),
    upto: wholeNumber(query.upto) ?? undefined,
  };
  return fileFor(actor, (files) => ({
    name: `clicks-${scope.from}-to-${scope.to}.csv`,
    type: CSV,
    content: exportClicks(files, actor, scope, looked, logColumns(files, actor)),
  }));
}
