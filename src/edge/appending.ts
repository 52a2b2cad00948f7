import { openTrafficForWriting, type TrafficWriter } from '@/store/traffic';

/** Commits after which the log begins anew, and after how many more that is tried again. */
const [COMMITS, AGAIN] = [2000, 20];

/** The traffic for one who only ever appends. */
export interface Appender extends TrafficWriter {
  /**
   * Called after each commit. What is committed is moved into the file by a thread of its own (`checkpoint.ts`), but
   * while commits follow each other that never gets to the end of the log, which would grow for as long: so now and
   * then the one who writes moves the rest, some milliseconds' work, and the next commit begins the log anew.
   */
  keepLogShort(): void;
}

export function openForAppending(file: string): Appender {
  const traffic = openTrafficForWriting(file);
  const { db } = traffic;
  db.pragma('wal_autocheckpoint = 0');
  // In KiB. A large cache would fill with pages that nobody asks for again.
  db.pragma('cache_size = -8192');
  let left = COMMITS;
  function keepLogShort(): void {
    if (--left > 0) return;
    left = AGAIN;
    try {
      const [moved] = db.pragma('wal_checkpoint(PASSIVE)') as { busy: number; log: number; checkpointed: number }[];
      if (moved?.busy === 0 && moved.log === moved.checkpointed) left = COMMITS;
    } catch {
      // What is committed stands in the log. A disk that is full or fails is told of by the commits themselves.
    }
  }
  return { ...traffic, keepLogShort };
}
