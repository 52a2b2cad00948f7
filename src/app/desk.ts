import type { Day } from '@/core/time/calendar';
import { type Actor, may } from '@/services/actor';
import { readChannel } from '@/services/channels';
import { type LineFigures, lineFigures, liveMark } from '@/services/line';
import { readOffer } from '@/services/offers';
import { readPartner } from '@/services/partners';
import { Refusal } from '@/services/refusal';
import { type Params, type Scope, one, readScope, usualPeriods, wholeNumber } from '@/services/scope';
import { type Stores, programOf, todayIn } from '@/services/stores';
import { type Trace, traceIfAny } from '@/services/trace';
import type { ProgramRow } from '@/store/books/programs';
import type { NoticeText } from '@/ui/feedback/Notice';
import type { Option } from '@/ui/form/Picker';
import type { ScopeView } from '@/ui/shell/ScopeBar';
import { SCOPE_PARAMETERS } from '@/ui/shell/paths';
import { currentNotice, requireActor, stores } from './server';

export const PAGE_SIZE = 50;

/** What every screen begins with: who looks, at what, and the live figures. */
export interface Desk {
  readonly stores: Stores;
  readonly actor: Actor;
  readonly program: ProgramRow;
  readonly scope: Scope;
  readonly view: ScopeView;
  readonly figures: LineFigures;
  readonly trace: Trace | undefined;
  readonly notice: NoticeText | undefined;
  readonly mark: string;
  /** In the program's zone. */
  readonly today: Day;
  /** Number of the page of the list in sight, from 1. */
  readonly page: number;
  readonly paging: { limit: number; offset: number };
  param(name: string): string | undefined;
  /** This address with some parameters changed; undefined takes one away. */
  href(changes: Record<string, string | number | undefined>): string;
  may: (right: Parameters<typeof may>[1]) => boolean;
}

export type SearchParams = Promise<Params>;

export async function openDesk(searchParams: SearchParams): Promise<Desk> {
  const actor = await requireActor();
  const params = await searchParams;
  const all = stores();
  const scope = readScope(all, actor, params);
  const page = wholeNumber(one(params, 'page')) ?? 1;
  return {
    stores: all,
    actor,
    program: programOf(all, actor.programId),
    scope,
    view: scopeView(all, actor, scope),
    figures: lineFigures(all, actor, scope),
    trace: traceIfAny(all, actor, one(params, 'trace')),
    notice: await currentNotice(),
    mark: liveMark(all),
    today: todayIn(all, actor.programId),
    page,
    paging: { limit: PAGE_SIZE, offset: (page - 1) * PAGE_SIZE },
    param: (name) => one(params, name),
    href: (changes) => `?${changed(params, changes)}`,
    may: (right) => may(actor, right),
  };
}

function changed(params: Params, changes: Record<string, string | number | undefined>): string {
  const next = new URLSearchParams();
  for (const name of Object.keys(params)) {
    const value = one(params, name);
    if (value !== undefined) next.set(name, value);
  }
  for (const [name, value] of Object.entries(changes)) {
    if (value === undefined) next.delete(name);
    else next.set(name, String(value));
  }
  return next.toString();
}

/** The scope's part of the address, to go along to another station. */
export function scopeOf(desk: Desk): string {
  const kept = new URLSearchParams();
  for (const name of SCOPE_PARAMETERS) {
    const value = desk.param(name);
    if (value) kept.set(name, value);
  }
  const text = kept.toString();
  return text ? `?${text}` : '';
}

function scopeView(all: Stores, actor: Actor, scope: Scope): ScopeView {
  const named = (
    read: (id: number) => { id: number; name: string; code: string; sourceId?: number | null },
    id: number | null,
  ): Option | undefined => {
    if (id === null) return undefined;
    try {
      const { name, code, sourceId } = read(id);
      return { id, label: name, about: code, ...(sourceId && { sourceId }) };
    } catch (error) {
      if (error instanceof Refusal) return { id, label: 'unknown', about: '' };
      throw error;
    }
  };
  return {
    from: scope.from,
    to: scope.to,
    periods: usualPeriods(todayIn(all, actor.programId)),
    partner: named((id) => readPartner(all, actor, id), scope.partnerId),
    channel: named((id) => readChannel(all, actor, id), scope.channelId),
    offer: named((id) => readOffer(all, actor, id), scope.offerId),
  };
}
