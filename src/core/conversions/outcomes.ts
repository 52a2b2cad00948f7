import { UNMATCHED_REASONS, UNMATCHED_WORDS } from '../attribution/match';

/** What can become of a report. */
export type Outcome =
  'recorded' | 'unmatched' | 'retry' | 'ignored' | 'changed' | 'status' | 'waiting' | 'refused' | 'test';

export const OUTCOME_WORDS: Record<Outcome, string> = {
  recorded: 'recorded',
  unmatched: 'not matched yet',
  retry: 'a retry, without effect',
  ignored: 'ignored',
  changed: 'changed a conversion',
  status: 'status taken',
  waiting: 'waits for its conversion',
  refused: 'refused',
  test: 'a test, without effect',
};

/** Whether it needs somebody, waits, or is well. */
export const outcomeTone = (outcome: Outcome): 'trouble' | 'wait' | 'well' =>
  outcome === 'refused' ? 'trouble' : outcome === 'unmatched' || outcome === 'waiting' ? 'wait' : 'well';

/** The reason in words: that of a conversion that was not matched is stored as its code. */
export function outcomeReason(outcome: Outcome, detail: string): string {
  const reason = UNMATCHED_REASONS.find((each) => each === detail);
  return outcome === 'unmatched' && reason ? UNMATCHED_WORDS[reason] : detail;
}
