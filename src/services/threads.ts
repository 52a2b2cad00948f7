import { join } from 'node:path';
import { Worker, type WorkerOptions } from 'node:worker_threads';

/**
 * Starts a thread on one of the bundles in dist/. The comment keeps Next's bundler from taking it in: that would make
 * another bundle of it, and hand the thread a copy of `workerData` in which a port is none any more.
 */
export const startThread = (
  bundle: 'reports' | 'reports_second' | 'job' | 'file_reader',
  options: WorkerOptions = {},
): Worker => new Worker(/* turbopackIgnore: true */ join(process.cwd(), 'dist', `${bundle}.mjs`), options);
