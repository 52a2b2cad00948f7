import { MessageChannel, receiveMessageOnPort } from 'node:worker_threads';
import type { Grouped } from '@/core/reports/group';
import { dataFolder } from '../stores';
import { startThread } from '../threads';
import { Draw, type HelpOrder, type Helper } from './sharing';

/** A second thread for questions over many blocks. The asker waits for it without leaving its turn. */
export function openHelper(folder = dataFolder()): Helper {
  const { port1: ours, port2: theirs } = new MessageChannel();
  const thread = startThread('reports_second', {
    env: { ...process.env, BRIVET_DATA: folder },
    workerData: theirs,
    transferList: [theirs],
  });
  let gone = false;
  thread.on('error', (error) => {
    gone = true;
    console.error('The second thread of reports ended; the first one counts alone:', error);
  });
  thread.unref();
  ours.unref();
  return (order) => {
    if (gone) return undefined;
    const draw = new Draw(order.blocks.length);
    ours.postMessage({ ...order, shared: draw.shared } satisfies HelpOrder);
    return {
      next: () => draw.next('first'),
      result() {
        if (!draw.close()) return undefined;
        const received = receiveMessageOnPort(ours) as { message: Grouped } | undefined;
        return received?.message;
      },
    };
  };
}
