'use client';
import Button from '@mui/material/Button';
import { useRouter } from 'next/navigation';
import { useState } from 'react';
import { Choice } from '@/ui/form/Choice';
import { JobReport } from '@/ui/job/JobReport';
import { useJob } from '@/ui/job/useJob';
import { ReadFile } from '../import/ReadFile';

interface Props {
  sources: readonly string[];
  offers: readonly { id: number; name: string }[];
  /** The days that the report is about, as long as nothing else is said. */
  from: string;
  to: string;
}

/** A report, how it is read, which days and offer it is about; then what was found. */
export function CompareReport({ sources, offers, ...days }: Props) {
  const router = useRouter();
  const [from, setFrom] = useState(days.from);
  const [to, setTo] = useState(days.to);
  const [offerId, setOfferId] = useState('');
  const { job, problem, begin, cancel, show, reset } = useJob('reconcile');
  const found = job?.state === 'done' ? job.lines.rows[0]?.code : undefined;
  const day = (label: string, value: string, set: (value: string) => void) => (
    <div className="field">
      <label>
        {label}
        <input className="text" type="date" value={value} onChange={({ target }) => set(target.value)} />
      </label>
    </div>
  );
  return (
    <ReadFile sources={sources} onChange={reset} placeholder={'order;amount;status\nLK-7001;1.299,00;confirmed'}>
      {({ text, source, reading }) => (
        <>
          <div className="form narrow" style={{ gridTemplateColumns: 'repeat(3, minmax(0, 220px))', gap: '0 12px' }}>
            {day('It holds what happened from', from, setFrom)}
            {day('to', to, setTo)}
            <Choice
              label="of"
              value={offerId}
              options={[['', 'all offers'], ...offers.map(({ id, name }) => [String(id), name] as const)]}
              onChange={setOfferId}
            />
          </div>
          <div className="actions">
            <Button
              variant={found ? 'outlined' : 'contained'}
              disabled={job?.state === 'running'}
              onClick={() =>
                void begin(
                  { text, source, reading, from, to, offerId: offerId === '' ? null : Number(offerId) },
                  true,
                ).then(() => router.refresh())
              }
            >
              Compare
            </Button>
            {found && (
              <Button variant="contained" href={`/conversions/reconcile/${found}`}>
                Look at what was found
              </Button>
            )}
          </div>
          {problem && (
            <p className="note trouble" role="alert">
              {problem}
            </p>
          )}
          {job && !found && <JobReport job={job} thing="Line" onCancel={cancel} onShow={show} />}
        </>
      )}
    </ReadFile>
  );
}
