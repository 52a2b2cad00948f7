'use client';
import Button from '@mui/material/Button';
import LinearProgress from '@mui/material/LinearProgress';
import { useEffect, useState } from 'react';
import { showCount } from '@/core/reports/measures';
import type { JobView } from './useJob';

interface Props {
  done: number;
  /** 0 as long as it is not known. */
  total: number;
  /** "Line", "Partner". */
  each: string;
  /** What happens before the first and after the last. */
  besides: string;
  onCancel(): void;
}

/** How far work on many things is. */
export function JobProgress({ done, total, each, besides, onCancel }: Props) {
  const counting = total > 0 && done < total;
  return (
    <div className="stack" role="status">
      <LinearProgress
        aria-label="Progress"
        variant={counting ? 'determinate' : 'indeterminate'}
        value={counting ? (100 * done) / total : 0}
      />
      <div className="actions">
        <span>{counting ? `${each} ${showCount(done)} of ${showCount(total)}` : besides}</span>
        <Button onClick={onCancel}>Cancel</Button>
      </div>
    </div>
  );
}

const ASK_EVERY_MS = 300;

/** This person's job of a kind, while an action waits for it: shown only when it takes longer than a moment. */
export function RunningJob({ kind, ...words }: Pick<Props, 'each' | 'besides'> & { kind: string }) {
  const [job, setJob] = useState<JobView>();
  useEffect(() => {
    const asking = setInterval(async () => {
      const answer = await fetch('/jobs').catch(() => undefined);
      if (!answer?.ok) return;
      const { jobs } = (await answer.json()) as { jobs: JobView[] };
      setJob(jobs.find((each) => each.kind === kind));
    }, ASK_EVERY_MS);
    return () => clearInterval(asking);
  }, [kind]);
  if (!job) return null;
  const cancel = (): void => void fetch(`/jobs/${job.id}`, { method: 'DELETE' });
  return <JobProgress {...words} done={job.done} total={job.total} onCancel={cancel} />;
}
