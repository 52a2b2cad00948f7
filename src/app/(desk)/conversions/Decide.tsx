'use client';
import Button from '@mui/material/Button';
import { useRouter } from 'next/navigation';
import { useState } from 'react';
import type { ActionState } from '@/ui/feedback/ConfirmButton';
import { FormDialog } from '@/ui/form/FormDialog';
import { decideChosen } from './actions';
import { ticked } from './ticked';

const WAYS = {
  approve: ['Approve', 'Those that are due: their hold is over. It cannot be undone; it can be reversed.'],
  reject: ['Reject', 'They earn nothing, for good. The partner sees the reason.'],
  reverse: [
    'Reverse',
    'What they earned is taken back, also when it is paid already: then the next payout is less by it.',
  ],
} as const;
type Way = keyof typeof WAYS;

/** Decides on the conversions that are ticked in the list. */
export const Decide = () => (
  <FormDialog label="Decide…" title="Decide on what is ticked">
    {(close) => <DecideForm close={close} />}
  </FormDialog>
);

function DecideForm({ close }: { close(): void }) {
  const router = useRouter();
  const [ids] = useState(() => ticked());
  const [way, setWay] = useState<Way>('approve');
  const [reason, setReason] = useState('');
  const [problems, setProblems] = useState<ActionState['problems']>();
  const [busy, setBusy] = useState(false);
  if (ids.length === 0) return <p>Tick conversions in the list first; the space bar ticks the one in focus.</p>;
  const save = async (): Promise<void> => {
    setBusy(true);
    const state = await decideChosen({ ids, way, reason });
    setBusy(false);
    setProblems(state.problems);
    if (state.problems) return;
    close();
    router.refresh();
  };
  return (
    <div className="stack" style={{ gap: 8 }}>
      <div className="shelves" role="group" aria-label="What to do">
        {(Object.keys(WAYS) as Way[]).map((each) => (
          <button key={each} type="button" aria-pressed={way === each} onClick={() => setWay(each)}>
            {WAYS[each][0]}
          </button>
        ))}
      </div>
      <p className="mute">
        {WAYS[way][1]} All of the {ids.length} or none.
      </p>
      {way !== 'approve' && (
        <div className="field">
          <label>
            Reason
            <input className="text" value={reason} onChange={({ target }) => setReason(target.value)} />
          </label>
        </div>
      )}
      {problems?.map((problem) => (
        <p key={problem.field + problem.reason} className="bad">
          {problem.reason}
        </p>
      ))}
      <div className="actions">
        <Button
          variant="contained"
          color={way === 'approve' ? 'primary' : 'error'}
          disabled={busy}
          onClick={() => void save()}
        >
          {WAYS[way][0]} {ids.length}
        </Button>
      </div>
    </div>
  );
}
