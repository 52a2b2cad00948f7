import { type MessagePort, parentPort, receiveMessageOnPort, workerData } from 'node:worker_threads';
import type { Arrivals } from '@/store/traffic';
import { openForAppending } from './appending';
import type { CommitAnswer } from './commit_thread';

const { file } = workerData as { file: string };
const traffic = openForAppending(file);

const port = parentPort as MessagePort;
const say = (answer: CommitAnswer): void => port.postMessage(answer);
const received = (): Arrivals | undefined => (receiveMessageOnPort(port) as { message: Arrivals } | undefined)?.message;

port.on('message', (first: Arrivals) => {
  const batches = [first];
  // All that wait go together: the disk is awaited once for them.
  for (let next = received(); next; next = received()) batches.push(next);
  try {
    traffic.commitArrivals(batches);
    say({ batches: batches.length });
  } catch (error) {
    say({ batches: batches.length, failure: error instanceof Error ? error.message : String(error) });
    return;
  }
  traffic.keepLogShort();
});
say({ batches: 1 });
