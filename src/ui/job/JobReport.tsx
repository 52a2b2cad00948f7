'use client';
import Button from '@mui/material/Button';
import { useState } from 'react';
import { showCount } from '@/core/reports/measures';
import { JobProgress } from './JobProgress';
import type { JobLine, JobView } from './useJob';

const WORDS: Record<JobLine['outcome'], readonly [preview: string, done: string]> = {
  new: ['would be new', 'new'],
  changed: ['would change', 'changed'],
  same: ['there already', 'there already'],
  refused: ['refused', 'refused'],
};
const OUTCOMES = ['new', 'changed', 'same', 'refused'] as const;
const PAGE = 100;

interface Props {
  job: JobView;
  /** "link", "partner". */
  thing: string;
  onCancel(): void;
  onShow(outcome: string | undefined, page: number): void;
}

/** How far the work is; once it is done, what becomes of each line and why. */
export function JobReport({ job, thing, onCancel, onShow }: Props) {
  if (job.state === 'running')
    return (
      <JobProgress
        done={job.done}
        total={job.total}
        each="Line"
        besides={job.total > 0 ? 'Writing them' : 'Reading the lines'}
        onCancel={onCancel}
      />
    );
  if (job.state === 'cancelled') return <p className="note wait">Cancelled. Nothing was written.</p>;
  if (job.state === 'refused' || job.state === 'failed')
    return (
      <div className="note trouble" role="alert">
        {(job.problems?.length ?? 0) > 0
          ? job.problems?.map(({ field, reason }) => <p key={field + reason}>{reason}</p>)
          : job.reason}
      </div>
    );
  return <Done job={job} thing={thing} onShow={onShow} />;
}

function Done({ job, thing, onShow }: Omit<Props, 'onCancel'>) {
  const [outcome, setOutcome] = useState<JobLine['outcome']>();
  const [page, setPage] = useState(1);
  const words = (each: JobLine['outcome']): string => WORDS[each][job.write ? 1 : 0];
  const go = (next: JobLine['outcome'] | undefined, to: number): void => {
    setOutcome(next);
    setPage(to);
    onShow(next, to);
  };
  const pages = Math.ceil(job.lines.total / PAGE);
  const all = OUTCOMES.reduce((sum, each) => sum + job.counts[each], 0);
  return (
    <div>
      <div className="actions" style={{ marginBottom: 8 }}>
        <div className="shelves" role="group" aria-label="Lines">
          {[undefined, ...OUTCOMES.filter((each) => job.counts[each] > 0)].map((each) => (
            <button key={each ?? 'all'} type="button" aria-pressed={outcome === each} onClick={() => go(each, 1)}>
              {each ? words(each) : 'All lines'} <b>{showCount(each ? job.counts[each] : all)}</b>
            </button>
          ))}
        </div>
        <Button href={`/jobs/${job.id}/csv`} sx={{ marginLeft: 'auto' }}>
          Export as CSV
        </Button>
      </div>
      <div className="scroll">
        <table className="records" aria-label="What becomes of each line">
          <thead>
            <tr>
              <th className="num">Line</th>
              <th>Outcome</th>
              <th>{thing}</th>
              <th>Why, or the result</th>
            </tr>
          </thead>
          <tbody>
            {job.lines.rows.map((line) => (
              <tr key={line.line}>
                <td className="num">{line.line}</td>
                <td className="nowrap">
                  <span
                    className={line.outcome === 'refused' ? 'tag trouble' : line.outcome === 'same' ? 'mute' : 'strong'}
                  >
                    {words(line.outcome)}
                  </span>
                </td>
                <td>
                  <div className="clip" style={{ maxWidth: 380 }} title={line.what}>
                    {line.what}
                  </div>
                </td>
                <td>
                  {line.problems.map(({ field, reason }) => (
                    <div key={field + reason}>
                      {field && <b>{field}: </b>}
                      {reason}
                    </div>
                  ))}
                  {line.address ? <code>{line.address}</code> : line.problems.length === 0 && <code>{line.code}</code>}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      {pages > 1 && (
        <nav className="pager" aria-label="Pages">
          <span>
            Page {page} of {pages}
          </span>
          {page > 1 && (
            <button type="button" className="more" onClick={() => go(outcome, page - 1)}>
              Previous
            </button>
          )}
          {page < pages && (
            <button type="button" className="more" onClick={() => go(outcome, page + 1)}>
              Next
            </button>
          )}
        </nav>
      )}
    </div>
  );
}
