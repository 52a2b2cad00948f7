import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import type { Arrivals, ClickRow, VisitRow } from '@/store/traffic';
import { GroupCommit } from './group_commit';

const turn = (): Promise<void> => new Promise((resolve) => setImmediate(resolve));
const click = (clickId: string): ClickRow => ({
  ...{ clickId, time: 0, linkId: 1, partnerId: 1, channelId: 1, offerId: 7, programId: 1, visitor: 'v', isUnique: 1 },
  ...{ setAside: null, flags: null, via: 'landing_page', address: '', query: '', referrer: null, agent: null },
  ...{ language: null, client: null, country: null, rule: null, page: null },
});
const visit = (clickId: string): VisitRow => ({ visitor: 'v', clickId, time: 0 });

/** A disk that keeps what is committed, one commit after the other, and fails when it is told to. */
class Disk {
  readonly kept: string[] = [];
  through = 0;
  unknown = 0;
  private waiting = 0;
  private last = Promise.resolve();

  constructor(
    private readonly fails: () => boolean,
    private readonly turns: () => number,
  ) {}

  private write({ clicks, visits, through, unknownCodes }: Arrivals): void {
    if (this.fails()) throw new Error('The disk is full.');
    // The first value of a row is its ID.
    const ids = clicks.filter((value): value is string => typeof value === 'string' && /^[CV]\d+$/.test(value));
    this.kept.push(...ids, ...visits.map(({ clickId }) => clickId));
    this.through += through.reduce((sum, each) => sum + each.clicks, 0);
    this.unknown += unknownCodes;
  }
  here = (arrivals: Arrivals): void => {
    // Two that write at once would make the event loop wait for the file.
    expect(this.waiting).toBe(0);
    this.write(arrivals);
  };
  aside = (arrivals: Arrivals): Promise<void> => {
    // What comes now belongs to another batch.
    const [clicks, visits] = [arrivals.clicks.length, arrivals.visits.length];
    this.waiting += 1;
    const written = this.last.then(async () => {
      for (let i = this.turns(); i > 0; i--) await turn();
      this.waiting -= 1;
      expect([arrivals.clicks.length, arrivals.visits.length]).toEqual([clicks, visits]);
      this.write(arrivals);
    });
    this.last = written.catch(() => undefined);
    return written;
  };
}

const step = fc.oneof(
  { weight: 6, arbitrary: fc.record({ kind: fc.constant('click' as const), many: fc.integer({ min: 1, max: 80 }) }) },
  { weight: 2, arbitrary: fc.record({ kind: fc.constant('visit' as const), many: fc.integer({ min: 1, max: 5 }) }) },
  { weight: 1, arbitrary: fc.record({ kind: fc.constant('unknown' as const), many: fc.integer({ min: 1, max: 3 }) }) },
  { weight: 3, arbitrary: fc.record({ kind: fc.constant('turn' as const), many: fc.integer({ min: 1, max: 3 }) }) },
);

describe('whatever comes, however slow the disk is, and whenever it fails', () => {
  test('each is answered once, after it is kept, or told that it is not; nothing is kept twice', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.array(step, { maxLength: 25 }),
        fc.infiniteStream(fc.integer({ min: 0, max: 9 })),
        fc.boolean(),
        async (steps, chance, sound) => {
          const draw = (): number => chance.next().value ?? 0;
          const disk = new Disk(
            () => !sound && draw() === 0,
            () => draw() % 4,
          );
          const reported: Error[] = [];
          const group = new GroupCommit(
            disk,
            () => '2026-11-26',
            (error) => void reported.push(error),
          );
          const answers = new Map<string, 'kept' | 'lost'>();
          let [sent, unknown] = [0, 0];
          const settle = (id: string) => (failure?: Error) => {
            expect(answers.has(id)).toBe(false);
            expect(disk.kept.includes(id)).toBe(failure === undefined);
            answers.set(id, failure ? 'lost' : 'kept');
          };
          for (const { kind, many } of steps)
            for (let i = 0; i < many; i++) {
              const id = `${kind === 'click' ? 'C' : 'V'}${(sent += 1)}`;
              if (kind === 'click') group.click(click(id), '2026-11-26', settle(id));
              else if (kind === 'visit') group.visit(visit(id), settle(id));
              else if (kind === 'unknown') {
                group.countUnknownCode();
                unknown += 1;
              } else await turn();
              if (kind === 'unknown' || kind === 'turn') sent -= 1;
            }
          await group.drain();
          // What was only scheduled goes with the turn.
          for (let i = 0; i < 9; i++) await turn();
          expect(answers.size).toBe(sent);
          const kept = [...answers].filter(([, how]) => how === 'kept').map(([id]) => id);
          expect([...disk.kept].sort()).toEqual(kept.sort());
          expect(disk.through).toBe(kept.filter((id) => id.startsWith('C')).length);
          if (sound) expect([kept.length, disk.unknown, reported]).toEqual([sent, unknown, []]);
          else expect(reported.length > 0).toBe(answers.size > kept.length || disk.unknown < unknown);
        },
      ),
      { numRuns: 150 },
    );
  });

  test('its health tells of the last commit, and recovers by itself', async () => {
    let full = true;
    const group = new GroupCommit(
      new Disk(
        () => full,
        () => 1,
      ),
      () => '2026-11-26',
      () => undefined,
    );
    const one = (id: string): Promise<Error | undefined> =>
      new Promise((resolve) => group.click(click(id), undefined, resolve));
    expect((await one('C1'))?.message).toBe('The disk is full.');
    expect(group.health).toMatchObject({ writable: false, failure: 'The disk is full.' });
    full = false;
    expect(await one('C2')).toBeUndefined();
    expect(group.health).toMatchObject({ writable: true, failure: undefined });
  });
});
