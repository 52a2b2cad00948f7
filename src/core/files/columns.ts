import type { Problem } from '../schema/problems';

/** "Sub ID 1", "sub-id_1" and "SUBID1" mean one column. */
const bare = (name: string): string => name.toLowerCase().replace(/[^a-z0-9]/g, '');

/** Words under which people know a column of ours. */
const ALSO: Readonly<Record<string, string>> = {
  url: 'destination',
  to: 'destination',
  page: 'destination',
  deeplink: 'destination',
  partnercode: 'partner',
  channelcode: 'channel',
  offercode: 'offer',
  productgroup: 'product',
  subid1: 'sub1',
  subid2: 'sub2',
  subid3: 'sub3',
  subid4: 'sub4',
  subid5: 'sub5',
  mail: 'email',
  currency: 'payoutCurrency',
  minimum: 'ownMinimum',
  referredby: 'referrer',
};

/**
 * Finds out which column of a file is which of ours.
 * @returns for every column of the file the name of ours, or the columns nobody knows
 */
export function matchColumns<T extends string>(
  heads: readonly string[],
  known: readonly T[],
  /** Columns of our own exports that say nothing about what is read. */
  ignored: readonly string[] = [],
): { ok: true; columns: (T | undefined)[] } | { ok: false; problems: Problem[] } {
  const byBare = new Map(known.map((name) => [bare(name), name]));
  const problems: Problem[] = [];
  const columns = heads.map((head): T | undefined => {
    if (head.trim() === '') return undefined;
    if (ignored.some((each) => bare(each) === bare(head))) return undefined;
    const name = byBare.get(bare(head)) ?? byBare.get(bare(ALSO[bare(head)] ?? ''));
    if (!name)
      problems.push({
        field: head,
        reason: `"${head}" is not a column that is known here. Known are: ${known.join(', ')}.`,
      });
    return name;
  });
  const twice = columns.find((name, i) => name !== undefined && columns.indexOf(name) !== i);
  if (twice) problems.push({ field: twice, reason: `Two columns of the file are ${twice}. Leave one.` });
  return problems.length === 0 ? { ok: true, columns } : { ok: false, problems };
}
