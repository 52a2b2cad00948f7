import { ESLint } from 'eslint';
import { expect, test } from 'vitest';

const eslint = new ESLint({ cwd: process.cwd() });
const complaints = async (file: string, code: string): Promise<string[]> => {
  const [result] = await eslint.lintText(`${code}\n`, { filePath: file });
  return (result?.messages ?? [])
    .map(({ ruleId }) => ruleId ?? 'parse')
    .filter((rule) => rule.startsWith('no-restricted'));
};

// A rule that cannot fail is not a rule: each of these must be refused.
test.each([
  ['src/core/money/x.ts', "import { openBooks } from '@/store/books';\nexport { openBooks };"],
  ['src/core/money/x.ts', "import { readFileSync } from 'node:fs';\nexport { readFileSync };"],
  ['src/core/money/x.ts', 'export const now = Date.now();'],
  ['src/core/money/x.ts', "export const key = process.env['KEY'];"],
  ['src/store/books/x.ts', "import { issueLink } from '@/services/links';\nexport { issueLink };"],
  ['src/services/x.ts', "import { createEdge } from '@/edge/server';\nexport { createEdge };"],
  ['src/services/x.ts', "import { createEdge } from '../edge/server';\nexport { createEdge };"],
  ['src/ui/x.ts', "import { openBooks } from '@/store/books';\nexport { openBooks };"],
  ['src/standins/x.ts', "import { parseAmount } from '@/core/money/text';\nexport { parseAmount };"],
])('%s must not say: %s', async (file, code) => {
  expect(await complaints(file, code)).not.toEqual([]);
});

test.each([
  ['src/services/x.ts', "import { parseAmount } from '@/core/money/text';\nexport { parseAmount };"],
  ['src/edge/x.ts', "import { openRoutes } from '@/store/books';\nexport { openRoutes };"],
])('%s may say: %s', async (file, code) => {
  expect(await complaints(file, code)).toEqual([]);
});
