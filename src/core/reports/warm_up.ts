import { type Block, type Column, MOST_ROWS } from './block';
import { countClicks, countConversions } from './counting';
import { Grouping } from './group';

const BY = ['sub1', 'sub2'] as const;
const BLOCKS = 8;

/** Full blocks' rows with so many values, dealt out by steps. */
function column(values: number, step: number): Column {
  const codes = Uint16Array.from({ length: MOST_ROWS }, (_, row) => (row * step) % values);
  return { values: Array.from({ length: values }, (_, i) => `${i}`), codes };
}

/**
 * Counts made-up rows as a question does that has some hundred thousand groups: its loops are compiled then, and the
 * memory in which they count is there, before somebody waits for them. Called once by each thread that counts.
 */
export function warmUp(): void {
  const columns = new Map([
    ['sub1', column(2039, 7)],
    ['sub2', column(509, 11)],
  ]);
  const one = column(2, 1);
  const block: Block = { rows: MOST_ROWS, column: (name) => columns.get(name) ?? one };
  // What one thread counts and hands over, and what another one makes of it.
  const helping = new Grouping(BY, []);
  for (let i = 0; i < BLOCKS; i++) helping.add(block, countClicks);
  const helped = helping.grouped();
  helping.free();
  const asked = new Grouping(BY, []);
  for (let i = 0; i < BLOCKS; i++) asked.add(block, countClicks);
  asked.add(block, countConversions);
  asked.absorb(helped);
  for (const by of [{ of: { clicks: 1 } }, { of: { commission: 1 }, over: { clicks: 1 } }, 'name'] as const)
    asked.best(by, false, 50);
  asked.free();
}
