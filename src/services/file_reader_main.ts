import { workerData } from 'node:worker_threads';
import { readLine } from './file_lines';
import { CHUNK, type ReaderOrder, type ReaderSays } from './file_reader';
import { customerHasher } from './secrets';
import { standBack } from './stand_back';

standBack();
const { rows, key, programId, port, sent, ...how } = workerData as ReaderOrder;
const count = new Int32Array(sent);

function say(what: ReaderSays): void {
  port.postMessage(what);
  Atomics.add(count, 0, 1);
  Atomics.notify(count, 0);
}

try {
  const hash = customerHasher(Buffer.from(key), programId);
  for (let at = 0; at < rows.length; at += CHUNK)
    say({ lines: rows.slice(at, at + CHUNK).map((cells) => readLine(cells, how, hash)) });
} catch (error) {
  say({ failed: error instanceof Error ? error.message : String(error) });
}
