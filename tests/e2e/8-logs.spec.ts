import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, test } from '@playwright/test';
import { DATA } from './places';

// The last of the files: by now every screen was open, and every thread has worked.
for (const server of ['web', 'edge', 'worker'])
  test(`the log of ${server} tells of nothing that went wrong`, () => {
    const lines = readFileSync(join(DATA, 'logs', `${server}.log`), 'utf8').split('\n');
    expect(lines.filter((line) => /⨯|error|failed|ended|warn/i.test(line))).toEqual([]);
  });
