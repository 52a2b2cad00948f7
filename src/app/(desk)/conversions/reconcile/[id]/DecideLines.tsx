'use client';
import type { Finding } from '@/core/conversions/reconcile';
import { DecideTicked } from '../../DecideTicked';
import { decideReport } from '../../actions';

const WAYS = {
  differs: {
    take_theirs: {
      word: 'Take theirs',
      about:
        'What they say stands from now on, and is rated anew. Lines whose difference is none of the report’s are left.',
    },
    keep_ours: { word: 'Keep ours', about: 'What is recorded stands; the line counts as decided.' },
  },
  only_there: {
    record: { word: 'Record', about: 'They are booked like an import: matched, and rated as of their own time.' },
    leave: { word: 'Leave out', about: 'They stay unrecorded; the line counts as decided.' },
  },
  only_here: {
    reject: {
      word: 'Take back',
      about: 'What they earned is rejected, or taken back where it was approved or paid. The partner sees the reason.',
      reason: true,
    },
    keep: { word: 'Keep', about: 'They stand although the report lacks them; the line counts as decided.' },
  },
} as const;

/** Decides on the lines of one finding that are ticked, or on all that are undecided. */
export function DecideLines({ id, finding, all }: { id: number; finding: Exclude<Finding, 'equal'>; all: number }) {
  const ways: Record<string, { word: string; about: string; reason?: true }> = WAYS[finding];
  return (
    <DecideTicked
      title="What stands?"
      all={all}
      ways={ways}
      decide={(ids, decision, reason) => decideReport(id, { ids, decision: decision as never, reason })}
    />
  );
}
