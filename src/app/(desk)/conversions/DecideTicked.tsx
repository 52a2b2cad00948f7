'use client';
import Button from '@mui/material/Button';
import { useRouter } from 'next/navigation';
import { useState } from 'react';
import type { ActionState } from '@/ui/feedback/ConfirmButton';
import { FormDialog } from '@/ui/form/FormDialog';
import { ticked } from './ticked';

interface Way {
  readonly word: string;
  readonly about: string;
  /** It needs a reason, and cannot be undone. */
  readonly reason?: true;
}
interface Props<W extends string> {
  title: string;
  ways: Readonly<Record<W, Way>>;
  /** How many are meant when none is ticked; absent where some have to be. */
  all?: number;
  /** @param ids what is ticked; none for all */
  decide(ids: number[], way: W, reason: string): Promise<ActionState>;
}

/** Decides on what is ticked in the list on the page, in one of a few ways. */
export const DecideTicked = <W extends string>(props: Props<W>) => (
  <FormDialog label="Decide…" title={props.title}>
    {(close) => <DecideForm {...props} close={close} />}
  </FormDialog>
);

function DecideForm<W extends string>({ ways, all, decide, close }: Props<W> & { close(): void }) {
  const router = useRouter();
  const names = Object.keys(ways) as W[];
  const [ids] = useState(() => ticked());
  const [way, setWay] = useState(names[0]);
  const [reason, setReason] = useState('');
  const [problems, setProblems] = useState<ActionState['problems']>();
  const [busy, setBusy] = useState(false);
  if (way === undefined || (ids.length === 0 && all === undefined))
    return <p>Tick some in the list first; the space bar ticks the one in focus.</p>;
  const count = ids.length > 0 ? ids.length : (all ?? 0);
  const { word, about, reason: asksReason } = ways[way];
  const save = async (): Promise<void> => {
    setBusy(true);
    const state = await decide(ids, way, reason);
    setBusy(false);
    setProblems(state.problems);
    if (state.problems) return;
    close();
    router.refresh();
  };
  return (
    <div className="stack" style={{ gap: 8 }}>
      <div className="shelves" role="group" aria-label="What to do">
        {names.map((each) => (
          <button key={each} type="button" aria-pressed={way === each} onClick={() => setWay(each)}>
            {ways[each].word}
          </button>
        ))}
      </div>
      <p className="mute">{about}</p>
      <p>
        {ids.length > 0 ? 'What you have ticked: ' : 'All that are undecided here: '}
        <b>{count.toLocaleString('en-GB')}</b>.
      </p>
      {asksReason && (
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
          color={asksReason ? 'error' : 'primary'}
          disabled={busy}
          onClick={() => void save()}
        >
          {word} {count.toLocaleString('en-GB')}
        </Button>
      </div>
    </div>
  );
}
