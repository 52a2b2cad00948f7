import { minorDigits } from '@/core/money/currency';
import type { Actor } from '../actor';
import { type ClickQuery, countMatching } from '../clicks';
import { type ExploreRequest, explore, unfilledLinks } from '../explore';
import { replayPlan } from '../routing';
import { ruleEffect } from '../rule_effect';
import type { Scope } from '../scope';
import { openHelper } from './second_thread';
import type { Helper } from './sharing';
import { splitTests } from '../splits';
import { type Stores, programOf } from '../stores';

let helper: Helper | undefined;
/** Made by the thread when it starts, or at the first question. */
export const helping = (): Helper => (helper ??= openHelper());

/** Questions that read many clicks; each is answered on the thread of reports. */
export const REPORTS = {
  explore: (stores: Stores, actor: Actor, request: ExploreRequest) =>
    explore(stores, actor, request, 10 ** minorDigits(programOf(stores, actor.programId).currency), helping()),
  count: (stores: Stores, actor: Actor, { scope, query }: { scope: Scope; query: ClickQuery }) =>
    countMatching(stores, actor, scope, query),
  unfilled: (stores: Stores, actor: Actor, scope: Scope) => unfilledLinks(stores, actor, scope),
  effect: (stores: Stores, actor: Actor, input: unknown) => ruleEffect(stores, actor, input),
  replay: (stores: Stores, actor: Actor, { offerId, plan }: { offerId: number; plan: unknown }) =>
    replayPlan(stores, actor, offerId, plan),
  splits: (stores: Stores, actor: Actor, offerId: number) => splitTests(stores, actor, offerId),
};
export type ReportName = keyof typeof REPORTS;
export type ReportInput<N extends ReportName> = Parameters<(typeof REPORTS)[N]>[2];
export type ReportAnswer<N extends ReportName> = ReturnType<(typeof REPORTS)[N]>;
