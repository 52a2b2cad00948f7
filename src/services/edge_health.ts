import { edgeOrigin } from './stores';
import type { Entry } from './today';

const ASK_EVERY_MS = 5000;
const WAIT_MS = 800;
let known: { at: number; entry: Entry | undefined } | undefined;

/** Where the tracking host of this installation is asked how it is. */
const healthAddress = (): string => `${edgeOrigin()}/healthz`;

/**
 * What of the tracking host needs somebody: it does not answer, or cannot write. Asked at most every five seconds.
 * @returns undefined when all is well
 */
export async function edgeTrouble(now = Date.now(), address = healthAddress()): Promise<Entry | undefined> {
  if (known && now - known.at < ASK_EVERY_MS && now >= known.at) return known.entry;
  known = { at: now, entry: await ask(address) };
  return known.entry;
}

async function ask(address: string): Promise<Entry | undefined> {
  const trouble = (title: string, why: string): Entry => ({
    ...{ key: 'edge', urgency: 'trouble', title, why, action: 'Look into its log', href: '/setup?shelf=program' },
  });
  try {
    const answer = await fetch(address, { signal: AbortSignal.timeout(WAIT_MS) });
    const health = (await answer.json()) as { writable?: boolean; failure?: string; lost?: number };
    if (health.writable !== false) return undefined;
    return trouble(
      'The tracking host cannot store anything',
      `${health.failure ?? 'It cannot write.'} Visitors are sent on, ${health.lost ?? 0} clicks were lost so far, and postbacks are asked to come again. Make room on the disk; it recovers by itself.`,
    );
  } catch {
    return trouble(
      'The tracking host does not answer',
      'Links lead nowhere until it is back. The launcher starts it again by itself; its log stands in the data folder, logs/edge.log.',
    );
  }
}
