'use client';
import Button from '@mui/material/Button';
import { useRouter } from 'next/navigation';
import { useState } from 'react';
import type { FileReading } from '@/core/conversions/file';
import { JobReport } from '@/ui/job/JobReport';
import { useJob } from '@/ui/job/useJob';
import { ReadFile } from './ReadFile';

const PLACEHOLDER = `order;amount;date;click_id
LK-7001;1.299,00;24-11-2026 14:05;01KB…`;

/** A file, how it is read, what becomes of each line, then all of it at once. */
export function ImportConversions({ sources }: { sources: readonly string[] }) {
  const router = useRouter();
  const [leaveOut, setLeaveOut] = useState(false);
  const { job, problem, begin, cancel, show, reset } = useJob('conversions');
  const run = async (read: { text: string; source: string; reading: FileReading }, write: boolean): Promise<void> => {
    await begin({ ...read, leaveOut }, write);
    if (write) router.refresh();
  };
  const count = job ? job.counts.new + job.counts.changed : 0;
  const previewed = job?.state === 'done' && !job.write;
  const ready = previewed && count > 0 && (job.counts.refused === 0 || leaveOut);
  return (
    <ReadFile sources={sources} placeholder={PLACEHOLDER} onChange={reset}>
      {(read) => (
        <>
          <div className="actions">
            <Button
              variant={ready ? 'outlined' : 'contained'}
              disabled={job?.state === 'running'}
              onClick={() => void run(read, false)}
            >
              Look what becomes of each line
            </Button>
            {ready && (
              <Button variant="contained" onClick={() => void run(read, true)}>
                Import {count.toLocaleString('en-GB')}
              </Button>
            )}
            {previewed && job.counts.refused > 0 && (
              <label>
                <input type="checkbox" checked={leaveOut} onChange={({ target }) => setLeaveOut(target.checked)} />{' '}
                Leave what is refused out ({job.counts.refused.toLocaleString('en-GB')}); else nothing is imported
              </label>
            )}
            {job?.state === 'done' && job.write && (
              <span className="strong" role="status">
                Imported {job.counts.new.toLocaleString('en-GB')} new, changed{' '}
                {job.counts.changed.toLocaleString('en-GB')}.
              </span>
            )}
          </div>
          {problem && (
            <p className="note trouble" role="alert">
              {problem}
            </p>
          )}
          {job && <JobReport job={job} thing="Conversion" onCancel={cancel} onShow={show} />}
        </>
      )}
    </ReadFile>
  );
}
