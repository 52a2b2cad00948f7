import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, test } from '@playwright/test';
import { DATA } from './places';

/** What Next marks as failed, what our servers log as an error (level 50 and up), and what they say of their threads. */
const WRONG = /⨯|unhandled|uncaught|thread of|"level":[56]0/i;
/** A browser that went on to another page before it had an answer. */
const LEFT = /aborted|ECONNRESET/;

// The last of the files: by now every screen was open, and every thread has worked.
for (const server of ['web', 'edge', 'worker'])
  test(`the log of ${server} tells of nothing that went wrong`, () => {
    const lines = readFileSync(join(DATA, 'logs', `${server}.log`), 'utf8').split('\n');
    expect(lines.length).toBeGreaterThan(1);
    expect(lines.filter((line) => WRONG.test(line) && !LEFT.test(line))).toEqual([]);
  });
