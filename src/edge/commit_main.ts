import { parentPort, workerData } from 'node:worker_threads';
import type { Arrivals } from '@/store/traffic';
import { openForAppending } from './appending';
import type { CommitAnswer } from './commit_thread';

const { file } = workerData as { file: string };
const traffic = openForAppending(file);

const say = (answer: CommitAnswer): void => parentPort?.postMessage(answer);

parentPort?.on('message', (arrivals: Arrivals) => {
  try {
    traffic.commitArrivals(arrivals);
    say({});
  } catch (error) {
    say({ failure: error instanceof Error ? error.message : String(error) });
  }
});
say({});
