import { type MessagePort, workerData } from 'node:worker_threads';
import { Grouping, buffersOf } from '@/core/reports/group';
import { warmUp } from '@/core/reports/warm_up';
import { countBlocks } from '../explore';
import { standBack } from '../stand_back';
import { openFiles } from '../stores';
import { Draw, type HelpOrder, KEPT_MEBIBYTES } from './sharing';

standBack();
const stores = openFiles();
stores.rollups.clicks.keepColumns(KEPT_MEBIBYTES);
warmUp();
const port = workerData as MessagePort;

/** Counts the blocks that it draws, until none is left. */
function help({ shared, ...order }: HelpOrder): void {
  const draw = new Draw(order.blocks.length, shared);
  if (!draw.join()) return;
  try {
    const grouping = new Grouping(order.by, []);
    stores.rollups.atOnce(() => countBlocks(stores, grouping, order, () => draw.next('last')));
    const said = grouping.grouped();
    grouping.free();
    port.postMessage(said, buffersOf(said));
    draw.leave(true);
  } catch (error) {
    console.error('The second thread of reports:', error);
    draw.leave(false);
  }
}

port.on('message', help);
