'use client';
import { useEffect, useRef, useState } from 'react';

export interface JobLine {
  line: number;
  outcome: 'new' | 'same' | 'changed' | 'refused';
  what: string;
  problems: { field: string; reason: string }[];
  code?: string;
  address?: string;
}
/** How far a job on the server is, with a page of its lines once it is done. */
export interface JobView {
  id: string;
  kind: string;
  write: boolean;
  state: 'running' | 'done' | 'refused' | 'cancelled' | 'failed';
  done: number;
  total: number;
  reason?: string;
  problems?: { field: string; reason: string }[];
  counts: Record<JobLine['outcome'], number>;
  lines: { rows: JobLine[]; total: number };
}

const ASK_EVERY_MS = 250;

/** Begins jobs, follows the newest one, and can cancel it. */
export function useJob(kind: string) {
  const [job, setJob] = useState<JobView>();
  const [problem, setProblem] = useState<string>();
  /** Counts up with every begin and reset: an older follower stops by itself. */
  const turn = useRef(0);
  useEffect(
    () => () => {
      turn.current = -1;
    },
    [],
  );

  const follow = async (id: string, query = ''): Promise<void> => {
    const mine = ++turn.current;
    for (;;) {
      const answer = await fetch(`/jobs/${id}${query}`);
      const view = await answer.json();
      if (turn.current !== mine) return;
      if (!answer.ok) return setProblem(view.reason);
      setJob(view);
      if (view.state !== 'running') return;
      await new Promise((resolve) => setTimeout(resolve, ASK_EVERY_MS));
    }
  };

  const begin = async (input: object, write: boolean): Promise<void> => {
    setProblem(undefined);
    setJob(undefined);
    const answer = await fetch('/jobs', {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify({ kind, input, write }),
    });
    const begun = await answer.json().catch(() => ({ reason: 'The server did not answer. Try again.' }));
    if (!answer.ok) return setProblem(begun.reason);
    await follow(begun.id);
  };
  const cancel = (): void => {
    if (job) void fetch(`/jobs/${job.id}`, { method: 'DELETE' });
  };
  const show = (outcome: string | undefined, page: number): void => {
    if (job) void follow(job.id, `?page=${page}${outcome ? `&outcome=${outcome}` : ''}`);
  };
  const reset = (): void => {
    turn.current += 1;
    setJob(undefined);
    setProblem(undefined);
  };
  return { job, problem, begin, cancel, show, reset };
}
