'use client';
import Button from '@mui/material/Button';
import { useState } from 'react';
import type { ChainHop } from '@/services/chain';
import { followPage } from './actions';

/** On request: what the landing page answers in truth, redirect by redirect. */
export function ChainCheck({ address }: { address: string }) {
  const [state, setState] = useState<{ of: string; hops?: ChainHop[]; refused?: string; busy?: true }>();
  const shown = state?.of === address ? state : undefined;
  const follow = async (): Promise<void> => {
    setState({ of: address, busy: true });
    const result = await followPage(address);
    setState({ of: address, ...('answer' in result ? { hops: result.answer } : { refused: result.refused }) });
  };
  return (
    <div style={{ marginBottom: 14 }}>
      <Button variant="outlined" disabled={shown?.busy} onClick={() => void follow()}>
        {shown?.busy ? 'Following it' : shown ? 'Follow it again' : 'Follow it for real'}
      </Button>
      <div role="status">
        {shown?.refused && <p className="bad">{shown.refused}</p>}
        {shown?.hops && (
          <ol className="hops" style={{ marginTop: 10 }}>
            {shown.hops.map(({ address: at, status, took, problem }, i) => (
              <li key={i}>
                <b className={problem ? 'tag trouble' : undefined}>{status ?? 'no answer'}</b>{' '}
                <span className="mute small">{took} ms</span>
                <code>{at}</code>
                {problem && <p className="bad">{problem}</p>}
              </li>
            ))}
          </ol>
        )}
      </div>
    </div>
  );
}
