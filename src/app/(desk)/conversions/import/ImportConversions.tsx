'use client';
import Button from '@mui/material/Button';
import { useRouter } from 'next/navigation';
import { useState } from 'react';
import type { FileReading } from '@/core/conversions/file';
import { FileText } from '@/ui/form/FileText';
import { JobReport } from '@/ui/job/JobReport';
import { useJob } from '@/ui/job/useJob';
import { readingOf } from '../actions';
import { Mapping } from './Mapping';

/** Enough of a file to see how it is written. */
const LOOKED_AT = 64_000;
const PLACEHOLDER = `order;amount;date;click_id
LK-7001;1.299,00;24-11-2026 14:05;01KB…`;

export interface Proposed {
  readonly reading: FileReading;
  readonly head: readonly string[];
  readonly sample: readonly (readonly string[])[];
  readonly remembered: boolean;
}

/** A file, how it is read, what becomes of each line, then all of it at once. */
export function ImportConversions({ sources }: { sources: readonly string[] }) {
  const router = useRouter();
  const [source, setSource] = useState(sources[0] ?? '');
  const [text, setText] = useState('');
  const [proposed, setProposed] = useState<Proposed>();
  const [refused, setRefused] = useState<string>();
  const [leaveOut, setLeaveOut] = useState(false);
  const { job, problem, begin, cancel, show, reset } = useJob('conversions');
  const look = async (): Promise<void> => {
    const found = await readingOf({ text: text.slice(0, LOOKED_AT), source });
    setRefused('refused' in found ? found.refused : undefined);
    setProposed('answer' in found ? found.answer : undefined);
  };
  const run = async (write: boolean): Promise<void> => {
    if (!proposed) return;
    await begin({ text, source, reading: proposed.reading, leaveOut }, write);
    if (write) router.refresh();
  };
  const count = job ? job.counts.new + job.counts.changed : 0;
  const previewed = job?.state === 'done' && !job.write;
  const ready = previewed && count > 0 && (job.counts.refused === 0 || leaveOut);
  return (
    <div className="pad stack">
      <div className="form narrow" style={{ gap: '0 12px' }}>
        <div className="field">
          <label htmlFor="import-source">Whose file it is; how it is read is remembered by this name</label>
          <input
            id="import-source"
            className="text"
            list="import-sources"
            value={source}
            onChange={({ target }) => setSource(target.value)}
          />
          <datalist id="import-sources">
            {sources.map((name) => (
              <option key={name} value={name} />
            ))}
          </datalist>
        </div>
      </div>
      <FileText
        id="import-lines"
        label="CSV with a head of column names"
        value={text.length > LOOKED_AT ? `${text.slice(0, LOOKED_AT)}\n…` : text}
        placeholder={PLACEHOLDER}
        mostMegabytes={30}
        onChange={(next) => {
          setText(next);
          setProposed(undefined);
          reset();
        }}
      />
      {!proposed && (
        <div className="actions">
          <Button variant="contained" disabled={text.trim() === '' || source.trim() === ''} onClick={() => void look()}>
            See how it is read
          </Button>
          {refused && <p className="bad">{refused}</p>}
        </div>
      )}
      {proposed && (
        <>
          <Mapping
            proposed={proposed}
            source={source}
            onChange={(reading) => {
              setProposed({ ...proposed, reading });
              reset();
            }}
          />
          <div className="actions">
            <Button
              variant={ready ? 'outlined' : 'contained'}
              disabled={job?.state === 'running'}
              onClick={() => void run(false)}
            >
              Look what becomes of each line
            </Button>
            {ready && (
              <Button variant="contained" onClick={() => void run(true)}>
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
        </>
      )}
      {problem && (
        <p className="note trouble" role="alert">
          {problem}
        </p>
      )}
      {job && <JobReport job={job} thing="Conversion" onCancel={cancel} onShow={show} />}
    </div>
  );
}
