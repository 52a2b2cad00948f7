import type { Problem } from '@/core/schema/problems';
import type { Actor } from '../actor';
import type { Stores } from '../stores';

/** What becomes of one line: new, there already, changed by it, or refused with its reasons. */
export interface JobLine {
  readonly line: number;
  readonly outcome: 'new' | 'same' | 'changed' | 'refused';
  /** What the line is about, in words. */
  readonly what: string;
  readonly problems: readonly Problem[];
  /** The link's code, the partner's or channel's code. */
  readonly code?: string;
  readonly address?: string;
}

export const JOB_KINDS = ['links', 'partners', 'channels', 'coupons', 'conversions', 'reconcile'] as const;
/** The steps of a payout run that move the money of all who are in it. */
export type RunStep = 'draft_run' | 'settle_run' | 'abandon_run';
export type JobKind = (typeof JOB_KINDS)[number] | RunStep;

/** Called with every line: says how far it got, and throws when it was cancelled. */
export type Tick = (done: number, total: number) => void;
export const untold: Tick = () => undefined;
/** Looks at every line; with `write`, carries the good ones out in one transaction. */
export type JobWork = (stores: Stores, actor: Actor, input: unknown, write: boolean, tick: Tick) => JobLine[];

export class Cancelled extends Error {}

/** What a job and whoever began it tell each other at any time: one number each, 0 or 1, in shared memory. */
export const FLAGS = { stop: 0, holdsBooks: 1 } as const;
