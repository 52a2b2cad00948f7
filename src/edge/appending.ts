import { openTrafficForWriting, type TrafficWriter } from '@/store/traffic';

/** The traffic for one who only ever appends. What is committed is moved into the file by a thread of its own. */
export function openForAppending(file: string): TrafficWriter {
  const traffic = openTrafficForWriting(file);
  traffic.db.pragma('wal_autocheckpoint = 0');
  // In KiB. A large cache would fill with pages that nobody asks for again.
  traffic.db.pragma('cache_size = -8192');
  return traffic;
}
