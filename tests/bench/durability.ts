import { verify } from '@/services/verify';
import { endUnderLoad } from '../support/edge_process';
import { WorldOnDisk } from '../support/world';
import type { Measure } from './main';

const ROUNDS = 10;
const PORT = 3984;

/** Kills the edge ten times under load, and looks for what it had answered. */
export async function benchDurability(): Promise<Measure[]> {
  using world = new WorldOnDisk();
  let [answers, lost, twice] = [0, 0, 0];
  for (let round = 0; round < ROUNDS; round++) {
    const { answered, missing } = await endUnderLoad(world, PORT, 'SIGKILL', 2000);
    const ids = [...answered.clicks, ...answered.receipts];
    answers += ids.length;
    lost += missing.length;
    twice += ids.length - new Set(ids).size;
  }
  world.work();
  const wrong = verify(world.stores).flatMap((finding) => finding.wrong).length;
  const none = (what: string, value: number): Measure => ({
    what,
    value: String(value),
    reach: '0',
    reached: value === 0,
  });
  return [
    none(`kill -9 ten times: of ${answers.toLocaleString('en')} answered clicks and postbacks missing`, lost),
    none('the same: answered or stored twice', twice),
    none('the same: what verify finds wrong', wrong),
  ];
}
