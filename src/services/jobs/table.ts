import Papa from 'papaparse';
import { matchColumns } from '@/core/files/columns';
import { invalid, invalidField } from '../refusal';

/** One line of a file, by our names for its columns. */
export interface TableLine<T extends string> {
  /** As an editor counts them, from 1. */
  readonly line: number;
  readonly record: Partial<Record<T, string>>;
}

/** Our exports put "'" before what a spreadsheet would take for a formula. */
const undefused = (cell: string): string => cell.replace(/^'(?=[=+\-@\t\r])/, '');

export const MOST_LINES = 50_000;

/**
 * Reads CSV (RFC 4180; comma, semicolon or tab) with a head of column names. A file without a head whose lines are
 * addresses is read as a list of the column `plain`.
 * @throws Refusal 'invalid' naming the column or the line that cannot be read
 */
export function readTable<T extends string>(
  text: string,
  known: readonly T[],
  { plain, ignored }: { plain?: T; ignored?: readonly string[] } = {},
): TableLine<T>[] {
  const content = text.replace(/^\uFEFF/, '');
  if (content.trim() === '') throw invalidField('text', 'There is nothing in it yet. Paste lines, or choose a file.');
  const bare = plain !== undefined && /^\s*"?https?:\/\//i.test(content);
  const parsed = Papa.parse<string[]>(content, { skipEmptyLines: false, ...(bare && { delimiter: '\u001f' }) });
  const broken = parsed.errors.find(({ type }) => type === 'Quotes');
  if (broken) throw invalidField('text', `Line ${(broken.row ?? 0) + 1}: a quotation mark is opened and never closed.`);
  const rows = parsed.data
    .map((cells, i) => ({ line: i + 1, cells }))
    .filter(({ cells }) => cells.some((cell) => cell.trim() !== ''));
  if (rows.length > MOST_LINES + 1)
    throw invalidField('text', `The file has ${rows.length} lines; at most ${MOST_LINES} are read at once. Split it.`);
  if (bare && plain !== undefined)
    return rows.map(({ line, cells }) => ({
      line,
      record: { [plain]: (cells[0] ?? '').trim() } as Partial<Record<T, string>>,
    }));
  const [head, ...lines] = rows;
  const matched = matchColumns(head?.cells ?? [], known, ignored);
  if (!matched.ok) throw invalid(matched.problems);
  return lines.map(({ line, cells }) => ({
    line,
    record: Object.fromEntries(
      matched.columns.flatMap((name, i) => (name === undefined ? [] : [[name, undefused(cells[i] ?? '')]])),
    ) as Partial<Record<T, string>>,
  }));
}
