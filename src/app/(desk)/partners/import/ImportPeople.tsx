'use client';
import Button from '@mui/material/Button';
import { useState } from 'react';
import { FileText } from '@/ui/form/FileText';
import { JobReport } from '@/ui/job/JobReport';
import { useJob } from '@/ui/job/useJob';

const EXAMPLES = {
  partners: `code,name,kind,email,country,payoutCurrency,ownMinimum,group,referrer,notes
WHEELWIRE,Wheel & Wire,business,hello@wheelwire.example,NL,EUR,,Makers,MUDRING,`,
  channels: `partner,code,name,kind,address,source
WHEELWIRE,SITE,Main site,website,https://wheelwire.example/,`,
  coupons: `code,partner,channel,offer,first_day,last_day
WHEEL10,WHEELWIRE,SITE,GLAZE,2026-12-01,2026-12-31`,
};
const THINGS = { partners: 'Partner', channels: 'Channel', coupons: 'Coupon' };

/** Partners, channels or coupons from a file: those that are new, those that change, and why a line is refused. */
export function ImportPeople({ what }: { what: keyof typeof EXAMPLES }) {
  const [text, setText] = useState('');
  const [active, setActive] = useState(false);
  const { job, problem, begin, cancel, show, reset } = useJob(what);
  const input = { text, active };
  const count = job ? job.counts.new + job.counts.changed : 0;
  const ready = job?.state === 'done' && !job.write && count > 0;
  return (
    <div className="pad stack">
      <FileText
        id="import-lines"
        label="CSV with a head of column names. A code that is here already is changed; what a line leaves empty stays."
        value={text}
        placeholder={EXAMPLES[what]}
        onChange={(next) => {
          setText(next);
          reset();
        }}
      />
      {what === 'partners' && (
        <label>
          <input
            type="checkbox"
            checked={active}
            onChange={({ target }) => {
              setActive(target.checked);
              reset();
            }}
          />{' '}
          New ones are active at once, without approval one by one
        </label>
      )}
      <div className="actions">
        <Button
          variant={ready ? 'outlined' : 'contained'}
          disabled={job?.state === 'running'}
          onClick={() => void begin(input, false)}
        >
          Look what becomes of them
        </Button>
        {ready && (
          <Button variant="contained" onClick={() => void begin(input, true)}>
            Import {count.toLocaleString('en-GB')}
          </Button>
        )}
        {job?.state === 'done' && job.write && (
          <span className="strong" role="status">
            Imported {job.counts.new.toLocaleString('en-GB')} new, changed {job.counts.changed.toLocaleString('en-GB')}.
          </span>
        )}
      </div>
      {problem && (
        <p className="note trouble" role="alert">
          {problem}
        </p>
      )}
      {job && <JobReport job={job} thing={THINGS[what]} onCancel={cancel} onShow={show} />}
    </div>
  );
}
