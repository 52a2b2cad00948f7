import { readFileSync } from 'node:fs';
import { expect, test } from 'vitest';
import { compiledKernel } from '../../scripts/kernel.mjs';

test('the kernel that is committed is compiled from its source', async () => {
  expect(readFileSync('src/core/reports/kernel_code.ts', 'utf8')).toBe(await compiledKernel());
});
