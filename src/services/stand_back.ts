import { execFileSync } from 'node:child_process';
import { readdirSync } from 'node:fs';
import { isMainThread } from 'node:worker_threads';

/**
 * Lets the calling thread run only when no visitor, screen or postback wants the processor: for reports and imports,
 * which take seconds and may take one more. By Linux's idle class (sched(7)), set with chrt of util-linux; where that
 * is missing, the thread keeps the priority of its process. The engine's helpers, which collect its garbage, step back
 * with it; a process's main thread only by its own will.
 */
export function standBack(): void {
  try {
    for (const thread of readdirSync('/proc/self/task'))
      if (isMainThread || Number(thread) !== process.pid)
        execFileSync('chrt', ['--idle', '--pid', '0', thread], { stdio: 'ignore' });
  } catch {
    // Slower for visitors at worst, and only while a report or an import runs.
  }
}
